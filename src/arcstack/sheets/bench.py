"""The bench sheet: one row for every valve, measured figures only."""

from arcstack.assess.built import Stand
from arcstack.checks import Level
from arcstack.document import SIDES, Entry, get
from arcstack.document.places import Place
from arcstack.drawings.head_map import Cell as MapCell
from arcstack.drawings.head_map import State, head_map
from arcstack.formats.sheets import Block, Cell, Heading, Lines, Paragraph, Printed, Table, Told
from arcstack.readings.asked import ASKED
from arcstack.readings.sheet import Settled
from arcstack.record.owed import titled
from arcstack.sheets.saying import NONE, Printing, drawing, mark_drawings
from arcstack.units import LENGTH, Dimension, show

_READ = (
    ("seat_width", "Seat"), ("vacuum", "Vacuum"), ("vacuum_later", "after 10 s"), ("tip_height", "Tip"),
    ("open_height", "Open"), ("shims", "Shims"), ("installed_height", "Installed"),
)  # fmt: skip
_WORKED = (
    ("guide.clearance", "Guide"), ("spring.seat_load", "Seat load"), ("spring.open_load", "Open load"),
    ("spring.reserve.outer", "Res. outer"), ("spring.reserve.inner", "Res. inner"), ("stack.retainer_seal", "To seal"),
)  # fmt: skip

_WIDE = {
    "Valve": 0.75,
    "Serials": 1.7,
    "Solid": 1.5,
    "Lash": 2.0,
    "Open load": 1.15,
    "Res. outer": 1.2,
    "Res. inner": 1.2,
}
"""How wide a column is against the others."""


def bench_sheet(p: Printing) -> Printed:
    """One row for every valve: its items, what was read and what that comes to, lash as found and as it stands."""
    here, blocks = p.here, list[Block]()
    counts = here.rest
    blocks.append(drawing(_map(p), "Cylinders side by side, intake above; in each what stands worst.", 38.0))
    for side in SIDES:
        places = [q for q in here.sheet.places if q.side == side]
        if not places:
            continue
        heads = [
            "Valve",
            "Serials",
            *(name for _, name in _READ),
            *(name for _, name in _WORKED),
            "Solid",
            "Lash",
            "Mass",
            "Worst",
        ]
        rows = [_row(p, side, place) for place in places]
        keep = [n for n in range(len(heads)) if n in (0, len(heads) - 1) or any(r[n].text != NONE for r in rows)]
        units = _units(p, side)
        named = [f"{heads[n]}{f' {units[n]}' if units.get(n) else ''}" for n in keep]
        blocks.append(Heading(f"{side.capitalize()}, {len(places)} valves"))
        blocks.append(
            Table(
                named,
                [[r[n] for n in keep] for r in rows],
                tuple(range(2, len(keep) - 1)),
                small=True,
                widths=[_WIDE.get(heads[n], 1.0) for n in keep],
            )
        )
    blocks += _foot(p, len(counts))
    return Printed("Bench sheet", p.under, blocks, p.foot, wide=True, marks=mark_drawings())


def _units(p: Printing, side: str) -> dict[int, str]:
    """The unit of each column, by its place in the row."""
    build, found = p.current.build, {}
    for n, (key, _) in enumerate(_READ):
        found[2 + n] = p.say.unit(ASKED[key].quantity(build, side).dimension)
    for n, (check, _) in enumerate(_WORKED):
        across = next((a for a in p.here.built.sides[side] if a.check == check), None)
        figure = next((v.figure for _, v in across.at if v.figure is not None), None) if across else None
        found[2 + len(_READ) + n] = p.say.unit(figure.dimension) if figure is not None else ""
    at = 2 + len(_READ) + len(_WORKED)
    found[at], found[at + 1] = p.say.unit(LENGTH), p.say.unit(LENGTH)
    found[at + 2] = p.say.unit(ASKED["valve_mass"].quantity(build, side).dimension)
    return found


