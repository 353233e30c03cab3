"""The build as built: the design with one valve's readings laid over it, by the figures' own paths."""

from arcstack.checks import Evidence
from arcstack.document import SIDES, Build, Entry, Sitting, Stated
from arcstack.document.draft import Draft
from arcstack.document.entry import Absent
from arcstack.document.parts import HeightBasis
from arcstack.document.places import Place
from arcstack.mech.cam import card
from arcstack.readings.asked import ASKED, Step
from arcstack.readings.reading import Cut
from arcstack.readings.sheet import Settled, Sheet
from arcstack.units import ANGLE, LENGTH, Dimension, parse
from arcstack.units.display import plain


def as_built(sheet: Sheet, place: Place) -> Build:
    """The document of one valve. Whatever was not read there stands as the design has it."""
    draft, side = Draft(sheet.build), place.side
    draft.put(f"{side}.bench.place", place.label)
    for asked in ASKED.values():
        if asked.item or not asked.path:
            continue
        settled = sheet.settled(place, asked.key)
        if settled is not None:
            dimension = asked.quantity(sheet.build, side).dimension
            draft.put(asked.of(sheet.build, side), _entry(settled, place, dimension))
            if asked.key == "open_height":
                draft.put(f"{side}.stack.height_basis", HeightBasis.AS_FITTED)
    _with_shims(draft, sheet, place)
    _with_installed(draft, sheet, place)
    _with_rise(draft, sheet, place)
    for name in ("outer", "inner"):
        _with_spring(draft, sheet, place, name)
    for each in SIDES:
        _with_timing(draft, sheet, each, place)
    _with_cuts(draft, sheet, place)
    return draft.done()


def _with_timing(draft: Draft, sheet: Sheet, side: str, place: Place) -> None:
    """A timing that was measured and kept stands for the card's centreline; the card's events stay."""
    kept = sheet.mock_up(side).kept
    if kept is None:
        return
    cam = sheet.build.side(side).cam
    if isinstance(cam.centreline, Entry):
        stated = cam.centreline.value
    elif isinstance(cam.tdc_event, Entry) and isinstance(cam.bdc_event, Entry):
        stated = card.centreline_rad(cam.tdc_event.value, cam.bdc_event.value)
    else:
        return
    value = stated - kept.advance_rad * (1.0 if side == SIDES[0] else -1.0)
    read = {"value": value, "typed": plain(value, ANGLE), "evidence": Evidence.MEASURED, "by": kept.by}
    draft.put(f"{side}.cam.centreline", Entry(**read, of_place=place.label))


def _entry(settled: Settled, place: Place, dimension: Dimension) -> Entry:
    """A settled figure as an entry; stale, it counts as assumed and says why."""
    last = settled.last
    typed = last.typed if len(settled.readings) == 1 else plain(settled.value, dimension)
    value = last.value if len(settled.readings) == 1 else settled.value
    told = f"Stale: {settled.stale}"[:200] if settled.stale else ""
    return Entry(value=value, typed=typed, evidence=Evidence.MEASURED, by=last.by, outdated=told, of_place=place.label)


def thicknesses(typed: str) -> list[str]:
    """Shims as typed, each by itself; a unit at the end is every one's.

    >>> thicknesses("0.50 + 0.25 mm"), thicknesses("none")
    (['0.50 mm', '0.25 mm'], [])
    """
    if typed.strip().lower() == "none":
        return []
    parts = [p.strip() for p in typed.replace(",", ".").split("+")]
    _, _, unit = parts[-1].partition(" ")
    return [p if " " in p or not unit else f"{p} {unit}" for p in parts if p]


def _with_shims(draft: Draft, sheet: Sheet, place: Place) -> None:
    settled = sheet.settled(place, "shims")
    if settled is None:
        return
    by = settled.last.by
    found: tuple[Stated | None, ...] = tuple(shims_of(settled.last.typed, by, place.label))
    draft.put(f"{place.side}.stack.shims", found or (Absent(none=True, by=by),))


def shims_of(typed: str, by: Sitting, place: str) -> list[Entry]:
    """The shims that a reading names. Raises ``QuantityError`` for a text that names none."""
    found = []
    for one in thicknesses(typed):
        parsed = parse(one, LENGTH, "mm")
        read = {"value": parsed.value, "typed": parsed.typed, "evidence": Evidence.MEASURED, "by": by}
        found.append(Entry(**read, of_place=place))
    return found


def _height_read(sheet: Sheet, place: Place) -> Settled | None:
    """The height that a place stands on: as it was read on assembly, unless the open one was read at a later stage."""
    settled, open_height = sheet.settled(place, "installed_height"), sheet.settled(place, "open_height")
    if settled is None or (open_height is not None and open_height.last.stage > settled.last.stage):
        return open_height
    return settled


