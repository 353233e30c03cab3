"""A lift table as text: what was understood of it, and what was found wrong, by line."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from arcstack.errors import DocumentError
from arcstack.formats.number_grid import COMMENT, NUMBER_COMMA, NUMBER_POINT, grid_of
from arcstack.formats.text_table import text_of
from arcstack.mech.cam.law import Array
from arcstack.mech.cam.measured import TableFacts, off_neighbours, rolled, table_facts
from arcstack.settings import setting

LARGEST_TABLE = int(setting("import.largest_table"))

MOST_POINTS = int(setting("import.most_points"))


class AngleUnit(StrEnum):
    CAM = "cam degrees"
    CRANK = "crank degrees"


class LiftUnit(StrEnum):
    MM = "mm"
    INCH = "in"
    THOU = "thou"
    MICRON = "µm"


class Direction(StrEnum):
    AS_READ = "as read"
    TURNED = "turned over"


_MM = {LiftUnit.MM: 1.0, LiftUnit.INCH: 25.4, LiftUnit.THOU: 0.0254, LiftUnit.MICRON: 0.001}


@dataclass(frozen=True)
class Choices:
    """The reader's corrections; None leaves the matter to what the table shows."""

    angle_column: int | None = None
    lift_column: int | None = None
    angle_unit: AngleUnit | None = None
    lift_unit: LiftUnit | None = None
    direction: Direction | None = None
    base_mm: float | None = None


@dataclass(frozen=True)
class Finding:
    """Something to be told: ``wrong`` stops the table from being taken; ``line`` is 1 for the first."""

    message: str
    wrong: bool = False
    line: int | None = None


@dataclass(frozen=True)
class Reading:
    """What was understood. ``cam_rad`` and ``lift_mm`` are ready to be smoothed where nothing is wrong."""

    findings: tuple[Finding, ...]
    choices: Choices = Choices()
    separator: str = ""
    decimal: str = ""
    header: tuple[str, ...] = ()
    columns: int = 0
    rows: int = 0
    whole_turn: bool = False
    cam_rad: tuple[float, ...] = ()
    lift_mm: tuple[float, ...] = ()
    facts: TableFacts | None = None

    @property
    def sound(self) -> bool:
        return bool(self.cam_rad) and not any(f.wrong for f in self.findings)


def read_table(data: str | bytes, choices: Choices = Choices()) -> Reading:
    """Read a pasted or dropped table. Never raises: everything found is a finding with its line."""
    text = _text(data)
    if isinstance(text, Finding):
        return Reading((text,))
    grid = grid_of(text)
    if grid is None:
        return Reading((_no_table(text),))
    findings = [
        Finding(f"“{stray[:30]}” is no row of figures; it was left out", line=n) for n, stray in grid.strays[:5]
    ]
    if len(grid.strays) > 5:
        findings.append(Finding(f"{len(grid.strays) - 5} more lines were left out"))
    if len(grid.rows) > MOST_POINTS:
        findings.append(Finding(f"{len(grid.rows)} rows; thin the table to at most {MOST_POINTS}", wrong=True))
        return Reading(tuple(findings))
    values = np.array([row for _, row in grid.rows])
    lines = [n for n, _ in grid.rows]
    settled = _columns(values, grid.header, choices)
    shown = Reading(tuple(findings), settled, grid.separator, grid.decimal, grid.header, values.shape[1], len(values))
    assert settled.angle_column is not None
    if settled.lift_column is None:
        ask = f"which of the {values.shape[1]} columns is the lift cannot be told: say it above, and read it again"
        return replace(shown, findings=(*shown.findings, Finding(ask, wrong=True)))
    return _understood(shown, values[:, settled.angle_column], values[:, settled.lift_column], lines)


_NOT_TEXT = Finding("this is a picture or a program's own file, not text; export a table as text", wrong=True)


def _text(data: str | bytes) -> str | Finding:
    if len(data) > LARGEST_TABLE:
        return Finding(f"{len(data) / 1e6:.1f} MB; a lift table has less than {LARGEST_TABLE / 1e6:.0f}", wrong=True)
    try:
        text = text_of(data)
    except DocumentError:
        return _NOT_TEXT
    if not text.strip():
        return Finding("nothing to read: paste or drop a table of angle and lift", wrong=True)
    return _NOT_TEXT if sum(c == "\ufffd" for c in text) > 3 else text


