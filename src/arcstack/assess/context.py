"""One side of one build under one practice, with each figure worked out once, and what each of them read."""

import functools
import logging
import math
import operator
import weakref
from collections.abc import Callable, Hashable
from dataclasses import replace
from functools import partial, wraps
from typing import Any, NamedTuple, TypeVar, cast

from arcstack.assess import reads
from arcstack.assess.reads import Noting, Watched, bit, note
from arcstack.checks import Evidence, Figure, Limit, Waiver
from arcstack.document import (
    FIELDS,
    SIDES,
    Absent,
    Build,
    Entry,
    Side,
    Sitting,
    decided,
    get,
    judged_by,
    silence,
    standing,
)
from arcstack.document.entry import TakenWith
from arcstack.document.parts import Bucket, Finger, FollowerKind, Lever, TableFrom
from arcstack.document.parts import Follower as FollowerPart
from arcstack.document.places import count
from arcstack.dynamics.question import Answer, Question
from arcstack.errors import Missing, MissingInput, NotKnown, OutOfReason
from arcstack.practice import LimitSpec, Practice
from arcstack.units import COUNT, LENGTH, Dimension

T = TypeVar("T")

_log = logging.getLogger("arcstack.assess")

AskSweep = Callable[[Question], Answer | None]
"""Where results of the elastic train come from; None where there is none yet."""


def no_sweeps(_question: Question) -> None:
    """No elastic train is worked out."""


class Kept(NamedTuple):
    """A figure as it was worked, or why it cannot be told, and the bits of everything that it read."""

    found: Any
    told: NotKnown | None
    read: int


_AT_BOTH = ("brief.", "engine.", "turbo.")
_OF_ALL_KINDS = frozenset(FollowerPart.model_fields)


