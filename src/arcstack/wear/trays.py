"""Three trays of a head that does not exist, with a hidden cause: read before the answer is shown."""

import random
from dataclasses import dataclass

from arcstack.document import Sitting
from arcstack.readings.returning import Found, Look, Severity
from arcstack.settings import setting
from arcstack.wear.diagnosis import Diagnosis, diagnose
from arcstack.wear.signs import Sign, causes, chains, signs

TRAYS = 3
STRONG, MOST_TRIES = int(setting("wear.strong")), int(setting("wear.trays_tries"))
PLACES = tuple(f"{cylinder}{side}-{index}" for cylinder in range(1, 5) for side in "IE" for index in "ab")
NOBODY = Sitting(hand="lesson")


@dataclass(frozen=True)
class Tray:
    """What lies in one tray: its place, and each sign that shows with how much of it; absent ones among them."""

    place: str
    shown: tuple[tuple[Sign, Found], ...]


@dataclass(frozen=True)
class Lesson:
    """Trays with their hidden cause, and what the program makes of them."""

    seed: int
    cause: str
    trays: tuple[Tray, ...]
    diagnosis: Diagnosis


def lesson(seed: int) -> Lesson:
    """The trays of a seed: the same ones for everyone. The signs lead to the hidden cause by the same data that reads a
    real head; one in three seeds has a conflict in it.

    >>> lesson(7) == lesson(7), lesson(7).diagnosis.leader.cause.id == lesson(7).cause
    (True, True)
    """
    wants_conflict = seed % TRAYS == 0
    for turn in range(MOST_TRIES):
        rng = random.Random(f"trays {seed} {turn}")
        cause = rng.choice(sorted(causes()))
        trays = _laid(rng, cause, wants_conflict)
        found = diagnose([f for tray in trays for _, f in tray.shown])
        leads = found.leader is not None and found.leader.cause.id == cause
        if leads and bool(found.conflict) is wants_conflict:
            return Lesson(seed, cause, trays, found)
    raise AssertionError(f"no head was found for seed {seed}")


def _laid(rng: random.Random, cause: str, conflict: bool) -> tuple[Tray, ...]:
    """Signs of one cause over three places, a normal one among them, and one that speaks otherwise."""
    speak = [s for s in signs().values() if s.weights.get(cause, 0) >= STRONG]
    own = rng.sample(speak, min(len(speak), rng.randint(1, 3)))
    other = [s for s in signs().values() if not s.normal and s not in own and s.weights.get(cause, 0) <= 0]
    normal = [s for s in signs().values() if s.normal]
    rows = [(s, False) for s in own]
    rows += [(s, False) for s in rng.sample(other, 2 if conflict else rng.randint(0, 1))]
    told = {s.opposite for s in signs().values()}
    missed = [s for s in other if s.id not in told and (s, False) not in rows]
    rows.append((rng.choice(missed), True))
    rows.append((rng.choice(normal), False))
    places = rng.sample(PLACES, TRAYS)
    trays: list[list[tuple[Sign, Found]]] = [[] for _ in places]
    for n, (sign, absent) in enumerate(rows):
        at = n % TRAYS
        much = rng.choice(list(Severity)) if not absent and not sign.normal else Severity.SEEN
        found = Found(n + 1, sign.id, (places[at],), much, Look.STRIPPED, NOBODY, absent)
        trays[at].append((sign, found))
    order = sorted(range(TRAYS), key=lambda n: places[n])
    return tuple(Tray(places[n], tuple(trays[n])) for n in order)


@dataclass(frozen=True)
class Answer:
    """How an answer stands beside the truth: the cause named, whether it is right or in the same chain, and whether the
    reading that was chosen would decide."""

    cause: str
    right: bool
    same_chain: bool
    reading: str
    decides: bool


def answered(of: Lesson, cause: str, reading: str) -> Answer:
    """An answer held to the truth. Raises ``KeyError`` for a cause that does not exist."""
    causes()[cause]
    chained = any(cause in c.causes and of.cause in c.causes for c in chains())
    deciding = {of.diagnosis.next_reading[1], causes()[of.cause].reading}
    return Answer(cause, cause == of.cause, chained and cause != of.cause, reading, reading in deciding)


READINGS = {
    "seat": "Seat depth and width, valve by valve", "springs": "Every spring on the tester, before and after",
    "solid": "Solid height and installed height", "lash": "Lash cold, at every valve", "oil": "Oilways, feed and drain",
    "journals": "Filter cut open, journals measured", "runout": "Runout of the valves, mixture by cylinder",
    "bucket": "Bucket and bore measured", "seal": "Room between retainer and seal",
    "elastic": "The train past overspeed, and seat loads", "height": "The place stripped, its height read again",
    "look": "Under a glass, chamber by chamber",
}  # fmt: skip
"""What can be measured next, by the reading that a cause or a chain names."""