def _read_for(sheet: Sheet, place: Place, key: str) -> Settled | None:
    return _height_read(sheet, place) if key == "open_height" else sheet.settled(place, key)


def _with_installed(draft: Draft, sheet: Sheet, place: Place) -> None:
    """A height read on assembly, shims under it, stands for open height where it is the later of the two."""
    settled = _height_read(sheet, place)
    if settled is None or settled.asked.key != "installed_height":
        return
    # as they lay when it was read: other shims since have moved the height
    under = sheet.laid_under(settled.last, place) or 0.0
    value = round(settled.value + under, 9)
    told = f"Stale: {settled.stale}"[:200] if settled.stale else ""
    entry = Entry(
        value=value,
        typed=plain(value, LENGTH),
        evidence=Evidence.MEASURED,
        by=settled.last.by,
        outdated=told,
        of_place=place.label,
    )
    draft.put(f"{place.side}.stack.open_height", entry)
    draft.put(f"{place.side}.stack.height_basis", HeightBasis.AS_FITTED)


def _with_rise(draft: Draft, sheet: Sheet, place: Place) -> None:
    """A stem that lash says has risen since the heights were read stands higher, and its springs with it."""
    for key in ("open_height", "tip_height"):
        settled = _read_for(sheet, place, key)
        if settled is None:
            continue
        risen = sheet.lash_of(place).rise_since(settled.last.stage)
        if risen:
            told = f"Stale: by its lash the stem has risen {plain(risen, LENGTH)} since it was read"
            moved_by(draft, ASKED[key].of(sheet.build, place.side), risen, told)


def _with_spring(draft: Draft, sheet: Sheet, place: Place, name: str) -> None:
    """The spring that stands there in place of its lot's printed figures."""
    item = sheet.item_at(place.label, name)
    if not item:
        return
    base = f"{place.side}.stack.{name}"
    loads = 0
    for asked in (a for a in ASKED.values() if a.item == name and a.step is Step.SPRINGS):
        settled = sheet.of_item(item, asked.key)
        if settled is None:
            continue
        field = asked.key.partition(".")[2]
        draft.put(f"{base}.{field}", _entry(settled, place, asked.quantity(sheet.build, place.side).dimension))
        height = settled.last.condition.get("height_mm")
        if field in ("load_1", "load_2") and height is not None:
            loads += 1
            by = settled.last.by
            read = {"value": height, "typed": plain(height, LENGTH), "evidence": Evidence.MEASURED, "by": by}
            taken = Entry(**read, of_place=place.label)
            draft.put(f"{base}.height_{field[-1]}", taken)
    _with_loss(draft, sheet, place, name, item)
    if loads == 2:
        # two loads of its own come before a table of its lot
        draft.put(f"{base}.table", "")


def _with_loss(draft: Draft, sheet: Sheet, place: Place, name: str, item: str) -> None:
    """What a used spring carried before and after service, where both were read at one height."""
    pair = sheet.before_and_after(item, f"{name}.load_1")
    for when, reading in zip(("before", "after"), pair or (), strict=False):
        entry = Entry(
            value=reading.value, typed=reading.typed, evidence=Evidence.MEASURED, by=reading.by, of_place=place.label
        )
        draft.put(f"{place.side}.bench.{name}_{when}", entry)


def _with_cuts(draft: Draft, sheet: Sheet, place: Place) -> None:
    """What was cut since a figure was read moves it, until it is read again."""
    for key, sign in (("open_height", 1), ("tip_height", 1), ("margin", -1)):
        # a height that was read after a cut has the cut in it
        settled = _read_for(sheet, place, key)
        since = sheet.cut_at(place.label, key)[settled.last.cuts if settled else 0 :]
        path = ASKED[key].of(sheet.build, place.side)
        moved = sum(_moves(cut, key) for cut in since) * sign
        if moved:
            moved_by(draft, path, moved, "Stale: cut since it was read, moved by what was cut")
    # no reading of the bench tells anew how far a tip stands proud
    ground = sum(cut.tip_mm for cut in sheet.cut_at(place.label, "tip_height"))
    if ground:
        for path in ("stack.tip_proud", "stack.valve.groove_below_tip"):
            moved_by(draft, f"{place.side}.{path}", -ground, "Stale: the tip was ground since it was taken")


def _moves(cut: Cut, key: str) -> float:
    if key == "margin":
        return cut.face_mm
    return cut.raises_mm - (cut.tip_mm if key == "tip_height" else 0.0)


def moved_by(draft: Draft, path: str, by_mm: float, told: str) -> None:
    """Move a length, which then counts as assumed; nothing where none stands there."""
    held = draft.get(path)
    if isinstance(held, Entry):
        value = round(held.value + by_mm, 9)
        draft.put(path, held.model_copy(update={"value": value, "typed": plain(value, LENGTH), "outdated": told}))