def _no_table(text: str) -> Finding:
    lines = [line for line in text.splitlines() if line.strip() and not COMMENT.match(line)]
    single = sum(bool(NUMBER_POINT.match(x.strip()) or NUMBER_COMMA.match(x.strip())) for x in lines)
    if single > 0.6 * len(lines):
        return Finding("only one column of figures; a table needs the angle beside each lift", wrong=True)
    return Finding("no rows of figures found; a row is an angle and a lift", wrong=True)


_CRANK = r"crank|kurbel|\bkw\b|°kw|vilebrequin|cigüeñal|cigueñal|cigueña|albero motore|manovella|vevaxel|vev\b|krukas"
_CAM = r"\bcam|nocken|\bnw\b|°nw|arbre à cames|\bcames?\b|levas|camme|kamaxel|nokkenas"
_ANGLE = rf"deg|angle|angolo|ángulo|angulo|winkel|grad\b|vinkel|hoek|°|{_CRANK}|{_CAM}"
_LIFT = r"lift|hub\b|ventilhub|nockenhub|lev[ée]e|alzada|alzata|lyft|heffing"
_COUNTER = r"^\W*(no|nr|num|number|n|i|idx|index|point|pt|row|step|nummer|zeile|punkt|punto|ligne|#)\W*\d*$"
"""Words of a table's head, in the languages that cam cards and rigs come in."""


def _columns(values: Array, header: Sequence[str], choices: Choices) -> Choices:
    """Angle and lift columns: by the header's words, else by how they run; None where that cannot be told.

    A column that only counts the rows is neither. The lift is what rises once and comes back.
    """
    count = values.shape[1]
    words = [h.lower() for h in header] if len(header) == count else [""] * count
    free = [i for i in range(count) if not _counts(values[:, i], words[i], count)]

    def by_word(pattern: str, among: Sequence[int]) -> int | None:
        return next((i for i in among if re.search(pattern, words[i])), None)

    def runs(i: int) -> bool:
        steps = np.diff(values[:, i])
        return bool(np.mean(steps > 0) > 0.95 or np.mean(steps < 0) > 0.95)

    lift, angle = choices.lift_column, choices.angle_column
    if angle is not None and angle >= count:
        angle = None
    if lift is not None and (lift >= count or lift == angle):
        lift = None
    if lift is None:
        lift = by_word(_LIFT, [i for i in free if i != angle])
    if angle is None:
        rest = [i for i in free if i != lift]
        # of several that run, the one that says so
        angle = by_word(_ANGLE, [i for i in rest if runs(i)]) if any(words) else None
        angle = angle if angle is not None else next((i for i in rest if runs(i)), rest[0] if rest else 0)
    if lift is None:
        rest = [i for i in free if i != angle] or [i for i in range(count) if i != angle]
        humps = [i for i in rest if _is_hump(values[:, i])]
        lift = rest[0] if len(rest) == 1 else humps[0] if len(humps) == 1 else None
    return replace(choices, angle_column=angle, lift_column=lift)


def _counts(column: Array, word: str, columns: int) -> bool:
    """Whether a column only numbers the rows: by its word, or 1, 2, 3 … beside two others at least."""
    if columns < 3:
        return False
    return bool(re.search(_COUNTER, word)) or (
        not word and bool(np.all(np.diff(column) == 1.0)) and column[0] in (0, 1)
    )


def _is_hump(column: Array) -> bool:
    """Whether a column leaves one level and comes back to it once, as a lobe's lift does."""
    spread = float(np.ptp(column))
    if spread == 0.0 or abs(column[0] - column[-1]) > 0.1 * spread:
        return False
    high = np.abs(column - (column[0] + column[-1]) / 2.0) > 0.5 * spread
    return bool(np.sum(np.diff(high.astype(int)) == 1) == 1)


