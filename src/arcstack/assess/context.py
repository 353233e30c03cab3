"""One side of one build under one practice, with each figure worked out once."""

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from arcstack.build import FIELDS, Build, Entry, Side, get
from arcstack.build.parts import FollowerKind
from arcstack.checks import Evidence, Figure, Limit, Missing
from arcstack.dynamics.question import Answer, Question
from arcstack.practice import Practice
from arcstack.units import LENGTH, Dimension

T = TypeVar("T")


Sweeps = Callable[[Question], Answer | None]
"""Where results of the elastic train come from; None where there is none yet."""


def no_sweeps(_question: Question) -> None:
    """No elastic train is worked out."""


class MissingInput(Exception):
    """Raised inside the room while a figure still needs inputs; becomes an *open* verdict."""

    def __init__(self, *missing: Missing, why: str = "") -> None:
        super().__init__(why)
        self.missing = missing
        self.why = why


_OF_THE_CAM = "arcstack.assess.cam."


class NotFitted(MissingInput):
    """A figure of a part that this side does not have."""

    def __init__(self, why: str) -> None:
        super().__init__(why=why)


class Context:
    """``side`` is ``intake`` or ``exhaust``; paths given to methods are within that side unless they start with
    ``brief.`` or ``engine.``."""

    def __init__(self, build: Build, side: str, practice: Practice, sweeps: Sweeps = no_sweeps) -> None:
        self.build = build
        self.side_name = side
        self.practice = practice
        self.sweeps = sweeps
        self.memo: dict[str, Any] = {}
        self._entries: dict[tuple[str, str], Figure] = {}
        self._limits: dict[str, Limit] = {}
        self._other: Context | None = None

    def with_stack_of(self, build: Build) -> "Context":
        """The same side of a build that differs in its stack only: what is worked of the cam is kept."""
        found = Context(build, self.side_name, self.practice, self.sweeps)
        found.memo.update({name: made for name, made in self.memo.items() if name.startswith(_OF_THE_CAM)})
        return found

    @property
    def side(self) -> Side:
        return self.build.side(self.side_name)

    @property
    def other(self) -> "Context":
        """The other side of the same head, with its own figures worked once."""
        if self._other is None:
            self._other = Context(self.build, "exhaust" if self.intake else "intake", self.practice, self.sweeps)
            self._other._other = self
        return self._other

    @property
    def intake(self) -> bool:
        return self.side_name == "intake"

    @property
    def bucket(self) -> bool:
        return self.build.engine.follower is FollowerKind.BUCKET

    def path(self, path: str) -> str:
        """The full path of a field."""
        return path if path.startswith(("brief.", "engine.")) else f"{self.side_name}.{path}"

    def given(self, path: str) -> bool:
        return get(self.build, self.path(path)) is not None

    def entry(self, path: str, symbol: str, default: float | None = None, why: str = "") -> Figure:
        """The input at ``path`` as a figure; without it, ``default`` as an assumption, or ``MissingInput``."""
        made = self._entries.get((path, symbol))
        if made is not None:
            return made
        full = self.path(path)
        spec = FIELDS[full].quantity
        assert spec is not None
        entry = get(self.build, full)
        if isinstance(entry, Entry):
            made = Figure(symbol, spec.label, entry.value, spec.dimension, entry.evidence, full, note=entry.typed)
            self._entries[(path, symbol)] = made
            return made
        if default is None:
            raise MissingInput(Missing(full, spec.label))
        return Figure(symbol, spec.label, default, spec.dimension, Evidence.ASSUMED, full, note=why)

    def absent(self, path: str, symbol: str, why: str) -> Figure:
        """A part that is not fitted: nothing where the field is empty, which is no assumption to prove."""
        full = self.path(path)
        if self.given(path):
            return self.entry(path, symbol)
        spec = FIELDS[full].quantity
        assert spec is not None
        return Figure(symbol, spec.label, 0.0, spec.dimension, Evidence.MEASURED, full, note=why)

    def need(self, *paths: str) -> None:
        """Raise ``MissingInput`` naming every one of ``paths`` that is empty."""
        missing = [self._missing(p) for p in paths if not self.given(p)]
        if missing:
            raise MissingInput(*missing)

    def _missing(self, path: str) -> Missing:
        full = self.path(path)
        return Missing(full, FIELDS[full].label)

    def limit(self, key: str) -> Limit:
        """The practice's limit for this side, with this build's override where there is one."""
        if key not in self._limits:
            self._limits[key] = self._limit(key)
        return self._limits[key]

    def _limit(self, key: str) -> Limit:
        spec = self.practice.limit(key, self.side_name)
        override = self.build.overrides.get(f"{key}@{self.side_name}") or self.build.overrides.get(key)
        low, high, reason, origin = spec.low, spec.high, spec.reason, self.practice.name
        if override is not None:
            low = override.low.value if override.low and low is not None else low
            high = override.high.value if override.high and high is not None else high
            reason, origin = override.reason, "this build"
        return Limit(
            key, spec.sense, low, high, spec.tight, spec.dimension, reason, origin, spec.soft_high, spec.soft_low
        )

    def assumption(self, key: str, symbol: str, label: str) -> Figure:
        """A practice's assumption as a figure."""
        limit = self.limit(key)
        assert limit.low is not None
        return Figure(
            symbol, label, limit.low, limit.dimension, Evidence.ASSUMED, None, note=f"{limit.origin}: {limit.reason}"
        )


def figure(work: Callable[[Context], T]) -> Callable[[Context], T]:
    """Work a figure out once for a context; a missing input is remembered too."""
    name = f"{work.__module__}.{work.__qualname__}"

    @wraps(work)
    def once(ctx: Context) -> T:
        if name not in ctx.memo:
            try:
                ctx.memo[name] = work(ctx)
            except MissingInput as missing:
                ctx.memo[name] = missing
        found = ctx.memo[name]
        if isinstance(found, MissingInput):
            raise found
        return found  # type: ignore[no-any-return]

    return once


def length(
    symbol: str, label: str, value: float, formula: str, *inputs: Figure, note: str = "", of: Dimension = LENGTH
) -> Figure:
    """A calculated figure, a length unless said otherwise."""
    return Figure.calculated(symbol, label, value, of, formula, *inputs, note=note)
