"""Findings weighed: each cause with what speaks for and against it, chains, conflicts, and what would decide."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from arcstack.readings.returning import Found, Severity
from arcstack.settings import setting
from arcstack.wear.signs import Cause, Chain, Link, Sign, causes, chains, signs

TIMES: Mapping[Severity, float] = MappingProxyType({Severity.SEEN: 1.0, Severity.NAIL: 1.5, Severity.STEP: 2.0})
"""How much more a sign says that catches a nail, or is a step that can be measured."""

WITHIN, STRONG = setting("wear.conflict"), setting("wear.strong")
ABSENT_FROM, ABSENT_TAKES = setting("wear.absent_from"), setting("wear.absent")


LEAST_SHOWN = 3


@dataclass(frozen=True)
class Says:
    """What one sign says of one cause: points for it, or against it where they are below nought."""

    sign: Sign
    points: float
    absent: bool
    places: tuple[str, ...]
    by_record: bool = False


@dataclass(frozen=True)
class Scored:
    """A cause with what speaks for it and against it. Points are added, never averaged and never a share."""

    cause: Cause
    says: tuple[Says, ...]

    @property
    def points(self) -> float:
        return sum(s.points for s in self.says)

    @property
    def speaks_for(self) -> tuple[Says, ...]:
        return tuple(sorted((s for s in self.says if s.points > 0.0), key=lambda s: -s.points))

    @property
    def speaks_against(self) -> tuple[Says, ...]:
        return tuple(sorted((s for s in self.says if s.points < 0.0), key=lambda s: s.points))


@dataclass(frozen=True)
class Met:
    """A link of a chain, the signs found that show it, and whether its cause leads."""

    link: Link
    by: tuple[Sign, ...]
    leads: bool = False

    @property
    def shown(self) -> bool:
        return bool(self.by) or self.leads


@dataclass(frozen=True)
class Diagnosis:
    """What the findings come to. ``scored`` stands from the most points down; ``leader`` is None while nothing speaks
    for anything. ``chain`` is the one that leader and runner-up stand in, with the links that were met; ``conflict``
    says in words where evidence conflicts."""

    scored: tuple[Scored, ...]
    leader: Scored | None
    runner_up: Scored | None
    chain: Chain | None
    links: tuple[Met, ...]
    conflict: str
    normal: tuple[Sign, ...]

    @property
    def weighed(self) -> list[Scored]:
        """Causes that something speaks for, and in any case the first few."""
        return [s for n, s in enumerate(self.scored) if s.points > 0.0 or n < LEAST_SHOWN]

    @property
    def began(self) -> Met | None:
        """The earliest link of the chain that anything shows."""
        return next((m for m in self.links if m.shown), None)

    @property
    def headline(self) -> bool:
        """Whether the chain is said first: only once its first link is shown."""
        return bool(self.links) and self.links[0].shown

    @property
    def next_reading(self) -> tuple[str, str]:
        """What would decide: where the chain began, else what tells the leader apart; its words and which reading."""
        if self.chain is not None:
            return self.chain.began, self.chain.reading
        if self.leader is not None:
            return self.leader.cause.tells, self.leader.cause.reading
        return "Look with the head whole: lash, tips, lobes, crowns.", "look"


def diagnose(found: Sequence[Found], by_record: Sequence[str] = (), at: frozenset[str] | None = None) -> Diagnosis:
    """Weigh findings. ``by_record`` are signs that the build's own readings show; ``at`` keeps to some places.

    A sign counts once, by the worst of its findings. One that was looked for and is absent counts as its opposite; one
    without an opposite takes a point from each cause that it would have spoken for strongly.
    """
    here = [f for f in last_look(found) if f.sign in signs() and (at is None or not f.places or set(f.places) & at)]
    present = {f.sign for f in here if not f.absent} | set(by_record)
    told: dict[str, list[Says]] = {name: [] for name in causes()}
    for sign, points, absent, places, record in _counted(here, present, by_record):
        for cause, each in points.items():
            told[cause].append(Says(sign, each, absent, places, record))
    scored = [Scored(causes()[name], tuple(rows)) for name, rows in told.items() if rows]
    order = list(causes())
    scored.sort(key=lambda s: (-s.points, order.index(s.cause.id)))
    seen = {signs()[name].fact for name in present} - {""}
    # what was seen wrong is a fact: no sum of signs takes it away
    scored.sort(key=lambda s: s.cause.id not in seen)
    leader = scored[0] if scored and (scored[0].points > 0.0 or seen) else None
    second = next((s for s in scored[1:] if s.points > 0.0), None) if leader else None
    chain = _chain(leader, second, present)
    first = leader.cause.id if leader is not None else ""
    links = tuple(_met(link, present, first) for link in chain.links) if chain else ()
    normal = tuple(signs()[f] for f in dict.fromkeys(f.sign for f in here if not f.absent) if signs()[f].normal)
    return Diagnosis(tuple(scored), leader, second, chain, links, _conflict(leader, scored, chain, present), normal)


def headline(told: Diagnosis) -> str:
    """What findings come to in one line: a chain whose first link is shown, else the leading cause; an open question
    where the evidence conflicts or speaks for nothing.

    >>> headline(diagnose(()))
    'open question: nothing found there points anywhere'
    """
    if told.leader is None:
        return "open question: nothing found there points anywhere"
    if told.conflict:
        return f"open question: {told.conflict}"
    if told.chain is not None and told.headline:
        return f"one chain: {told.chain.title.lower()}"
    return told.leader.cause.title.lower()


def last_look(found: Sequence[Found]) -> list[Found]:
    """What a later look contradicts at the same places no longer stands."""
    kept: list[Found] = []
    for f in found:
        kept = [k for k in kept if not contradicts(f, k)]
        kept.append(f)
    return kept


def contradicts(later: Found, earlier: Found) -> bool:
    """Whether a later look found absent what an earlier one saw, or the other way about, at a place they share."""
    shared = not later.places or not earlier.places or set(later.places) & set(earlier.places)
    return later.sign == earlier.sign and later.absent is not earlier.absent and bool(shared)


def _counted(
    found: Sequence[Found], present: set[str], by_record: Sequence[str]
) -> list[tuple[Sign, dict[str, float], bool, tuple[str, ...], bool]]:
    rows: list[tuple[Sign, dict[str, float], bool, tuple[str, ...], bool]] = []
    for name in dict.fromkeys([*(f.sign for f in found if not f.absent), *by_record]):
        own = [f for f in found if f.sign == name and not f.absent]
        times = max((TIMES[f.severity] for f in own), default=1.0)
        places = tuple(dict.fromkeys(p for f in own for p in f.places))
        sign = signs()[name]
        rows.append((sign, {c: w * times for c, w in sign.weights.items()}, False, places, not own))
    for name in dict.fromkeys(f.sign for f in found if f.absent and f.sign not in present):
        sign = signs()[name]
        places = tuple(dict.fromkeys(p for f in found if f.sign == name and f.absent for p in f.places))
        if sign.opposite:
            if sign.opposite not in present:
                other = signs()[sign.opposite]
                rows.append((sign, {c: float(w) for c, w in other.weights.items()}, True, places, False))
            continue
        against = {c: -ABSENT_TAKES for c, w in sign.weights.items() if w >= ABSENT_FROM}
        rows.append((sign, against, True, places, False))
    return rows


def _chain(leader: Scored | None, second: Scored | None, present: set[str]) -> Chain | None:
    """The chain that leader and runner-up both stand in; or one that has two links met up to
    the leader's own, or the leader as its only cause."""
    if leader is None:
        return None
    own = [c for c in chains() if leader.cause.id in c.causes]
    both = next((c for c in own if second is not None and second.cause.id in c.causes), None)
    if both is not None:
        return both
    return next((c for c in own if _links_met(c, leader.cause.id, present) > 1), None)


