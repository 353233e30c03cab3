"""How far each of a few figures could go before a check fails: what fails first, and what would be next."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

from arcstack.assess import Assessment, gas
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context, ask, known
from arcstack.checks import Evidence, Level, judge
from arcstack.document import FIELDS, SIDES, Build, Entry, amount, get, problems
from arcstack.document.parts import HeldBy
from arcstack.errors import MissingInput, QuantityError, Waiting
from arcstack.settings import setting
from arcstack.units import ANGLE, GAUGE_PRESSURE, LENGTH, SPEED, Dimension, System, show
from arcstack.units.display import plain

STEPS = int(setting("room.steps"))
HALVINGS = int(setting("room.halvings"))


@dataclass(frozen=True)
class Quantity:
    """A figure that may go up: at which fields it stands, ``put`` a build with another, and how far past it is tried.

    In a field's path ``#`` stands for each place of its list, ``both`` for either side.
    """

    key: str
    title: str
    dimension: Dimension
    fields: str
    now: Callable[[Build], float | None]
    put: Callable[[Build, float], Build]
    reach: Callable[[float], float]


def _entry(value: float, dimension: Dimension) -> Entry:
    return Entry(value=value, typed=plain(value, dimension), evidence=Evidence.ASSUMED)


def _of_brief(
    name: str, dimension: Dimension
) -> tuple[Callable[[Build], float | None], Callable[[Build, float], Build]]:
    def now(build: Build) -> float | None:
        return amount(getattr(build.brief, name))

    def put(build: Build, value: float) -> Build:
        return build.model_copy(update={"brief": build.brief.model_copy(update={name: _entry(value, dimension)})})

    return now, put


def _of_cams(
    name: str, dimension: Dimension
) -> tuple[Callable[[Build], float | None], Callable[[Build, float], Build]]:
    """A figure of both cams: where the intake's stands, and both raised by as much."""

    def now(build: Build) -> float | None:
        return None if build.intake.cam.curve is not None else amount(getattr(build.intake.cam, name))

    def put(build: Build, value: float) -> Build:
        at = now(build)
        more = value - (at or 0.0)
        changed = {}
        for side in SIDES:
            cam = build.side(side).cam
            held = amount(getattr(cam, name))
            if held is None or cam.curve is not None:
                continue
            changed[side] = build.side(side).model_copy(
                update={"cam": cam.model_copy(update={name: _entry(held + more, dimension)})}
            )
        return build.model_copy(update=changed)

    return now, put


def _duration_now(build: Build) -> float | None:
    cam = build.intake.cam
    return None if cam.curve is not None or not cam.durations else amount(cam.durations[0].duration)


def _duration_put(build: Build, value: float) -> Build:
    """Every duration of both cards longer by as much."""
    more, changed = value - (_duration_now(build) or 0.0), {}
    for side in SIDES:
        cam = build.side(side).cam
        if cam.curve is not None:
            continue
        longer = tuple(
            d if d.duration is None else d.model_copy(update={"duration": _entry(d.duration.value + more, ANGLE)})
            for d in cam.durations
        )
        changed[side] = build.side(side).model_copy(update={"cam": cam.model_copy(update={"durations": longer})})
    return build.model_copy(update=changed)


def _advance_now(build: Build) -> float | None:
    return amount(build.intake.cam.phaser_advance)


def _advance_put(build: Build, value: float) -> Build:
    cam = build.intake.cam.model_copy(update={"phaser_advance": _entry(value, ANGLE)})
    return build.model_copy(update={"intake": build.intake.model_copy(update={"cam": cam})})


def _milling_now(build: Build) -> float | None:
    return amount(build.engine.milling)


def _milling_put(build: Build, value: float) -> Build:
    return build.model_copy(update={"engine": build.engine.model_copy(update={"milling": _entry(value, LENGTH)})})


