"""What a stage is: its fields by group, the figures it works out, and what it shows beside the frame."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from flask import Blueprint

from arcstack.assess import Assessment
from arcstack.assess.context import Context
from arcstack.document import FIELDS, SIDES, Build
from arcstack.units import System


@dataclass(frozen=True)
class Group:
    """A heading and its fields; ``part`` ties the group to a part of the drawing.

    Paths are within the side unless they are the whole head's; those of a follower are of the kind that is fitted.
    """

    title: str
    paths: tuple[str, ...]
    part: str = ""
    help: str = ""


@dataclass(frozen=True)
class Swap:
    """A part of the page that an edit swaps: the id of its place, and its template."""

    place: str
    template: str


@dataclass(frozen=True)
class On:
    """One build on one side, assessed: what a stage shows it of. ``asked`` are the address's own values."""

    build: Build
    build_id: int
    side: str
    assessment: Assessment
    system: System
    asked: Mapping[str, str]

    @property
    def ctx(self) -> Context:
        return self.assessment.sides[self.side]


def nothing(_on: On) -> dict[str, Any]:
    return {}


OUTPUTS = Swap("outputs", "parts/_outputs.html")


@dataclass(frozen=True)
class Stage:
    """A stage of the work.

    ``place`` orders the stages, ``under`` names the one it is a part of. ``figures`` are named figures, each under a
    heading or none. ``show`` gives its templates what they need, ``swaps`` are what an edit changes of its page, and
    ``when_turned`` what changes once the elastic train has been turned. ``also`` are beginnings of paths whose fields
    it takes besides its groups'. ``judged`` is False where no check stands on it.
    """

    name: str
    title: str
    place: int
    groups: tuple[Group, ...] = ()
    figures: tuple[tuple[str, str], ...] = ()
    under: str = ""
    show: Callable[[On], dict[str, Any]] = nothing
    swaps: tuple[Swap, ...] = (OUTPUTS,)
    when_turned: tuple[Swap, ...] = ()
    also: tuple[str, ...] = ()
    judged: bool = True
    blueprint: Blueprint | None = None


class Stages:
    """The stages of the application, in the order of the work."""

    def __init__(self) -> None:
        self._by_name: dict[str, Stage] = {}

    def install(self, stages: list[Stage]) -> None:
        """Take the list; done once, as the application is put together."""
        self._by_name = {s.name: s for s in sorted(stages, key=lambda s: s.place)}

    def __iter__(self) -> "Any":
        return iter(self._by_name.values())

    def find(self, name: str) -> Stage | None:
        return self._by_name.get(name)

    def of_field(self, path: str) -> str:
        """The stage on which a field (full path) is entered; the first where it is entered nowhere else."""
        tail = within(path)
        for stage in self:
            if any(tail in group.paths for group in stage.groups) or tail.startswith(stage.also):
                return str(stage.name)
        return next(iter(self._by_name))


STAGES = Stages()
"""The one list; whoever stands round a stage knows no more of it than this."""

_OF_THE_HEAD = ("brief.", "engine.", "turbo.", "head.", "job.")
_KINDS = ("bucket", "finger", "rocker")


def within(path: str) -> str:
    """A field's path as a stage's groups name it.

    >>> within("intake.follower.finger.arm"), within("exhaust.stack.shims.4"), within("brief.boost")
    ('follower.arm', 'stack.shims.1', 'brief.boost')
    """
    side, _, tail = path.partition(".")
    if side not in SIDES:
        return path
    names = tail.split(".")
    if names[0] == "follower" and names[1] in _KINDS:
        return f"follower.{'.'.join(names[2:])}"
    return "stack.shims.1" if names[:2] == ["stack", "shims"] else tail


LEAST_SHIMS = 3
"""Places for shims that are always shown; one more once those are filled."""


def full_paths(build: Build, side: str, paths: tuple[str, ...]) -> list[str]:
    """The fields of a group that this build has: of a follower, those of the kind that is fitted."""
    found = []
    for path in paths:
        own = path if path.startswith(_OF_THE_HEAD) else f"{side}.{path}"
        part, _, name = path.partition(".")
        if part == "follower" and own not in FIELDS:
            own = f"{side}.follower.{build.engine.follower.value}.{name}"
        if path == "stack.shims.1":
            most = max(LEAST_SHIMS, len(build.side(side).stack.shims) + 1)
            found += [p for n in range(1, most + 1) if (p := f"{side}.stack.shims.{n}") in FIELDS]
        elif own in FIELDS:
            found.append(own)
    return found


def under(prefix: str, *names: str) -> tuple[str, ...]:
    return tuple(f"{prefix}.{n}" for n in names)