class Context:
    """``side`` is ``intake`` or ``exhaust``; paths given to methods are within that side unless they start with
    ``brief.`` or ``engine.``, and those of a follower are of the kind that is fitted."""

    def __init__(
        self, build: Build, side: str, sweeps: AskSweep = no_sweeps, document: Build | None = None,
        alike: "Context | None" = None,
    ) -> None:  # fmt: skip
        """``document`` is the watched build of another context, which the two then share; ``alike`` is a context whose
        build states the same choices."""
        self.build = build
        """The bare document, for trials; figures read ``document`` or ``side``, which note what is read."""
        self.side_name = side
        self.document = document or cast(Build, Watched(build))
        self._side = self.document.side(side)
        self._paths: dict[str, str] = {}
        self._practice = judged_by(build)
        self._sweeps = sweeps
        self.memo: dict[Hashable, Kept] = {}
        self.aside: dict[Hashable, tuple[Context, list[object]]] = {}
        """The side with other parts, by name, with what each is made of; kept by rooms above, taken along by ``of``."""
        self._other: Context | None = None
        # the way back is weak: a side that nobody asks for any more goes at once, not when garbage is looked for
        self._back: weakref.ref[Context] | None = None
        self._other_of: Context | None = None
        self._base: weakref.ref[Context] | None = None
        self._silent: tuple[tuple[int, Figure], ...] | None = alike._silent if alike is not None else None
        self._curve_bit = bit(f"curve {side}")
        self._varied: tuple[object, tuple[Context, ...]] | None = None
        self._varied_of: tuple[object, tuple[Context, ...]] | None = None

    # -- the same head otherwise

    def of(self, build: Build) -> "Context":
        """The same side of another build: whatever the two do not differ in is kept, on both sides."""
        differs = reads.changed(self.build, build)
        made = self._kept_for(build, differs, cast(Build, Watched(build)))
        # few figures ask for the other side: what it keeps is looked through when one does
        made._other_of = self._standing_other() or self._other_of
        return made

    def _pair(self, other: "Context") -> None:
        self._other, other._other, other._back, self._other_of = other, None, weakref.ref(self), None

    def _standing_other(self) -> "Context | None":
        return self._other or (self._back() if self._back is not None else None)

    def _kept_for(self, build: Build, differs: int, document: Build, base: "Context | None" = None) -> "Context":
        made = Context(build, self.side_name, self._sweeps, document, None if differs & _CHOICE_BITS else self)
        made.memo = {
            key: kept for key, kept in self.memo.copy().items()  # at one stroke: other threads may add to it
            if not kept.read & (differs | _WAITS_BIT)
        }  # fmt: skip
        made._base, made.aside = weakref.ref(base) if base is not None else None, self.aside
        made._varied_of = self._varied or self._varied_of
        return made

    def variants(self, lobes: tuple[Any, ...], name: Hashable) -> "tuple[Context, ...]":
        """The same side with each of other lift curves in place of its own, which is the figure called ``name``."""
        # each looked at once: another thread may be at the same
        before, found = self._varied_of, self._varied
        if found is None or found[0] is not lobes:
            if found is None and before is not None and before[0] is lobes and before[1]:
                differs = reads.changed(before[1][0].build, self.build)
                made = tuple(v._kept_for(self.build, differs, self.document, self) for v in before[1])
            else:
                read = self.memo[name].read
                made = tuple(self._variant(lobe, name, read) for lobe in lobes)
            found = self._varied = lobes, made
        self._varied_of = None
        return found[1]

    def _variant(self, lobe: object, name: Hashable, read: int) -> "Context":
        found = Context(self.build, self.side_name, self._sweeps, self.document, self)
        found._base = weakref.ref(self)
        found.memo[name] = Kept(lobe, None, read)
        return found

    # -- what is read

    @property
    def side(self) -> Side:
        return self._side

    @property
    def practice(self) -> Practice:
        note(_PRACTICE_BIT)
        return self._practice

    @property
    def other(self) -> "Context":
        """The other side of the same head, with its own figures worked once."""
        owner = self._base() if self._base is not None else None
        if owner is not None:
            return owner.other
        found, before = self._standing_other(), self._other_of
        if found is None and before is not None:
            found = before._kept_for(self.build, reads.changed(before.build, self.build), self.document)
            self._pair(found)
        elif found is None:
            side = SIDES[1] if self.intake else SIDES[0]
            found = Context(self.build, side, self._sweeps, self.document, self)
            self._pair(found)
        return found

    @property
    def intake(self) -> bool:
        return self.side_name == "intake"

    @property
    def bucket(self) -> bool:
        return self.kind is FollowerKind.BUCKET

    @property
    def kind(self) -> FollowerKind:
        return self.document.engine.follower

    @property
    def follower(self) -> Bucket | Lever:
        """The follower of the kind that is fitted."""
        return self.side.follower.of(self.kind)

    @property
    def lever(self) -> Lever:
        """The finger or rocker that is fitted; an empty one over a bucket."""
        found = self.follower
        return cast(Lever, found) if not self.bucket else Finger()

    def sweep(self, question: Question) -> Answer | None:
        """What is known of a question about the elastic train."""
        found = self._sweeps(question)
        if found is None:
            note(_WAITS_BIT)
        return found

    @property
    def sweeps_at_all(self) -> bool:
        return self._sweeps is not no_sweeps

    def path(self, path: str) -> str:
        """The full path of a field."""
        found = self._paths.get(path)
        if found is None:
            part, _, name = path.partition(".")
            if part == "follower" and name.partition(".")[0] not in _OF_ALL_KINDS:
                # which depends on the kind, and is therefore asked for each time
                return f"{self.side_name}.follower.{self.kind.value}.{name}"
            found = self._paths[path] = path if path.startswith(_AT_BOTH) else f"{self.side_name}.{path}"
        return found

    def given(self, path: str) -> bool:
        return get(self.document, self.path(path)) is not None

    def entry(self, path: str, symbol: str, default: float | None = None, why: str = "") -> Figure:
        """The input at ``path`` as a figure; without it, ``default`` as an assumption, or ``MissingInput``."""
        key = ("entry", path, symbol)
        kept = self.memo.get(key)
        if kept is None:
            found = self.once(key, partial(self._entry, path, symbol))
        else:
            reads.note(kept.read)
            found = kept.found
        if found is not None:
            return found
        full = self.path(path)
        spec = FIELDS[full].quantity
        assert spec is not None
        if default is None:
            raise MissingInput(Missing(full, FIELDS[full].label))
        return Figure(symbol, spec.label, default, spec.dimension, Evidence.ASSUMED, full, note=why, unsaid=True)

    def _entry(self, path: str, symbol: str) -> Figure | None:
        """The input as a figure; None where nothing was said."""
        full = self.path(path)
        spec = FIELDS[full].quantity
        assert spec is not None
        said = get(self.document, full)
        if isinstance(said, Entry):
            words = f"{said.typed}. {said.doubt}" if said.doubt else said.typed
            # read at this very place it is all there is
            sample = (1, self.places) if FIELDS[full].each and not said.of_place else None
            return Figure(
                symbol,
                spec.label,
                said.value,
                spec.dimension,
                said.stands,
                full,
                None,
                (),
                words,
                None,
                sample,
                outdated=said.outdated,
                decided=decided(full) and said.stands is not Evidence.ASSUMED,
            )
        if isinstance(said, Absent):
            return Figure(symbol, spec.label, 0.0, spec.dimension, said.stands, full, note=f"none: {spec.none}")
        return None

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
        taken_with: TakenWith,
        note: str = "",
    ) -> Figure:
        """What is read off a table typed at ``path``, with the table's own evidence; one stands for every valve."""
        evidence = Evidence.ASSUMED if taken_with else standing(origin.evidence, by)
        if taken_with:
            note = f"{note}. Its part was exchanged since it was taken: it counts as assumed".removeprefix(". ")
        elif evidence is not origin.evidence:
            note = f"{note}. No instrument and hand are known: it counts as assumed".removeprefix(". ")
        told = "its part was exchanged since it was taken" if taken_with else ""
        return Figure(
            symbol, label, value, dimension, evidence, self.path(path), note=note, sample=(1, self.places),
            outdated=told,
        )  # fmt: skip

    @property
    def places(self) -> int:
        """Valves of this side of the head; 0 while cylinders and valves are not known."""
        return self.once("places", lambda: count(self.document, self.side_name))

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
        return self.once(("limit", key), lambda: self._limit(key))

    def _limit(self, key: str) -> Limit:
        own = f"{key}@{self.side_name}"
        note(bit(reads.limit_token(key)) | bit(reads.limit_token(own)))
        spec = self.practice.limit(key, self.side_name)
        override = self.build.overrides.get(own) or self.build.overrides.get(key)
        low, high, reason, origin, waiver = spec.low, spec.high, spec.reason, self.practice.name, None
        if override is not None:
            low = override.low.value if override.low and low is not None else low
            high = override.high.value if override.high and high is not None else high
            reason, origin = override.reason, "this build"
            if _loosened(spec, low, high):
                by = override.by
                waiver = Waiver(by.hand if by else "", by.at if by else None, reason, spec.low, spec.high)
        return Limit(
            key, spec.sense, low, high, spec.tight, spec.dimension, reason, origin, spec.soft_high, spec.soft_low,
            waiver, spec.tight_high,
        )  # fmt: skip

    def assumption(self, key: str, symbol: str, label: str, instead_of: str = "") -> Figure:
        """A practice's assumption as a figure; ``instead_of`` is the field that would say it, and is empty."""
        limit = self.limit(key)
        value = limit.low if limit.low is not None else limit.high
        assert value is not None
        words = f"{limit.origin}: {limit.reason}"
        path = self.path(instead_of) if instead_of else None
        return Figure(
            symbol, label, value, limit.dimension, Evidence.ASSUMED, path, note=words, waiver=limit.waiver,
            unsaid=bool(instead_of),
        )  # fmt: skip

    # -- each figure once

    def once(self, key: Hashable, work: Callable[[], T]) -> T:
        """``work()``, or what it gave before under the same key; what it raised is raised again."""
        kept = self.memo.get(key)
        if kept is None:
            kept = self.kept(key, work)
        note(kept.read)
        if kept.told is not None:
            raise kept.told.with_traceback(None)
        return cast(T, kept.found)

    def _worked(self, key: Hashable, work: Callable[[], T]) -> Kept:
        found: Any = None
        told = None
        around = reads.begun()
        try:
            found = guarded(work, key)
        except NotKnown as error:
            # kept without the frames that it came through, which would keep all of this side
            told = error.with_traceback(None)
        finally:
            read = reads.ended(around)
        if isinstance(found, Figure):
            found = self.with_unsaid(found, read)
        kept = self.memo[key] = Kept(found, told, read)
        return kept

    def with_unsaid(self, found: Figure, read: int) -> Figure:
        """The figure, beside it each choice about a part that was ``read`` for it and that nobody stated."""
        if not read & _ASSUMED_BITS or not any(read & one for one, _ in self._unsaid):
            return found
        named = {leaf.path for leaf in found.leaves}
        beside = [leaf for one, leaf in self._unsaid if read & one and leaf.path not in named]
        return replace(found, beside=(*found.beside, *beside)) if beside else found

    @property
    def _unsaid(self) -> tuple[tuple[int, Figure], ...]:
        """The choices about parts that nobody stated, as figures, each with its bit."""
        if self._silent is None:
            rows = ((path, silence(self.build, path)) for path in _ASSUMED)
            self._silent = tuple((bit(path), _chosen(path, words)) for path, words in rows if words)
        return self._silent

    def kept(self, key: Hashable, work: Callable[[], Any]) -> Kept:
        """What ``once`` keeps under a key that it has not met."""
        return self._taken_over(key, work) or self._worked(key, work)

    def _taken_over(self, key: Hashable, work: Callable[[], T]) -> Kept | None:
        """Of a variant: what its base has, where that does not rest on the lift curve."""
        base = self._base() if self._base is not None else None
        if base is None:
            return None
        kept = base.memo.get(key)
        if kept is None:
            return None if isinstance(key, tuple) and key[0] in ("entry", "limit") else self._asked(base, key)
        if kept.read & self._curve_bit:
            return None
        self.memo[key] = kept
        return kept

    def _asked(self, base: "Context", key: Hashable) -> Kept | None:
        again = _WORKS.get(key[0] if isinstance(key, tuple) else key)
        if again is None:
            return None
        with Noting():
            ask(lambda: again(base, *(key[1:] if isinstance(key, tuple) else ())))
        kept = base.memo[key]
        if kept.read & self._curve_bit:
            return None
        self.memo[key] = kept
        return kept

    @property
    def curve_bit(self) -> int:
        """What a figure that rests on this side's lift curve has read."""
        return self._curve_bit


