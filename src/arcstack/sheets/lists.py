"""Lists to work by: springs wanted, orders, assembly, timing."""

from datetime import UTC, datetime

from arcstack.assembly.counts import counts_of
from arcstack.assembly.progress import standings
from arcstack.assembly.steps import tools_of
from arcstack.assess.catalogue import find
from arcstack.checks import Figure
from arcstack.document import SIDES
from arcstack.document.parts import Pack
from arcstack.formats.sheets import Block, Cell, Heading, Lines, Paragraph, Printed, Sign, Table, Told
from arcstack.readings.assembling import State
from arcstack.record.orders import lines
from arcstack.sheets.saying import NONE, Printing, mark_drawings
from arcstack.trials.mocked import mocked


def _figure(p: Printing, side: str, name: str) -> str:
    found = find(p.here.design.sides[side], name)
    return p.say.figure(found) if isinstance(found, Figure) else NONE


def springs_sheet(p: Printing) -> Printed:
    """What springs must be, for whoever makes or sells them."""
    blocks: list[Block] = []
    for side in SIDES:
        stack = p.current.build.side(side).stack
        own = [q for q in p.here.sheet.places if q.side == side]
        names = ("outer",) if stack.pack is Pack.SINGLE else ("outer", "inner")
        blocks.append(Heading(f"{side.capitalize()}: {len(own) or 'so many as there are'} sets"))
        blocks.append(
            Lines(
                [
                    ("Installed height", _figure(p, side, "stack.installed_height"), "outer"),
                    ("Net lift", _figure(p, side, "lift.net"), ""),
                    ("Seat load, whole pack", _figure(p, side, "spring.seat_load"), ""),
                    ("Open load, whole pack", _figure(p, side, "spring.open_load"), ""),
                ],
                2,
            )
        )
        rows = []
        for label, tail in (
            ("Free length", "free_length"), ("Outside", "outside"), ("Wire", "wire"),
            ("Rate", "rate"), ("Coils, total", "coils"), ("First height", "height_1"), ("Load there", "load_1"),
            ("Second height", "height_2"), ("Load there", "load_2"), ("Solid, at most", "solid"), ("Mass", "mass"),
        ):  # fmt: skip
            cells = [p.entry(f"{side}.stack.{n}.{tail}") or NONE for n in names]
            if any(c != NONE for c in cells):
                rows.append([Cell(label), *(Cell(c) for c in cells)])
        blocks.append(
            Table(
                ("Figure", *(n.capitalize() for n in names)),
                rows,
                tuple(range(1, len(names) + 1)),
                widths=(2.0, *(1.2 for _ in names)),
            )
        )
        for n in names:
            tallest = _figure(p, side, f"bench.tallest_solid.{n}")
            if tallest != NONE:
                blocks.append(Paragraph(f"No {n} spring of the set may be taller at solid than {tallest}."))
    blocks.append(
        Paragraph(
            "Each spring is tested: its load at both heights, and its solid height, are sent with it by serial.", "note"
        )
    )
    return Printed("Springs wanted", p.under, blocks, p.foot, marks=mark_drawings())


def order_sheet(p: Printing) -> Printed:
    """Every line on order, with what it is measured against when it comes."""
    rows = []
    for x in lines(p.here.sheet.events):
        late = x.late(datetime.now(UTC).date())
        rows.append(
            [
                Cell(str(x.order.count)),
                Cell(x.order.part + (f", substitute {x.substitute.part}" if x.substitute else "")),
                Cell(", ".join(x.order.places) or NONE), Cell(x.order.why), Cell(x.order.supplier or NONE),
                Cell(x.order.day), Cell((x.order.due or NONE) + (f", {late} days late" if late else "")),
                Cell(x.order.figure or NONE), Cell(x.state.value, strong=x.open),
                Cell(f"{x.order.price:,.2f}" if x.order.price is not None else NONE),
            ]
        )  # fmt: skip
    blocks: list[Block] = []
    if rows:
        heads = ("No.", "Part", "For", "Why", "Supplier", "Ordered", "Due", "Measured against", "Stands", "Price")
        blocks.append(Table(heads, rows, (0, 9), small=True, widths=(0.5, 2.2, 1.4, 1.6, 1.6, 1.2, 1.4, 2, 1.4, 1)))
    else:
        blocks.append(Paragraph("Nothing was ordered for this head."))
    return Printed("Order list", p.under, blocks, p.foot, wide=True, marks=mark_drawings())


