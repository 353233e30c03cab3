"""The build sheet: what was entered, every verdict with its evidence, and the section drawn."""

from collections.abc import Sequence

from arcstack.document import SIDES
from arcstack.drawings.section import section
from arcstack.formats.sheets import Block, Cell, Heading, Lines, Paragraph, Pictures, Printed, Table, Told
from arcstack.readings.pictured import SHOTS
from arcstack.sheets.entered import Line, engine, entered, of_side
from arcstack.sheets.photographs import photographs
from arcstack.sheets.saying import NONE, Printing, drawing, mark_drawings
from arcstack.trials.clearing import condition
from arcstack.units import System
from arcstack.views.drawn import drawn
from arcstack.views.margins import Gauge, margins
from arcstack.views.rows import FigureRow

MOST_PICTURES = 24


def build_sheet(p: Printing) -> Printed:
    """Everything of the build, on paper and as built."""
    design, system = p.here.design, p.say.system
    build = p.current.build
    blocks: list[Block] = []
    if build.note:
        blocks.append(Paragraph(build.note))
    marks = entered(build, ("head.", "job."))
    if marks:
        blocks += [Heading("Head and job"), _lines(marks)]
    blocks += [Heading("Brief and engine"), _lines(entered(build, ("brief.", "engine.", "turbo.")))]
    gauges, figures = engine(design, system, p.stages)
    if gauges:
        blocks.append(verdicts(p, gauges, "The engine, both sides"))
    if figures:
        blocks.append(_worked(p, figures))
    conditions = [c for ctx in design.sides.values() if (c := condition(ctx, system))]
    if conditions:
        blocks += [Heading("Conditions of release"), Told([f"{c[:1].upper()}{c[1:]}." for c in conditions])]
    for side in SIDES:
        blocks += _side(p, side, system)
    shots = photographs(p, lambda key: SHOTS.get(key, ""), MOST_PICTURES)
    if shots:
        blocks += [Heading("Photographs"), Pictures(shots, 4)]
    blocks.append(
        Paragraph(
            "Figures on paper are not measured. The maker’s data, local rules and licensed practice come first.",
            "note",
        )
    )
    return Printed("Build sheet", p.under, blocks, p.foot, dense=True, marks=mark_drawings())


def _side(p: Printing, side: str, system: System) -> list[Block]:
    design = p.here.design
    shown = of_side(design, side, system, p.stages)
    blocks: list[Block] = [Heading(side.capitalize())]
    made = drawn(lambda: section(design, side, system))
    if made is not None:
        blocks.append(drawing(made[0], "At full lift with the lash set.", 92.0, 14.0))
    for title, gauges in shown.verdicts:
        blocks.append(verdicts(p, gauges, title))
    blocks += [Heading("Entered", 2), _lines(shown.entered), Heading("Worked out", 2)]
    blocks.append(_worked(p, shown.figures))
    return blocks


def verdicts(p: Printing, gauges: list[Gauge], title: str) -> Table:
    """Verdicts with their figure, what it is held to, and whether it was measured."""
    other: dict[str, str] = {}
    if p.say.both:
        sides = {g.verdict.side for g in gauges} - {None}
        side = next(iter(sides)) if len(sides) == 1 else SIDES[0]
        other = {g.verdict.id: g.told for g in margins(p.here.design, side or SIDES[0], p.say.system.other)}
    rows = [
        [
            Cell(g.verdict.title, g.verdict.level, g.verdict.proven),
            Cell(p.say.figure(g.verdict.figure) if p.say.both else str(g.shown) if g.shown is not None else NONE),
            Cell(_both(g.told, other.get(g.verdict.id, ""))),
            Cell(g.verdict.evidence if g.verdict.judges else "shown only"),
        ]
        for g in gauges
    ]
    return Table((title, "Value", "Held to", "Evidence"), rows, (1,), widths=(3.2, 2.0, 4.2, 1.4), small=True)


def _both(told: str, other: str) -> str:
    return f"{told} ({other})" if other and other != told else told


def _worked(p: Printing, rows: Sequence[FigureRow]) -> Lines:
    def text(f: FigureRow) -> str:
        return f"{f.shown} ({f.other})" if p.say.both and f.other else str(f.shown)

    return Lines([(f.label, text(f), "proven" if f.proven else "on paper") for f in rows], 3)


def _lines(rows: list[Line]) -> Lines:
    return Lines([(r.label, r.text + (f" — {r.note}" if r.note else ""), r.evidence) for r in rows], 3)