def _chosen(path: str, words: str) -> Figure:
    """A choice that nobody stated; its words are its note, since it has no amount."""
    return Figure("", FIELDS[path].label, 0.0, COUNT, Evidence.ASSUMED, path, note=words, unsaid=True)


_ASSUMED = tuple(p for p, f in FIELDS.items() if (f.assumed or f.silent) and ".candidates." not in p)
_ASSUMED_BITS = functools.reduce(operator.or_, map(bit, _ASSUMED))
_CHOICE_BITS = functools.reduce(operator.or_, (bit(f"{p.rpartition('.')[0]}.stated") for p in _ASSUMED), _ASSUMED_BITS)
_PRACTICE_BIT, _WAITS_BIT = bit(reads.PRACTICE), bit("work that has not ended")


def _loosened(spec: LimitSpec, low: float | None, high: float | None) -> bool:
    """Whether an end lets more pass than the practice's."""
    return (spec.low is not None and low is not None and low < spec.low) or (
        spec.high is not None and high is not None and high > spec.high
    )


TROUBLE = (ArithmeticError, ValueError, IndexError)
"""What a formula raises over figures that are out of all reason."""


def guarded(work: Callable[[], T], name: Hashable) -> T:
    """``work()``, with trouble in the arithmetic logged and raised as ``OutOfReason``, and what is not finite too."""
    try:
        found = work()
        if isinstance(found, Figure) and not math.isfinite(found.value):
            raise ArithmeticError(f"{found.label.lower()} comes to no finite figure")
    except TROUBLE as error:
        _log.warning("%s could not be worked out: %s", name, error)
        _log.debug("%s", name, exc_info=True)
        raise OutOfReason(error) from error
    return found