QUANTITIES = (
    Quantity("limiter", "Limiter", SPEED, "brief.limiter", *_of_brief("limiter", SPEED), lambda now: 0.5 * now),
    Quantity(
        "boost",
        "Boost, gauge",
        GAUGE_PRESSURE,
        "brief.boost",
        *_of_brief("boost", GAUGE_PRESSURE),
        lambda now: 6.0 - now,
    ),
    Quantity(
        "back_pressure",
        "Back pressure, mean gauge",
        GAUGE_PRESSURE,
        "brief.back_pressure",
        *_of_brief("back_pressure", GAUGE_PRESSURE),
        lambda now: 10.0 - now,
    ),
    Quantity(
        "lift",
        "Lobe lift, both cams",
        LENGTH,
        "both.cam.lobe_lift",
        *_of_cams("lobe_lift", LENGTH),
        lambda now: 0.4 * now,
    ),
    Quantity(
        "duration",
        "Duration, both cams",
        ANGLE,
        "both.cam.durations.#.duration",
        _duration_now,
        _duration_put,
        lambda _now: 1.0,
    ),
    Quantity(
        "advance",
        "Intake phaser advance",
        ANGLE,
        "intake.cam.phaser_advance",
        _advance_now,
        _advance_put,
        lambda _now: 1.2,
    ),
    Quantity(
        "milling", "Cut off head and block", LENGTH, "engine.milling", _milling_now, _milling_put, lambda _now: 3.0
    ),
)

BY_KEY = {q.key: q for q in QUANTITIES}


@dataclass(frozen=True)
class Turn:
    """A check that fails from a value on, on which side."""

    check: str
    title: str
    side: str
    value: float


@dataclass(frozen=True)
class Room:
    """How far a figure can go: to ``first.value``, and to ``next.value`` were that check mended on both sides.

    Either is None where nothing fails within ``tried_to``, which ends where ``stopped`` says why it can go no further.
    ``failing`` are checks that fail as it is, ``waiting`` those that were not tried: each value needs a sweep of its
    own.
    """

    quantity: Quantity
    now: float
    tried_to: float
    first: Turn | None
    next: Turn | None
    failing: tuple[str, ...]
    waiting: tuple[str, ...] = ()
    stopped: str = ""


def _failing(sides: dict[str, Context], skip: frozenset[tuple[str, str]]) -> list[tuple[str, str]]:
    """Checks that judge and fail by their value alone, but those that are skipped."""
    found = []
    for side, ctx in sides.items():
        for check in checks().values():
            if (check.id, side) in skip or not (check.applies(ctx) and check.judges(ctx)):
                continue
            held = known(lambda: (check.value(ctx), check.limit_for(ctx)))  # noqa: B023
            if held is not None and judge(*held) is Level.FAIL:
                found.append((check.id, side))
    return found


def room(assessment: Assessment, key: str) -> Room:
    """How far one figure of a build could go. Raises ``KeyError``; ``MissingInput`` where it stands nowhere."""
    quantity, build = BY_KEY[key], assessment.build
    now = quantity.now(build)
    if now is None and key == "back_pressure":
        # assumed from boost while it is not measured
        assumed = known(lambda: gas.back_pressure(assessment.sides[SIDES[0]]))
        now = assumed.value if assumed is not None else None
    if now is None:
        raise MissingInput(why=f"{quantity.title.lower()} is not given as one figure of the card")
    reach, stopped = _as_far_as_it_goes(build, quantity, now, quantity.reach(now))
    base = assessment.sides[SIDES[0]]

    def at(value: float) -> dict[str, Context]:
        ctx = base.of(quantity.put(build, value))
        return {SIDES[0]: ctx, SIDES[1]: ctx.other}

    fails = frozenset(_failing(assessment.sides, frozenset()))
    already = tuple(checks()[check].title for check, _ in sorted(fails))
    # a card that is stretched no longer agrees with itself, which says nothing of the head
    skip = fails | {("cam.card", side) for side in SIDES}
    first = _first(at, now, reach, skip)
    after = (
        _first(at, first.value, now + reach - first.value, skip | {(first.check, side) for side in SIDES})
        if first
        else None
    )
    # just past where it stands: there only what is worked of this very figure can be told
    waiting = _waiting(at(now + max(reach, 0.0) / STEPS**2), skip)
    return Room(quantity, now, now + reach, first, after, already, waiting, stopped)


