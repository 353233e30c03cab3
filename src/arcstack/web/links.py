"""Every address the pages use, built in one place."""

from flask import url_for


def workshop() -> str:
    return url_for("workshop.index")


def stage(build_id: int, name: str, side: str) -> str:
    return url_for("stages.stage", build_id=build_id, stage=name, side=side)


def field(build_id: int, path: str, side: str) -> str:
    """The page where a field is entered, opened at that field."""
    from arcstack.web.view.layout import stage_of

    where = path.split(".")[0] if path.split(".")[0] in ("intake", "exhaust") else side
    slot = path.split(".candidates.")[1].split(".")[0] if ".candidates." in path else ""
    return stage(build_id, stage_of(path), where) + (f"?pack={slot}" if slot else "") + f"#f-{path}"


def edit(build_id: int) -> str:
    return url_for("editing.edit", build_id=build_id)


def preview(build_id: int) -> str:
    return url_for("editing.preview", build_id=build_id)


def undo(build_id: int) -> str:
    return url_for("editing.undo", build_id=build_id)


def redo(build_id: int) -> str:
    return url_for("editing.redo", build_id=build_id)


def sitting() -> str:
    return url_for("workshop.sitting")


def answer(build_id: int) -> str:
    return url_for("answers.say", build_id=build_id)


def working(build_id: int, side: str, name: str) -> str:
    return url_for("stages.working", build_id=build_id, side=side, name=name)


def verdict(build_id: int, side: str, check: str) -> str:
    return url_for("stages.verdict", build_id=build_id, side=side, check=check)


def revisions(build_id: int, side: str, first: int | None = None, second: int | None = None) -> str:
    return url_for("revisions.index", build_id=build_id, side=side, first=first, second=second)


def restore(build_id: int, side: str) -> str:
    return url_for("revisions.restore", build_id=build_id, side=side)


def practice(build_id: int, side: str) -> str:
    return url_for("practice.index", build_id=build_id, side=side)


def choose_practice(build_id: int, side: str) -> str:
    return url_for("practice.choose", build_id=build_id, side=side)


def limit(build_id: int, side: str) -> str:
    return url_for("practice.limit", build_id=build_id, side=side)


def export(build_id: int) -> str:
    return url_for("workshop.export", build_id=build_id)


def units() -> str:
    return url_for("workshop.units")


def who() -> str:
    return url_for("workshop.who")


def create() -> str:
    return url_for("workshop.create")


def import_() -> str:
    return url_for("workshop.import_build")


def static(name: str) -> str:
    return url_for("static", filename=name)


def curve(build_id: int, side: str, what: str) -> str:
    """``read``, ``take``, ``drop``, ``events`` or ``export`` of a side's curve."""
    return url_for(f"curve.{what}", build_id=build_id, side=side)


def what_if(build_id: int, side: str, what: str = "show") -> str:
    return url_for(f"whatif.{what}", build_id=build_id, side=side)


def train(build_id: int, side: str, what: str) -> str:
    """A part of the Control page: ``wait``, ``stop``, ``map``, ``trace``, ``sweep`` or ``raise``."""
    name = what if what in ("wait", "stop") else f"show_{what}"
    return url_for(f"control.{name}", build_id=build_id, side=side)


def springs(build_id: int, side: str, what: str) -> str:
    """A part of the Springs page: ``compare``, ``height``, or a change to a slot."""
    return url_for(f"springs.{what}", build_id=build_id, side=side)


def suppose(build_id: int, side: str) -> str:
    return url_for("boost.suppose_pressures", build_id=build_id, side=side)


def cams(build_id: int, side: str, what: str = "index") -> str:
    """The cam library from a build: ``index``, ``keep``, ``use`` or ``forget``."""
    return url_for(f"cams.{what}", build_id=build_id, side=side)
