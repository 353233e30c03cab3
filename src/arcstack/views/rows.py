"""Fields and figures as rows of a page."""

from dataclasses import dataclass, field

from arcstack.assess.catalogue import figures, find
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Figure
from arcstack.document import FIELDS, NONE, SIDES, Absent, Build, Entry, Kind, Sitting, Stated, get, spoken, unsaid
from arcstack.document.places import count
from arcstack.drawings.sketches import SKETCHES
from arcstack.errors import Missing, NotFitted, NotKnown
from arcstack.units import Dimension, Shown, System, digits_in, show


@dataclass(frozen=True)
class FieldRow:
    """One field: what stands in it, its unit, the other unit beneath, and its origin.

    ``none`` says what it means that there is none, where that can be said; ``doubt`` why a figure is worth less than
    it says, ``said`` by whom and with what it was taken, ``sample`` at how many places of how many, ``note`` what the
    builder wrote to it; ``assumed`` the option that stands while nobody says which.
    """

    path: str
    label: str
    help: str
    kind: str
    text: str = ""
    unit: str = ""
    beneath: str = ""
    evidence: str = ""
    options: tuple[str, ...] = ()
    assumed: str = ""
    longest: int = 80
    none: str = ""
    doubt: str = ""
    said: str = ""
    sample: str = ""
    note: str = ""

    @property
    def measure(self) -> str:
        """The sort of figure that an instrument is named for; empty where none reads it."""
        return measure_of(self.path)

    @property
    def sketch(self) -> bool:
        """Whether there is a drawing of how it is taken."""
        side, _, tail = self.path.partition(".")
        return (tail if side in SIDES else self.path) in SKETCHES


@dataclass(frozen=True)
class FieldGroup:
    """Fields under one heading; ``part`` ties them to a part of the drawing."""

    title: str
    part: str
    help: str
    rows: list[FieldRow]


SAID = "said"
"""Shown for the origin of *none*: an answer that a hand gave."""

EVIDENCE = (*(e.value for e in Evidence), SAID)


def number_text(entry: Stated, dimension: Dimension, system: System) -> str:
    """The number to stand in the field: as typed where it was typed in the unit shown, else converted; or *none*."""
    if isinstance(entry, Absent):
        return NONE
    typed = digits_in(entry.typed, dimension, dimension.unit(system))
    if typed is not None:
        return typed
    extra = 1 if system is System.MM else 0
    return show(entry.value, dimension, system, extra).number.replace("−", "-").replace(",", "")


def beneath(entry: Stated, dimension: Dimension, system: System) -> str:
    """The text as typed where it was typed in another unit than shown, else the figure in the other system."""
    if isinstance(entry, Absent):
        return ""
    if digits_in(entry.typed, dimension, dimension.unit(system)) is None:
        return entry.typed
    if dimension.unit(System.MM) == dimension.unit(System.INCH):
        return ""
    return str(show(entry.value, dimension, system.other))


def measure_of(path: str) -> str:
    """The sort of figure that stands at a field: its dimension, or a table; empty for what no instrument reads.

    >>> measure_of("intake.stack.outer.solid"), measure_of("intake.stack.outer.table_from"), measure_of("head.marks")
    ('length', 'table', '')
    """
    spec = FIELDS.get(path)
    if spec is None:
        return ""
    if spec.quantity is not None:
        return spec.quantity.dimension.name.replace(" ", "_")
    name = path.rpartition(".")[2]
    return "table" if "table" in name else ""