_WORKS: dict[Hashable, Callable[..., Any]] = {}
"""Every figure by its name, so that a variant can ask its base for it."""


F = TypeVar("F", bound=Callable[..., Any])


def figure(work: F) -> F:
    """Work a figure out once for a context and its arguments; a missing input, a conflict and trouble are kept too.

    A variant takes over from its base whatever does not rest on the lift curve.
    """
    name = f"{work.__module__}.{work.__qualname__}"

    @wraps(work)
    def once(ctx: Context, *args: Hashable) -> Any:
        key = (name, *args) if args else name
        kept = ctx.memo.get(key) or ctx.kept(key, partial(work, ctx, *args))
        note(kept.read)
        if kept.told is not None:
            raise kept.told.with_traceback(None)
        return kept.found

    _WORKS[name] = once
    return cast(F, once)


def name_of(work: Callable[..., Any]) -> str:
    """The name under which a figure is kept."""
    return f"{work.__module__}.{work.__qualname__}"


def ask(work: Callable[[], T]) -> T | NotKnown:
    """``work()``, or why it cannot be told, as a value."""
    try:
        return work()
    except NotKnown as told:
        return told.with_traceback(None)


def known(work: Callable[[], T]) -> T | None:
    """``work()``, or None where it cannot be told."""
    found = ask(work)
    return None if isinstance(found, NotKnown) else found


def length(
    symbol: str, label: str, value: float, formula: str, *inputs: Figure, note: str = "", of: Dimension = LENGTH
) -> Figure:
    """A calculated figure, a length unless said otherwise."""
    return Figure.calculated(symbol, label, value, of, formula, *inputs, note=note)
