"""Lash: the shims that are planned and laid, a closing valve let pass or explained, services told of."""

from arcstack.application.acts.acting import act, by_name, day_of, reasoned
from arcstack.application.head import Opened
from arcstack.document import Entry, Sitting
from arcstack.document.firing import read_cylinders, read_firing_order
from arcstack.document.parts import FollowerKind, Shimming
from arcstack.document.places import cylinders_of
from arcstack.errors import FieldError
from arcstack.evidence import passing
from arcstack.readings import Phase, Waived
from arcstack.readings.asked import hydraulic
from arcstack.readings.lash_history import CAUSES, NO_RISE, Bled, Caused, Served, services_of
from arcstack.readings.taking import How, place_called
from arcstack.shelf import PartKind
from arcstack.trials.lashing import TREND, Plan, aim_of, judged, plan, seat_read, trend_stands


def sizes_on_shelf(head: Opened) -> dict[float, int]:
    """Thicknesses of the shelf’s lash shims, mm, or crowns of its graded buckets, and how many of each there are."""
    bucket = head.current.build.engine.follower is FollowerKind.BUCKET
    graded = bucket and head.current.build.side(head.side).follower.bucket.shimming is Shimming.GRADED
    kind, field = (PartKind.BUCKET, "crown") if graded else (PartKind.LASH_SHIM, "thickness")
    sizes: dict[float, int] = {}
    for part in head.shop.shelf.offered():
        thick = getattr(part.body, field, None) if part.kind is kind else None
        if isinstance(thick, Entry):
            size = round(thick.value, 6)
            sizes[size] = sizes.get(size, 0) + part.on_hand
    return dict(sorted(sizes.items()))


def planned(head: Opened, at_lobe: bool = False) -> Plan:
    """Which shim goes where; ``at_lobe`` where a lever's lash is read at its lobe. Raises ``NotKnown``."""
    ctx = head.design.sides[head.side]
    return plan(ctx, head.sheet, aim_of(ctx, sizes_on_shelf(head), at_lobe=at_lobe))


def layout(found: Plan) -> str:
    """A plan's moves as one text, by which a page tells the plan that it showed."""
    return ",".join(f"{line.place.label}={line.put_mm}" for line in found.moves)


def lay_shims(head: Opened, how: How, shown: str, at_lobe: bool = False) -> None:
    """Lay the shims as they were planned: assumed until they are read, and each lash is read again.

    Raises ``NotKnown``, ``FieldError``, also where the plan that was ``shown`` is another now.
    """
    found = planned(head, at_lobe)
    if layout(found) != shown:
        raise FieldError("layout", "Something was read meanwhile and the plan is another now: look again.")
    if not found.moves:
        raise FieldError("layout", "Nothing is to be changed.")
    rows = [("lash_shim", line.place.label, "", f"{line.put_mm:.3f} mm", how) for line in found.moves]
    head.shop.bench.take_all(head.current.id, head.current.build, rows)


def let_pass(head: Opened, by: Sitting, *, place: str, reason: str, until: str) -> None:
    """Let a valve that closes have its shim by a hand's name, for a reason, until an end."""

    def decided(now: Opened) -> list[Waived]:
        by_name(by, "Whose hand lets it pass?")
        at = place_called(now.sheet, place)
        ctx, history = now.design.sides[now.side], now.sheet.lash_of(at)
        stands, (level, told) = trend_stands(ctx, history), judged(ctx, history)
        made = Waived(
            0, TREND, now.side, at.label, reason, until, "", by, False, told, level.value, stands.value, None,
            stands.high,
        )  # fmt: skip
        return [passing.checked(made, day_of(by))]

    act(head, decided)


def name_cause(head: Opened, by: Sitting, *, place: str, cause: str, note: str) -> None:
    """Say what a hand found to be the cause of a lash that closes."""

    def decided(now: Opened) -> list[Caused]:
        at = place_called(now.sheet, place).label
        by_name(by, "Whose hand found it? A cause has a name.")
        words = "Say which cause it was, and what was read or done about it."
        if cause not in CAUSES:
            raise FieldError("cause", words)
        reasoned(note, words, "cause")
        if cause not in NO_RISE and not seat_read(now.sheet, at):
            words = "Read it there first, since lash was last found: vacuum, tip, height or seat."
            raise FieldError("cause", f"{words} Or let it pass by name.")
        return [Caused(0, at, cause, note, by)]

    act(head, decided)


def serve(
    head: Opened, by: Sitting, *, phase: Phase, service: int, distance_km: float | None, hours: float | None,
    limiter_events: int | None, oil: str, cold_C: float | None,
) -> None:  # fmt: skip
    """Say what a service was: distance, hours, limiter events, oil, how cold the engine was."""

    def decided(now: Opened) -> list[Served]:
        by_name(by, "Whose hand reads it? A service has a name.")
        if phase not in (Phase.FINAL, Phase.SERVICE):
            raise FieldError("phase", f"This is the {phase.value} phase: choose a service, or final, at the readings.")
        made = Served(0, service, distance_km, hours, limiter_events, oil, cold_C, by)
        _not_going_back(now, made)
        return [made]

    act(head, decided)


def _not_going_back(head: Opened, made: Served) -> None:
    """Raise ``FieldError`` where distance or hours lie before an earlier service's, or past a later one's."""
    for number, other in services_of(head.sheet.events).items():
        for word, own, its in (("distance", made.distance_km, other.distance_km), ("hours", made.hours, other.hours)):
            if own is None or its is None or number == made.service:
                continue
            stood = f"service {number}" if number else "the build"
            if number < made.service and own < its:
                raise FieldError(word, f"The {word} goes back: {stood} had {its:,.0f} already.")
            if number > made.service and own > its:
                raise FieldError(word, f"The {word} lies past {stood}, which had {its:,.0f}.")


def bleed(head: Opened, by: Sitting) -> None:
    """Say that the hydraulic adjusters were primed and bled."""

    def decided(now: Opened) -> list[Bled]:
        by_name(by, "Whose hand bled them?")
        if not hydraulic(now.current.build, now.side):
            raise FieldError("side", "There are no hydraulic adjusters on this side.")
        return [Bled(0, now.side, by)]

    act(head, decided)


def why_no_sequence(head: Opened) -> str:
    """Why no sequence can be told: its order leaves cylinders out, or nobody said which a bank holds; else empty."""
    build = head.current.build
    named = read_firing_order(build.engine.firing_order)
    several = build.engine.banks is not None and build.engine.banks.value > 1
    if named and several and len(read_cylinders(build.head.cylinders)) != cylinders_of(build.engine):
        return "Say at the brief which cylinders of the engine this bank holds"
    missing = sorted({p.cylinder for p in head.sheet.places} - set(named)) if named else []
    told = ", ".join(str(c) for c in missing)
    return f"The firing order leaves out cylinder {told}: mend it at the brief" if missing else ""