def assembly_sheet(p: Printing) -> Printed:
    """The steps of this head with boxes to tick, its tools, and the counts that must close."""
    sheet = p.here.sheet
    blocks: list[Block] = [Heading("Tools"), Told(list(tools_of(sheet).values()), ticks=True), Heading("Steps")]
    for n, s in enumerate(standings(sheet), 1):
        done = f" (done, {s.by.hand})" if s.state is State.DONE and s.by is not None else ""
        blocks.append(Heading(f"{n}  {s.step.title}{done}", 2))
        blocks += [Paragraph(c, "caution") for c in s.step.cautions]
        blocks.append(Told(s.step.do, ticks=s.state is not State.DONE))
        counts = counts_of(s.step, sheet, s.fields)
        if counts:
            blocks.append(
                Lines(
                    [
                        (c.title, f"____ of {c.wanted}" if c.wanted is not None else f"____ ({c.why})", "")
                        for c in counts
                    ],
                    2,
                )
            )
        asked = [f for f in s.step.fields if f.kind in ("torque", "number", "text")]
        if asked:
            blocks.append(Lines([(f.label, s.fields.get(f.key, "") or "________", "") for f in asked], 2))
    blocks += [
        Paragraph("Torques, fluids and sequences are the engine maker’s: none are printed here.", "note"),
        Sign([("Assembled by", ""), ("Counted by another hand", ""), ("Day", "")]),
    ]
    return Printed("Assembly list", p.under, blocks, p.foot, marks=mark_drawings())


def timing_sheet(p: Printing) -> Printed:
    """What the cams are timed to, what was read, and what the phaser may still do."""
    blocks: list[Block] = []
    for side in SIDES:
        blocks.append(Heading(side.capitalize()))
        rows = [
            ("Cam", p.current.build.side(side).cam.code or NONE, ""),
            ("Centreline", _figure(p, side, "cam.centreline"), ""),
            ("Lift at the valve, net", _figure(p, side, "lift.net"), ""),
            ("Lash, cold", p.entry(f"{side}.cam.lash") or NONE, ""),
            ("Least gap to the piston, parked", _figure(p, side, "piston.parked"), ""),
            ("Least gap, phaser swept", _figure(p, side, "piston.swept"), ""),
            ("Phaser permitted", _figure(p, side, "piston.permitted"), ""),
        ]
        blocks.append(Lines(rows, 2))
        made = mocked(p.here.design, p.here.sheet, side)
        if not made.mock.begun:
            blocks.append(Paragraph("Not turned by hand yet: nothing here was measured.", "caution"))
            continue
        verdicts = [v for v in made.verdicts if v.figure is not None]
        if verdicts:
            blocks.append(
                Table(
                    ("Measured by hand", "Value", "Stands"),
                    [
                        [Cell(v.title, v.level, v.proven), Cell(p.say.figure(v.figure)), Cell(v.level.value)]
                        for v in verdicts
                    ],
                    (1,),
                    widths=(3, 2, 2),
                )
            )
        if made.against:
            blocks += [Heading("Still stands against it", 2), Told([f"{w[:1].upper()}{w[1:]}." for w in made.against])]
    blocks += [
        Paragraph("Turn the engine by hand two full turns with both cams timed before any starter is used.", "caution"),
        Sign([("Timed by", ""), ("Turned over by hand by", ""), ("Day", "")]),
    ]
    return Printed("Timing sheet", p.under, blocks, p.foot, marks=mark_drawings())
