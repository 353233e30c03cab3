"""How a sheet says a figure, draws a mark, and takes a drawing along."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC
from functools import cache
from importlib import resources
from typing import Protocol

from arcstack import __version__
from arcstack.application import Current, Shop
from arcstack.application.head import Opened, opened
from arcstack.checks import Figure, Level
from arcstack.document import FIELDS, SIDES, Entry, get
from arcstack.drawings import marks
from arcstack.formats.sheets import Drawing
from arcstack.readings.recorded import Released, release
from arcstack.units import Dimension, System, show
from arcstack.views.rows import shown

NONE = "–"


@dataclass(frozen=True)
class Say:
    """One unit system, or both, the second in brackets."""

    system: System
    both: bool = False

    def value(self, value: float | None, dimension: Dimension) -> str:
        """A figure with its unit; a dash for none."""
        if value is None:
            return NONE
        first = str(show(value, dimension, self.system))
        if not self.both or dimension.unit(System.MM) == dimension.unit(System.INCH):
            return first
        return f"{first} ({show(value, dimension, self.system.other)})"

    def bare(self, value: float | None, dimension: Dimension) -> str:
        """The same without its unit, for a column that names it once; both systems one over the other."""
        if value is None:
            return NONE
        first = show(value, dimension, self.system).number
        if not self.both or dimension.unit(System.MM) == dimension.unit(System.INCH):
            return first
        return f"{first}\n{show(value, dimension, self.system.other).number}"

    def figure(self, figure: Figure | None) -> str:
        """A worked figure, *at least* where its end was not found."""
        if figure is None:
            return NONE
        if not self.both:
            return str(shown(figure, self.system))
        return f"{'≥ ' if figure.at_least else ''}{self.value(figure.value, figure.dimension)}"

    def unit(self, dimension: Dimension) -> str:
        """The unit of a column."""
        first = dimension.unit(self.system)
        other = dimension.unit(self.system.other)
        return f"{first}, {other}" if self.both and first != other else first


_COLOURS = {
    Level.CLEAR: ("#2c6e49", "#2c6e49"), Level.TIGHT: ("#8a5600", "#d08a10"), Level.FAIL: ("#b3261e", "#b3261e"),
    Level.OPEN: ("#59626b", "#59626b"), Level.WAIVED: ("#1d2329", "#ffffff"),
}  # fmt: skip


@cache
def mark_drawings() -> dict[str, str]:
    """Every mark as SVG that stands by itself, by level and ``proven`` or ``paper``."""
    found = {}
    for level, (line, fill) in _COLOURS.items():
        for proven in (True, False):
            inside = fill if proven and level is not Level.OPEN else "none"
            dashes = "" if proven else ' stroke-dasharray="3 1.7"'
            bar = "#ffffff" if proven and level is Level.FAIL else line
            shape = marks.shape(level).replace('class="bar"', f'stroke-dasharray="none" stroke="{bar}"')
            found[f"{level.value}-{'proven' if proven else 'paper'}"] = (
                f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 18 18" fill="{inside}" stroke="{line}" '
                f'stroke-width="1.8"{dashes}>{shape}</svg>'
            )
    return found


@cache
def _drawing_css() -> str:
    return (resources.files("arcstack.sheets") / "drawing.css").read_text("utf-8")


def drawing(svg: object, words: str, height_mm: float, margin: float = 0.0) -> Drawing:
    """A drawing of a page, with what it needs on paper."""
    return Drawing(str(svg), words, height_mm, _drawing_css(), margin)


class StageShown(Protocol):
    """What a sheet knows of a stage: its name and title, whether verdicts stand on it, and its figures."""

    @property
    def name(self) -> str: ...

    @property
    def title(self) -> str: ...

    @property
    def judged(self) -> bool: ...

    @property
    def figures(self) -> tuple[tuple[str, str], ...]: ...


@dataclass(frozen=True)
class Printing:
    """What a sheet is made of: the head as it stands, or as it was signed; and how its figures are said."""

    here: Opened
    say: Say
    signed: Released | None
    by: str
    stages: Sequence[StageShown]
    language: str = "en"

    @property
    def current(self) -> Current:
        return self.here.current

    def entry(self, path: str) -> str:
        """What stands in a field of the document, as the sheet says it; empty where nothing does."""
        entry, quantity = get(self.current.build, path), FIELDS[path].quantity
        if not isinstance(entry, Entry) or quantity is None:
            return ""
        return self.say.value(entry.value, quantity.dimension)

    @property
    def foot(self) -> str:
        practice = self.here.design.practice
        signed = f" · signed {_day(self.signed)}" if self.signed is not None else ""
        return (
            f"Arc Stack {__version__} · {self.current.build.name} · revision {self.current.revision}{signed} · "
            f"{practice.name}, version {practice.version}"
        )

    @property
    def under(self) -> list[str]:
        build = self.current.build
        marks_ = [t for t in (build.head.number, build.head.marks, build.head.casting) if t]
        job = [t for t in (build.job.customer, f"job {build.job.number}" if build.job.number else "") if t]
        changed = self.here.shop.workshop.row(self.current.id).changed.replace(tzinfo=UTC).astimezone()
        return [
            " · ".join(t for t in (build.name, ", ".join(marks_), *job) if t),
            f"Revision {self.current.revision}, {changed:%-d %B %Y, %H:%M} · printed by {self.by}",
        ]


def _day(made: Released) -> str:
    at = made.by.at
    return f"{at.astimezone():%-d %B %Y} by {made.by.hand}" if at is not None else f"by {made.by.hand}"


def printing(
    shop: Shop, build_id: int, say: Say, by: str, stages: Sequence[StageShown], language: str = "en"
) -> Printing:
    """A head as it was signed where it is, else as it stands; ``by`` is whose hand prints it. Raises ``NotFound``."""
    here = opened(shop, build_id, SIDES[0])
    made = release(here.sheet.events)
    if made is None:
        return Printing(here, say, None, by, stages, language)
    current = shop.workshop.open(build_id, made.revision)
    sheet = shop.bench.sheet_at(build_id, current.build, (made.readings, made.events))
    return Printing(replace(here, current=current, sheet=sheet), say, made, by, stages, language)
