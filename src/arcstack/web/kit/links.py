"""Every address the pages use, built in one place."""

from functools import lru_cache

from flask import request, url_for

from arcstack.document import SIDES
from arcstack.web.kit.stage import STAGES


def _to(endpoint: str, **values: object) -> str:
    """An address, built once: a page has hundreds of them."""
    return _built(request.script_root, endpoint, tuple(values.items()))


@lru_cache(maxsize=20_000)
def _built(_root: str, endpoint: str, values: tuple[tuple[str, object], ...]) -> str:
    return url_for(endpoint, **dict(values))  # type: ignore[arg-type]


def workshop() -> str:
    return _to("workshop.index")


def stage(build_id: int, name: str, side: str) -> str:
    return _to("stages.stage", build_id=build_id, stage=name, side=side)


def field(build_id: int, path: str, side: str) -> str:
    """The page where a field is entered, opened at that field."""
    first = path.split(".")[0]
    slot = path.split(".candidates.")[1].split(".")[0] if ".candidates." in path else ""
    where = first if first in SIDES else side
    return stage(build_id, STAGES.of_field(path), where) + (f"?pack={slot}" if slot else "") + f"#f-{path}"


def at(endpoint: str, build_id: int, side: str) -> str:
    """An address of a stage's own, or of a page of one side of a build."""
    return _to(endpoint, build_id=build_id, side=side)


def here(side: str) -> str:
    """This very page on a side of the head."""
    return url_for(request.endpoint or "workshop.index", **(request.view_args or {}) | {"side": side})


def of_build(endpoint: str, build_id: int) -> str:
    """An address of a build that has no side."""
    return _to(endpoint, build_id=build_id)


def working(build_id: int, side: str, name: str) -> str:
    return _to("stages.working", build_id=build_id, side=side, name=name)


def verdict(build_id: int, side: str, check: str) -> str:
    return _to("stages.verdict", build_id=build_id, side=side, check=check)


def revisions(build_id: int, side: str, first: int | None = None, second: int | None = None) -> str:
    return _to("revisions.index", build_id=build_id, side=side, first=first, second=second)


def of_workshop(endpoint: str) -> str:
    """An address of the workshop's own."""
    return _to(f"workshop.{endpoint}")


def of_pages(endpoint: str, **values: object) -> str:
    """An address that belongs to no build."""
    return _to(endpoint, **values)


def static(name: str) -> str:
    return url_for("static", filename=name)
