"""What was read of one valve's lash at every stage, how much it closed, and what a hand said was the cause."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from arcstack.document import Sitting
from arcstack.document.places import Place
from arcstack.mech.lash import Serviced, Trend, trend_of
from arcstack.readings.event import Event, of_kind
from arcstack.readings.reading import Phase, Reading

CAUSES = (
    "seat recession", "step worn in the face", "stretched stem or head", "loose seat", "weak spring or float",
    "shim or bucket changed", "read wrong",
)  # fmt: skip
"""What makes lash close, for a hand to choose from."""


@dataclass(frozen=True)
class Caused(Event, kind="caused", after_release=True):
    """The cause that a hand found for a valve whose lash closes; what comes after it is a new story."""

    number: int
    place: str
    cause: str
    note: str
    by: Sitting


@dataclass(frozen=True)
class Served(Event, kind="served", after_release=True):
    """What a stage of a head was: distance (km) and hours since it was built, limiter events since the last, oil, how
    cold it was (°C). ``service`` is 0 for the build itself."""

    number: int
    service: int
    distance_km: float | None
    hours: float | None
    limiter_events: int | None
    oil: str
    cold_C: float | None
    by: Sitting


def services_of(events: Sequence[Event]) -> dict[int, Served]:
    """What was said last of each service."""
    return {e.service: e for e in of_kind(events, Served)}


@dataclass(frozen=True)
class Bled(Event, kind="bled", after_release=True):
    """Hydraulic adjusters of a side primed and bled by a hand."""

    number: int
    side: str
    by: Sitting


@dataclass(frozen=True)
class At:
    """Lash at one stage, mm: as it was found, as it was left, and by whom; how many cuts its valve had had by each.
    ``number`` is of its last reading."""

    words: str
    stage: tuple[int, int]
    service: int
    found_mm: float
    set_mm: float
    half_width_mm: float
    by: Sitting
    served: Served | None = None
    cuts_found: int = 0
    cuts_set: int = 0
    number: int = 0


NO_RISE = ("shim or bucket changed", "read wrong")
"""Causes by which no stem rises."""


@dataclass(frozen=True)
class History:
    """Lash of one valve, stage by stage, oldest first. ``beds`` is True while only the first service is in it, in which
    seats bed and nothing is counted as a trend. ``cause`` is the last that a hand found, once it answers the trend."""

    place: Place
    stages: tuple[At, ...]
    trend: Trend
    beds: bool
    cause: Caused | None

    def rise_since(self, stage: tuple[int, int]) -> float:
        """How far the stem has risen since a stage of the work, mm: everything that lash closed since, seats' bedding
        counted; nought where it opened in all, or its cause was one by which no stem rises."""
        if self.cause is not None and self.cause.cause in NO_RISE:
            return 0.0
        pairs = [(a, b) for a, b in pairwise(self.stages) if b.stage > stage and not _cut_between(a, b)]
        return round(max(math.fsum(a.set_mm - b.found_mm for a, b in pairs), 0.0), 6)


def _cut_between(left: At, found: At) -> bool:
    """Whether metal was taken between two readings: a cut closes lash by itself, and moves the heights by itself."""
    return left.cuts_set != found.cuts_found


def history(readings: Sequence[Reading], events: Sequence[Event], place: Place) -> History:
    """The first reading of a stage is what was found, the last what was left; of what was taken back nothing counts."""
    served = services_of(events)
    voided = {r.replaces for r in readings if r.void}
    own = [r for r in readings if r.key == "lash" and r.place == place.label and not r.void and r.number not in voided]
    by_stage: dict[tuple[int, int], list[Reading]] = {}
    for r in own:
        if r.phase in (Phase.FINAL, Phase.SERVICE):
            by_stage.setdefault(r.stage, []).append(r)
    stages = tuple(
        At(
            rows[0].phase_words, rows[0].stage, rows[0].service, rows[0].value, rows[-1].value,
            max(r.resolution or 0.0 for r in rows) or 0.01, rows[-1].by,
            served.get(rows[0].service), rows[0].cuts, rows[-1].cuts,
            rows[-1].number,
        )
        for _, rows in sorted(by_stage.items())
    )  # fmt: skip
    # the first service after a build beds the seats: it is shown and starts the count
    built = bool(stages) and stages[0].service == 0
    counted = stages[1:] if built else stages
    # what a cut closed is no trend: it counts as left where it was next found
    left = [b.found_mm if _cut_between(a, b) else a.set_mm for a, b in pairwise(counted)]
    left += [counted[-1].set_mm] if counted else []
    trend = trend_of([Serviced(s.found_mm, mm, s.half_width_mm) for s, mm in zip(counted, left, strict=True)])
    causes = [e for e in of_kind(events, Caused) if e.place == place.label]
    cause = causes[-1] if causes and _answers(causes[-1], stages) else None
    return History(place, stages, trend, len(counted) < 2, cause)


def _answers(cause: Caused, stages: Sequence[At]) -> bool:
    """A cause found at a service answers it, and no later one."""
    return not stages or cause.number > stages[-1].number
