"""Fields and figures as rows of a page."""

from dataclasses import dataclass, field

from arcstack.assess.context import Context, MissingInput, NotFitted
from arcstack.assess.figures import find
from arcstack.build import FIELDS, Build, Entry, Kind, get
from arcstack.checks import Evidence, Figure
from arcstack.units import Dimension, Shown, System, digits_in, show


@dataclass(frozen=True)
class FieldRow:
    """One field: what stands in it, its unit, the other unit beneath, and its origin."""

    path: str
    label: str
    help: str
    kind: str
    text: str = ""
    unit: str = ""
    beneath: str = ""
    evidence: str = ""
    options: tuple[str, ...] = ()
    longest: int = 80


@dataclass(frozen=True)
class FieldGroup:
    """Fields under one heading; ``part`` ties them to a part of the drawing."""

    title: str
    part: str
    help: str
    rows: list[FieldRow]


EVIDENCE = tuple(e.value for e in Evidence)


def number_text(entry: Entry, dimension: Dimension, system: System) -> str:
    """The number to stand in the field: as typed where it was typed in the unit shown, else converted."""
    typed = digits_in(entry.typed, dimension, dimension.unit(system))
    if typed is not None:
        return typed
    extra = 1 if system is System.MM else 0
    return show(entry.value, dimension, system, extra).number.replace("−", "-").replace(",", "")


def beneath(entry: Entry, dimension: Dimension, system: System) -> str:
    """The text as typed where it was typed in another unit than shown, else the figure in the other system."""
    if digits_in(entry.typed, dimension, dimension.unit(system)) is None:
        return entry.typed
    if dimension.unit(System.MM) == dimension.unit(System.INCH):
        return ""
    return str(show(entry.value, dimension, system.other))


def field_row(build: Build, path: str, system: System) -> FieldRow:
    spec = FIELDS[path]
    value = get(build, path)
    if spec.kind is not Kind.QUANTITY:
        longest = spec.words.longest if spec.words else 80
        return FieldRow(path, spec.label, spec.help, spec.kind.value, str(value), options=spec.options, longest=longest)
    assert spec.quantity is not None
    dimension = spec.quantity.dimension
    unit = dimension.unit(system)
    if not isinstance(value, Entry):
        return FieldRow(
            path, spec.label, spec.help, "quantity", unit=unit, evidence=spec.quantity.evidence.value, options=EVIDENCE
        )
    return FieldRow(
        path,
        spec.label,
        spec.help,
        "quantity",
        number_text(value, dimension, system),
        unit,
        beneath(value, dimension, system),
        value.evidence.value,
        EVIDENCE,
    )


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
    needs: tuple[tuple[str, str], ...] = field(default=())


def other_unit(figure: Figure, system: System) -> str:
    """The figure in the other unit system, or an empty text where both use one unit."""
    dimension = figure.dimension
    if dimension.unit(System.MM) == dimension.unit(System.INCH):
        return ""
    return str(show(figure.value, dimension, system.other))


def figure_row(ctx: Context, name: str, label: str, system: System) -> FigureRow | None:
    """None for a figure of a part that is not fitted."""
    found = find(ctx, name)
    if isinstance(found, NotFitted):
        return None
    if isinstance(found, MissingInput):
        return FigureRow(name, label, None, needs=tuple((m.path, m.label) for m in found.missing), note=found.why)
    if isinstance(found, str):
        return FigureRow(name, label, None, note=found)
    return FigureRow(
        name,
        found.label,
        show(found.value, found.dimension, system),
        other_unit(found, system),
        found.weakest.value,
        found.proven,
        found.note if found.formula else "",
    )


FIGURE_LABELS = {
    "lift.gross": "Lift before lash",
    "lift.net": "Net lift",
    "cam.centreline": "Centreline",
    "cam.curve": "Lift curve",
    "follower.ratio": "Follower ratio",
    "follower.eccentricity": "Contact off centre, most",
    "timing.overlap": "Overlap at 1 mm net, phased",
    "stack.installed_height": "Installed height",
    "stack.inner_height": "Installed height, inner",
    "spring.seat_load": "Seat load",
    "spring.open_load": "Open load",
    "spring.rate": "Rate of the pack",
    "spring.moving_mass": "Moving mass",
    "spring.reserve.outer": "Reserve, outer",
    "spring.reserve.inner": "Reserve, inner",
    "stack.retainer_seal": "Retainer to seal",
    "gas.back_pressure": "Back pressure, mean gauge",
    "gas.pulse_peak": "Exhaust pulse peak, gauge",
    "gas.usual_load": "Usual seat load, no boost",
    "gas.boost_rule_force": "Boost rule force",
    "gas.difference_force": "Difference rule force",
    "control.separation_alone": "Separation, spring alone",
    "control.separation_gas": "Separation, gas taken off",
    "control.reserve_limiter": "Force reserve at limiter",
    "control.reserve_overspeed": "Force reserve at overspeed",
    "spring.seat_settled": "Seat load, settled",
    "spring.open_settled": "Open load, settled",
    "spring.stress.seat_outer": "Shear at the seat, outer",
    "spring.stress.outer": "Shear at full lift, outer",
    "spring.stress.seat_inner": "Shear at the seat, inner",
    "spring.stress.inner": "Shear at full lift, inner",
    "spring.fatigue.outer": "Fatigue factor, outer",
    "spring.fatigue.inner": "Fatigue factor, inner",
    "spring.surge.outer": "Surge frequency, outer",
    "spring.surge.inner": "Surge frequency, inner",
    "spring.surge_order": "Surge order at the limiter",
    "spring.nest_gap": "Gap between the springs",
    "spring.friction": "Friction in the pack",
    "gas.opening_load": "Gas against opening",
    "control.separation_settled": "Separation, springs settled",
    "control.least_overspeed": "Least contact force, overspeed",
    "elastic.separation": "Parts at",
    "elastic.peak_contact": "Peak contact force, limiter",
    "elastic.seating": "Seating velocity, rated speed",
    "elastic.bounce": "Bounce at the limiter",
    "elastic.load_lost": "Load lost to surge, limiter",
    "price.nose_pressure": "Nose pressure, usual speed",
    "price.torque": "Cam torque, one lobe",
    "price.friction": "Friction power, one valve",
    "price.friction_head": "Friction power, this side",
    "piston.drop": "Drop at TDC",
    "piston.parked": "Least gap, parked",
    "piston.swept": "Least gap, phaser swept",
}
