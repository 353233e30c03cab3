"""One side of one build under one practice, with each figure worked out once."""

import logging
import math
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from functools import wraps
from typing import Any, TypeVar

from arcstack.build import FIELDS, Build, Entry, Side, Sitting, get, standing
from arcstack.build.parts import FollowerKind, TableFrom
from arcstack.checks import Evidence, Figure, Limit, Missing, Waiver
from arcstack.dynamics.question import Answer, Question
from arcstack.errors import CurveConflict
from arcstack.practice import LimitSpec, Practice
from arcstack.units import LENGTH, Dimension

T = TypeVar("T")

_log = logging.getLogger("arcstack.assess")


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


def valves_of(per_cylinder: int, intake: bool) -> int:
    """Valves of one side of a cylinder: an odd one more is an intake's.

    >>> [valves_of(5, intake) for intake in (True, False)]
    [3, 2]
    """
    return (per_cylinder + 1) // 2 if intake else per_cylinder // 2


def places(build: Build, side: str) -> int:
    """Valves of one side of the head; 0 while cylinders and valves are not known."""
    engine = build.engine
    if engine.cylinders is None or engine.valves_per_cylinder is None:
        return 0
    return int(engine.cylinders.value) * valves_of(int(engine.valves_per_cylinder.value), side == "intake")


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
        self.base: Context | None = None
        """Of a variant: the context that it differs from in its lift curve only."""
        self.on_curve: set[str] = set()
        """Figures that rest on the lift curve, by name."""
        self.resting: list[bool] = []
        """Whether each figure now being worked, outermost first, has asked for the curve."""

    def variant(self, curve: object) -> "Context":
        """The same side with another lift curve, everything else as it stands here."""
        found = Context(self.build, self.side_name, self.practice, self.sweeps)
        found.base, found._entries, found._limits = self, self._entries, self._limits
        found._other = self.other
        found.memo[_CURVE] = curve
        found.on_curve.add(_CURVE)
        return found

    def with_stack_of(self, build: Build) -> "Context":
        """The same side of a build that differs in its stack only: what is worked of the cam is kept."""
        found = Context(build, self.side_name, self.practice, self.sweeps)
        kept = {name: made for name, made in self.memo.items() if name.startswith(_OF_THE_CAM)}
        found.memo.update(kept)
        found.on_curve.update(self.on_curve & kept.keys())
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
            note = f"none: {spec.none}" if entry.none else entry.typed
            said = f"{note}. {entry.doubt}" if entry.doubt else note
            sample = (1, self.places) if FIELDS[full].each and not entry.none else None
            made = Figure(symbol, spec.label, entry.value, spec.dimension, entry.stands, full, note=said, sample=sample)
            self._entries[(path, symbol)] = made
            return made
        if default is None:
            raise MissingInput(Missing(full, spec.label))
        return Figure(symbol, spec.label, default, spec.dimension, Evidence.ASSUMED, full, note=why)

    def optional(self, path: str, symbol: str) -> Figure:
        """What may not be there: a figure, *none* as a hand said it, or nought on a named assumption while empty."""
        spec = FIELDS[self.path(path)].quantity
        assert spec is not None
        return self.entry(path, symbol, 0.0, f"not stated: taken as none ({spec.none})")

    def stated(self, path: str, symbol: str, question: str) -> Figure:
        """What may not be there but must be said: raises ``MissingInput`` with the question while it is empty."""
        if not self.given(path):
            raise MissingInput(self.missing(path), why=question)
        return self.entry(path, symbol)

    def read_off(
        self,
        path: str,
        symbol: str,
        label: str,
        value: float,
        dimension: Dimension,
        origin: TableFrom,
        by: Sitting | None,
        note: str = "",
    ) -> Figure:
        """What is read off a table typed at ``path``, with the table's own evidence; one stands for every valve."""
        evidence = standing(origin.evidence, by)
        if evidence is not origin.evidence:
            note = f"{note}. No instrument and hand are known: it counts as assumed".removeprefix(". ")
        return Figure(symbol, label, value, dimension, evidence, self.path(path), note=note, sample=(1, self.places))

    @property
    def places(self) -> int:
        """Valves of this side of the head; 0 while cylinders and valves are not known."""
        return places(self.build, self.side_name)

    def need(self, *paths: str) -> None:
        """Raise ``MissingInput`` naming every one of ``paths`` that is empty."""
        missing = [self.missing(p) for p in paths if not self.given(p)]
        if missing:
            raise MissingInput(*missing)

    def missing(self, path: str) -> Missing:
        """An empty field, to be asked for."""
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
        low, high, reason, origin, waiver = spec.low, spec.high, spec.reason, self.practice.name, None
        if override is not None:
            low = override.low.value if override.low and low is not None else low
            high = override.high.value if override.high and high is not None else high
            reason, origin = override.reason, "this build"
            if _loosened(spec, low, high):
                by = override.by
                waiver = Waiver(by.hand if by else "", by.at if by else None, reason, spec.low, spec.high)
        return Limit(
            key,
            spec.sense,
            low,
            high,
            spec.tight,
            spec.dimension,
            reason,
            origin,
            spec.soft_high,
            spec.soft_low,
            waiver,
        )

    def assumption(self, key: str, symbol: str, label: str) -> Figure:
        """A practice's assumption as a figure."""
        limit = self.limit(key)
        value = limit.low if limit.low is not None else limit.high
        assert value is not None
        note = f"{limit.origin}: {limit.reason}"
        return Figure(symbol, label, value, limit.dimension, Evidence.ASSUMED, None, note=note, waiver=limit.waiver)