def _understood(shown: Reading, angle_deg: Array, lift: Array, lines: list[int]) -> Reading:
    findings = list(shown.findings)
    past = np.nonzero(np.abs(angle_deg - angle_deg[0]) > 720.5)[0]
    if len(past):
        at = lines[int(past[0])]
        findings.append(Finding("the angles run past 720°: more than one cycle is in the table", True, at))
        return replace(shown, findings=tuple(findings))
    steps = np.diff(angle_deg)
    falls = bool(np.mean(steps < 0) > 0.5)
    if falls:
        findings.append(Finding("the angles fall: it was turned the other way; the flanks were put in turning order"))
        angle_deg, lift, lines = -angle_deg, lift, lines
    angle_deg, lift, lines = _ordered(angle_deg, lift, lines, findings)
    if len(angle_deg) < 12:
        findings.append(Finding("fewer than twelve different angles are left", wrong=True))
        return replace(shown, findings=tuple(findings))
    angle_deg, lift, lines = _without_strays(angle_deg, lift, lines, findings, -1.0 if falls else 1.0)
    direction = shown.choices.direction or _direction(angle_deg, lift, findings)
    lift = -lift if direction is Direction.TURNED else lift
    unit = shown.choices.lift_unit or _lift_unit(lift, shown.header)
    lift_mm = lift * _MM[unit]
    angle_unit = shown.choices.angle_unit or _angle_unit(angle_deg, lift_mm, shown.header)
    turn_deg = 360.0 if angle_unit is AngleUnit.CAM else 720.0
    usual = float(np.median(np.diff(angle_deg)))
    whole = abs(angle_deg[-1] - angle_deg[0] + usual - turn_deg) < 2.5 * usual
    if whole:
        angle_deg, lift_mm = rolled(angle_deg, lift_mm, turn_deg)
    cam = np.radians(angle_deg) * (1.0 if angle_unit is AngleUnit.CAM else 0.5)
    facts = table_facts(cam, lift_mm)
    if shown.choices.base_mm is not None:
        moved = facts.base_mm - shown.choices.base_mm
        facts = replace(facts, base_mm=shown.choices.base_mm, lift_mm=facts.lift_mm + moved)
    findings += _judged(facts, cam, angle_unit, lines if not whole else None)
    return replace(
        shown,
        findings=tuple(findings),
        choices=replace(shown.choices, direction=direction, lift_unit=unit, angle_unit=angle_unit),
        whole_turn=bool(whole),
        cam_rad=tuple(float(a) for a in cam),
        lift_mm=tuple(float(x) for x in lift_mm - facts.base_mm),
        facts=facts,
    )


def _ordered(angle: Array, lift: Array, lines: list[int], findings: list[Finding]) -> tuple[Array, Array, list[int]]:
    """Rising angles, each once: a doubled row is averaged and told."""
    if np.any(np.diff(angle) < 0):
        back = int(np.nonzero(np.diff(angle) < 0)[0][0]) + 1
        findings.append(Finding("the angle steps back here; the rows were sorted", line=lines[back]))
    order = np.argsort(angle, kind="stable")
    angle, lift = angle[order], lift[order]
    lines = [lines[int(i)] for i in order]
    unique, first, counts = np.unique(angle, return_index=True, return_counts=True)
    if len(unique) < len(angle):
        at = int(first[int(np.nonzero(counts > 1)[0][0])])
        again = len(angle) - len(unique)
        findings.append(
            Finding(f"{again} doubled row{'s' if again > 1 else ''}, averaged; the first", line=lines[at + 1])
        )
        lift = np.add.reduceat(lift, first) / counts
        angle, lines = unique, [lines[int(i)] for i in first]
    return angle, lift, lines


STRAY = setting("import.stray")

MOST_STRAYS = int(setting("import.most_strays"))


def _without_strays(
    angle: Array, lift: Array, lines: list[int], findings: list[Finding], turned: float
) -> tuple[Array, Array, list[int]]:
    """The table less its readings that no lobe could have there: each is named, and stops the table.

    They leave before the unit and the sign are guessed, which one slipped decimal point would decide.
    """
    for _ in range(MOST_STRAYS):
        off, expected = off_neighbours(angle, lift)
        i = int(np.argmax(np.abs(off)))
        usual = 1.48 * float(np.median(np.abs(off)))
        if abs(off[i]) <= max(STRAY * float(np.ptp(np.delete(lift, i))), 12.0 * usual):
            break
        words = (
            f"at {turned * angle[i]:g}° the lift reads {lift[i]:g}, and its neighbours say about {expected[i]:.4g}:"
            " correct that reading, or delete its row, and read the table again"
        )
        findings.append(Finding(words, True, lines[i]))
        angle, lift, lines = np.delete(angle, i), np.delete(lift, i), lines[:i] + lines[i + 1 :]
    return angle, lift, lines