def _as_far_as_it_goes(build: Build, quantity: Quantity, now: float, reach: float) -> tuple[float, str]:
    """How far past ``now`` the fields and a stop let it go, ``reach`` at most, and what ends it there."""
    known_problems = {path for path, _ in problems(build)}
    ends = partial(_ended, build, quantity, known_problems)
    why = ends(now + reach)
    if not why:
        return reach, ""
    low, high = 0.0, reach
    for _ in range(HALVINGS + int(math.log2(STEPS**2))):
        middle = (low + high) / 2.0
        told = ends(now + middle)
        low, high, why = (low, middle, told) if told else (middle, high, why)
    return low, why


def _ended(build: Build, quantity: Quantity, known_problems: set[str], value: float) -> str:
    """Why a value cannot be, in words; empty where it can."""
    made = quantity.put(build, value)
    cam = made.intake.cam
    held = amount(cam.phaser_limit) if isinstance(cam.phaser_limit, Entry) else None
    if quantity.key == "advance" and cam.phaser_held is not HeldBy.NOT_SAID and held is not None and value > held:
        return f"{cam.phaser_held.value} limits the phaser"
    for path in _fields(made, quantity):
        entry, spec = get(made, path), FIELDS[path].quantity
        assert spec is not None
        try:
            if isinstance(entry, Entry):
                spec.check_entry(entry)
        except QuantityError as error:
            return f"no {spec.label.lower()} is past that ({error})"
    return next((message for path, message in problems(made) if path not in known_problems), "")


def _fields(build: Build, quantity: Quantity) -> Iterator[str]:
    for side in SIDES if quantity.fields.startswith("both.") else ("",):
        path = quantity.fields.replace("both.", f"{side}.")
        count = len(build.side(side).cam.durations) if "#" in path else 1
        yield from (path.replace("#", str(n)) for n in range(1, count + 1))


def _waiting(sides: dict[str, Context], skip: frozenset[tuple[str, str]]) -> tuple[str, ...]:
    """Checks that judge and that no sweep tells at another value."""
    found: dict[str, None] = {}
    for side, ctx in sides.items():
        for check in checks().values():
            if (check.id, side) in skip or not (check.applies(ctx) and check.judges(ctx)):
                continue
            if isinstance(ask(partial(check.value, ctx)), Waiting):
                found[check.title] = None
    return tuple(found)


def _first(
    at: Callable[[float], dict[str, Context]], start: float, reach: float, skip: frozenset[tuple[str, str]]
) -> Turn | None:
    """The first check to fail past ``start``, to a few thousandths of the reach."""
    if reach <= 0:
        return None
    low = start
    for step in range(1, STEPS + 1):
        high = start + reach * (step / STEPS) ** 2
        fails = _failing(at(high), skip)
        if fails:
            break
        low = high
    else:
        return None
    for _ in range(HALVINGS):
        middle = (low + high) / 2.0
        found = _failing(at(middle), skip)
        low, high, fails = (low, middle, found) if found else (middle, high, fails)
    check, side = fails[0]
    return Turn(check, checks()[check].title, side, low)


def words(found: Room, system: System) -> str:
    """What was found, in one sentence."""
    q = found.quantity

    def said(value: float) -> str:
        return str(show(value, q.dimension, system))

    end = f"nothing {'more ' if found.first else ''}fails as far as {said(found.tried_to)}"
    if found.stopped:
        end += f", where it ends: {found.stopped.rstrip('.')}"
    untried = ""
    if found.waiting:
        names = ", ".join(title.lower() for title in found.waiting[:3])
        more = f" and {len(found.waiting) - 3} more" if len(found.waiting) > 3 else ""
        untried = f". Not tried, since each needs its sweep: {names}{more}"
    if found.first is None:
        return end + untried
    first = f"to {said(found.first.value)}, then {found.first.title.lower()}, {found.first.side}"
    if found.next is None:
        return f"{first}; were that mended, {end}{untried}"
    after = f"to {said(found.next.value)}, {found.next.title.lower()}, {found.next.side}"
    return f"{first}; were that mended, {after}{untried}"