def _loosened(spec: LimitSpec, low: float | None, high: float | None) -> bool:
    """Whether an end lets more pass than the practice's."""
    return (spec.low is not None and low is not None and low < spec.low) or (
        spec.high is not None and high is not None and high > spec.high
    )


TROUBLE = (ArithmeticError, ValueError, IndexError)
"""What a formula raises over figures that are out of all reason."""

_CURVE = "arcstack.assess.cam.curve"
"""The figure that the variants of a context differ in."""


class Broken(MissingInput):
    """A figure that the figures at hand cannot give; becomes an *open* verdict of its own and is logged."""

    def __init__(self, error: Exception) -> None:
        reason = str(error) or type(error).__name__
        super().__init__(why=f"Could not be worked out, its figures are out of reason: {reason}")


@dataclass(frozen=True)
class _Told:
    """What a figure raised, to be raised again."""

    error: MissingInput | CurveConflict


def guarded(work: Callable[[], T], name: str) -> T:
    """``work()``, with trouble in the arithmetic logged and raised as ``Broken``, also where a figure is not finite."""
    try:
        found = work()
        if isinstance(found, Figure) and not math.isfinite(found.value):
            raise ArithmeticError(f"{found.label.lower()} comes to no finite figure")
    except TROUBLE as error:
        _log.warning("%s could not be worked out: %s", name, error)
        _log.debug("%s", name, exc_info=True)
        raise Broken(error) from error
    return found


def figure(work: Callable[[Context], T]) -> Callable[[Context], T]:
    """Work a figure out once for a context; a missing input, a conflict and trouble are remembered too.

    A variant takes over from its base whatever does not rest on the lift curve.
    """
    name = f"{work.__module__}.{work.__qualname__}"

    @wraps(work)
    def once(ctx: Context) -> T:
        if name not in ctx.memo:
            taken = ctx.base is not None and name != _CURVE and _taken_over(ctx, once, name)
            if not taken:
                _work_out(ctx, work, name)
        if name in ctx.on_curve and ctx.resting:
            ctx.resting[-1] = True
        found = ctx.memo[name]
        if isinstance(found, _Told):
            raise found.error.with_traceback(None)
        return found  # type: ignore[no-any-return]

    return once


def _taken_over(ctx: Context, once: Callable[[Context], T], name: str) -> bool:
    base = ctx.base
    assert base is not None
    if name not in base.memo:
        with suppress(MissingInput, CurveConflict):
            once(base)
    if name in base.on_curve:
        return False
    ctx.memo[name] = base.memo[name]
    return True


def _work_out(ctx: Context, work: Callable[[Context], T], name: str) -> None:
    ctx.resting.append(name == _CURVE)
    try:
        ctx.memo[name] = guarded(lambda: work(ctx), name)
    except (MissingInput, CurveConflict) as told:
        ctx.memo[name] = _Told(told)
    finally:
        if ctx.resting.pop():
            ctx.on_curve.add(name)


def length(
    symbol: str, label: str, value: float, formula: str, *inputs: Figure, note: str = "", of: Dimension = LENGTH
) -> Figure:
    """A calculated figure, a length unless said otherwise."""
    return Figure.calculated(symbol, label, value, of, formula, *inputs, note=note)