def _direction(angle_deg: Array, lift: Array, findings: list[Finding]) -> Direction:
    """A whole turn is mostly base circle; less than one starts and ends on it."""
    whole = np.ptp(angle_deg) > 345.0
    base = float(np.median(lift)) if whole else float((lift[0] + lift[-1]) / 2.0)
    if base - lift.min() > 3.0 * (lift.max() - base):
        findings.append(Finding("lift runs negative: the dial was set up the other way; the sign was turned over"))
        return Direction.TURNED
    return Direction.AS_READ


_UNIT_WORDS = (
    (LiftUnit.MICRON, r"µm|micron"),
    (LiftUnit.THOU, r"thou\b|\bmils?\b|0[.,]001\s*(in|\")"),
    (LiftUnit.MM, r"\bmm\b|millim"),
    (LiftUnit.INCH, r"\bin\b|inch|\"|zoll|pouce|pulgada|pollic"),
)


def _lift_unit(lift: Array, header: Sequence[str]) -> LiftUnit:
    words = " ".join(header).lower()
    for unit, spelled in _UNIT_WORDS:
        if re.search(spelled, words):
            return unit
    tall = float(np.ptp(lift))
    if tall < 1.2:
        return LiftUnit.INCH
    if tall < 30.0:
        return LiftUnit.MM
    return LiftUnit.THOU if tall < 1000.0 else LiftUnit.MICRON


def _angle_unit(angle_deg: Array, lift_mm: Array, header: Sequence[str]) -> AngleUnit:
    words = " ".join(header).lower()
    if re.search(_CRANK, words):
        return AngleUnit.CRANK
    if re.search(_CAM, words):
        return AngleUnit.CAM
    if np.ptp(angle_deg) > 375.0:
        return AngleUnit.CRANK
    # a lobe is over a tenth of its lift for some 90 to 150 cam degrees
    tenth = angle_deg[lift_mm - lift_mm.min() > 0.1 * np.ptp(lift_mm)]
    return AngleUnit.CRANK if np.ptp(tenth) > 165.0 and np.ptp(angle_deg) < 340.0 else AngleUnit.CAM


def _judged(facts: TableFacts, cam: Array, unit: AngleUnit, lines: list[int] | None) -> list[Finding]:
    found: list[Finding] = []
    shown = 1.0 if unit is AngleUnit.CAM else 2.0

    def deg(angle: float) -> str:
        return f"{math.degrees(angle) * shown:.1f}°"

    def line(i: int) -> int | None:
        return lines[i] if lines else None

    if len(facts.lobes) > 1:
        spans = " and ".join(f"{deg(cam[a])} to {deg(cam[b])}" for a, b in facts.lobes[:3])
        words = f"{len(facts.lobes)} lobes in one table ({spans}): keep one"
        found.append(Finding(words, True, line(facts.lobes[1][0])))
    for is_open, at, word in zip(facts.open_ends, (0, len(cam) - 1), ("starts", "ends"), strict=True):
        if is_open:
            words = f"the table {word} before the lift is back on the base circle: more rows are needed"
            found.append(Finding(words, True, line(at)))
    if not 0.5 < facts.lift_mm < 25.0:
        found.append(Finding(f"a lift of {facts.lift_mm:.3f} mm is no valve's: check the unit of the lift", True))
    for hole in facts.holes:
        found.append(
            Finding(f"no readings from {deg(hole.from_rad)} to {deg(hole.to_rad)}: the curve is a guess there")
        )
    if abs(facts.closing_mm) > max(0.02, 4.0 * facts.noise_mm):
        words = f"the base circle does not close: {facts.closing_mm:+.3f} mm from before the lobe to after it"
        found.append(Finding(words))
    return found