def _links_met(chain: Chain, cause: str, present: set[str]) -> int:
    """Links of a chain that signs show: up to the cause's own, or all where it has no other cause."""
    last = next((n for n, link in enumerate(chain.links) if link.cause == cause), 0)
    counted = chain.links if len(chain.causes) == 1 else chain.links[: last + 1]
    return sum(any(s in present for s in link.signs) for link in counted)


def _met(link: Link, present: set[str], leader: str) -> Met:
    return Met(link, tuple(signs()[s] for s in link.signs if s in present), bool(leader) and link.cause == leader)


def _conflict(leader: Scored | None, scored: Sequence[Scored], chain: Chain | None, present: set[str]) -> str:
    """Where evidence conflicts, in words; empty where it does not."""
    if leader is None:
        return ""
    told = []
    fact = any(signs()[name].fact == leader.cause.id for name in present)
    for other in scored[1:]:
        apart = leader.points - other.points
        if not fact and other.points > 0.0 and apart <= WITHIN and not _one_chain(leader, other):
            told.append(f"{leader.cause.title} and {other.cause.title.lower()} lie within {WITHIN:g} points")
    for says in leader.speaks_against:
        if says.points <= -STRONG:
            told.append(f"“{_worded(says)}” speaks strongly against {leader.cause.title.lower()}")
    if leader.cause.id == "float" and "opening_flank" in present and "closing_flank" not in present:
        told.append(
            "only the opening flank is marked: a follower that parts lands on the closing side, so lash taken up hard "
            "or pressure on that flank stands beside float"
        )
    return "; ".join(told)


def _one_chain(a: Scored, b: Scored) -> bool:
    return any(a.cause.id in c.causes and b.cause.id in c.causes for c in chains())


def _worded(says: Says) -> str:
    return f"{says.sign.title}, absent" if says.absent else says.sign.title