def field_row(build: Build, path: str, system: System) -> FieldRow:
    spec = FIELDS[path]
    value = get(build, path)
    if spec.kind is not Kind.QUANTITY:
        longest = spec.words.longest if spec.words else 80
        kind = "day" if spec.words and spec.words.day else spec.kind.value
        silent = unsaid(build, path)
        return FieldRow(
            path, spec.label, spec.help, kind, "" if silent else str(value), options=spec.options,
            assumed=silent or spec.assumed, longest=longest, note=build.notes.get(path, ""),
        )  # fmt: skip
    assert spec.quantity is not None
    dimension = spec.quantity.dimension
    unit = dimension.unit(system)
    if not isinstance(value, Entry | Absent):
        return FieldRow(
            path, spec.label, spec.help, "quantity", unit=unit, evidence=spec.quantity.evidence.value, options=EVIDENCE,
            none=spec.quantity.none, note=build.notes.get(path, ""),
        )  # fmt: skip
    return FieldRow(
        path,
        spec.label,
        spec.help,
        "quantity",
        number_text(value, dimension, system),
        unit,
        beneath(value, dimension, system),
        SAID if isinstance(value, Absent) else value.stands.value,
        EVIDENCE,
        none=spec.quantity.none,
        doubt=value.doubt if isinstance(value, Entry) else "",
        said=said_by(value.by, isinstance(value, Absent)),
        sample=_sample(build, path, value),
        note=build.notes.get(path, ""),
    )


def said_by(by: Sitting | None, none: bool = False) -> str:
    """Who took a figure, with what and when, in a few words."""
    if by is None:
        return ""
    when = by.at.strftime("%-d %b %Y") if by.at else ""
    words = [by.hand] if none else [by.instrument, by.hand]
    return ", ".join(w for w in (*words, when) if w)


def _sample(build: Build, path: str, entry: Stated) -> str:
    """*1 of 8* beside a measured figure of something that stands at every valve."""
    if not FIELDS[path].each or isinstance(entry, Absent) or entry.stands is not Evidence.MEASURED:
        return ""
    return sample_words((1, count(build, path.split(".")[0])))


def sample_words(sample: tuple[int, int]) -> str:
    """At how many places of how many; not of how many while that is not known.

    >>> sample_words((1, 8)), sample_words((1, 0))
    ('1 of 8 measured', '1 measured, of the whole set')
    """
    count, of = sample
    return f"{count} of {of} measured" if of else f"{count} measured, of the whole set"


@dataclass(frozen=True)
class FigureRow:
    """One worked figure, or what it still needs."""

    name: str
    label: str
    shown: Shown | None
    other: str = ""
    weakest: str = ""
    proven: bool = False
    note: str = ""
    paper: str = ""
    needs: tuple[tuple[str, str], ...] = field(default=())


def shown(figure: Figure, system: System) -> Shown:
    """A figure as shown; what was not found the end of is *at least*."""
    text = show(figure.value, figure.dimension, system)
    return Shown(f"≥ {text.number}", text.unit) if figure.at_least else text


def other_unit(figure: Figure, system: System) -> str:
    """The figure in the other unit system, or an empty text where both use one unit."""
    dimension = figure.dimension
    if dimension.unit(System.MM) == dimension.unit(System.INCH):
        return ""
    return str(show(figure.value, dimension, system.other))


def needed(missing: Missing) -> str:
    """A missing input as it is asked for: which side and part it is of.

    >>> needed(Missing("intake.stack.inner.solid", "Solid height"))
    'intake inner spring, solid height'
    """
    return spoken(missing.path) if missing.path in FIELDS else missing.label.lower()


def figure_row(ctx: Context, name: str, system: System) -> FigureRow | None:
    """None for a figure of a part that is not fitted."""
    found, label = find(ctx, name), figures()[name].label
    if isinstance(found, NotFitted):
        return None
    if isinstance(found, NotKnown):
        return FigureRow(name, label, None, needs=tuple((m.path, needed(m)) for m in found.missing), note=found.why)
    return FigureRow(
        name,
        found.label,
        shown(found, system),
        other_unit(found, system),
        found.weakest.value,
        found.proven,
        found.note if found.formula else "",
        paper_words(found),
    )


def paper_words(figure: Figure) -> str:
    """Why a figure is on paper: its weakest origin, or how few places were measured."""
    if figure.weakest is Evidence.MEASURED and figure.covered is not None:
        return sample_words(figure.covered)
    return figure.weakest.value