def _row(p: Printing, side: str, place: Place) -> list[Cell]:
    sheet, build = p.here.sheet, p.current.build
    serials = [i for sort in ("valve", "outer", "inner") if (i := sheet.item_at(place.label, sort))]
    cells = [Cell(place.label, strong=True), Cell(" ".join(serials) or NONE)]
    for key, _ in _READ:
        cells.append(Cell(_read(p, sheet.settled(place, key), ASKED[key].quantity(build, side).dimension)))
    for check, _ in _WORKED:
        stand = _stand(p, side, check, place)
        figure = stand.verdict.figure if stand is not None and stand.begun else None
        text = p.say.bare(figure.value, figure.dimension) if figure is not None else NONE
        cells.append(
            Cell(text, stand.verdict.level, stand.verdict.proven) if figure is not None and stand else Cell(text)
        )
    solids = [
        _read(p, s, LENGTH)
        for sort in ("outer", "inner")
        if (item := sheet.item_at(place.label, sort)) and (s := sheet.of_item(item, f"{sort}.solid")) is not None
    ]
    cells.append(Cell(" / ".join(solids) or NONE))
    cells.append(Cell(_lash(p, place)))
    mass = ASKED["valve_mass"].quantity(build, side).dimension
    cells.append(Cell(_read(p, sheet.settled(place, "valve_mass"), mass)))
    level, proven = _worst(p, side, place)
    cells.append(Cell(level.value, level, proven))
    return cells


def _read(p: Printing, settled: Settled | None, dimension: Dimension) -> str:
    """What was read: in brackets where it no longer holds, starred where no instrument read it."""
    if settled is None:
        return NONE
    text = p.say.bare(settled.value, dimension)
    text = f"({text})" if settled.stale else text
    return text if settled.measured else f"{text} *"


def _stand(p: Printing, side: str, check: str, place: Place) -> Stand | None:
    across = next((a for a in p.here.built.sides[side] if a.check == check), None)
    return next((s for s in across.stands if s.place == place), None) if across is not None else None


def _lash(p: Printing, place: Place) -> str:
    """As it was found and as it was left, of its target; in both systems line under line."""
    entry = get(p.current.build, f"{place.side}.cam.lash")
    stages = p.here.sheet.lash_of(place).stages
    if not stages:
        return NONE
    systems = (p.say.system, p.say.system.other) if p.say.both else (p.say.system,)
    rows = []
    for system in systems:
        found, left_at = (show(mm, LENGTH, system).number for mm in (stages[-1].found_mm, stages[-1].set_mm))
        target = show(entry.value, LENGTH, system).number if isinstance(entry, Entry) else NONE
        rows.append(f"{found} → {left_at} of {target}" if found != left_at else f"{left_at} of {target}")
    return "\n".join(rows)


def _worst(p: Printing, side: str, place: Place) -> tuple[Level, bool]:
    own = [v for a in p.here.built.sides[side] for q, v in a.at if q == place and v.judges]
    if not own:
        return Level.OPEN, False
    worst = max(own, key=lambda v: v.level.severity)
    return worst.level, all(v.proven for v in own)


def _map(p: Printing) -> str:
    cells = []
    unread = {x.spot.place.label for x in p.here.rest}
    stale = {x.spot.place.label for x in p.here.rest if x.why.startswith("stale")}
    for place in p.here.sheet.places:
        level, _ = _worst(p, place.side, place)
        state = State.OUT if level is Level.FAIL else State.STALE if place.label in stale else State.READ
        state = State.EMPTY if place.label in unread and state is State.READ else state
        cells.append(MapCell(place, state, level.value))
    return str(head_map(cells, "The head, and what stands worst at each valve"))


def _foot(p: Printing, unread: int) -> list[Block]:
    sheet = p.here.sheet
    tools = list(dict.fromkeys(r.by.instrument for r in sheet.standing if r.by.instrument))
    hands = list(dict.fromkeys(r.by.hand for r in sheet.standing))
    days = sorted(r.by.at.date().isoformat() for r in sheet.standing if r.by.at is not None)
    rows = [
        ("Instruments", ", ".join(tools) or NONE, ""),
        ("Hands", ", ".join(hands) or NONE, ""),
        ("Read", f"{days[0]} to {days[-1]}" if days else NONE, ""),
        ("Not measured", f"{unread} readings", "still to take" if unread else ""),
    ]
    found: list[Block] = [Heading("How it was measured"), Lines(rows, 2)]
    waivers = [
        f"{titled(w.check)} at {w.place or w.side or 'the head'}: {w.by.hand}, until {w.until}: {w.reason}"
        for w in sheet.waivers
    ]
    if waivers:
        found += [Heading("Let pass by name"), Told(waivers)]
    found.append(
        Paragraph(
            "In brackets: stale, to be read again. *: laid down without an instrument. A dash was not measured. "
            "Lash: found → left, of its target.",
            "note",
        )
    )
    return found
