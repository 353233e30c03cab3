"""The window of seat load and rate, packs of the shelf through it, and the spring to ask a maker for."""

from flask import Blueprint, render_template

from arcstack.drawings.window import window_drawing
from arcstack.errors import NotKnown
from arcstack.trials.window import Wanted, Window, window
from arcstack.units import FORCE, FREQUENCY, LENGTH, RATE, System, show
from arcstack.web.frame.around import around
from arcstack.web.kit.session import assessed, current_system, part_shelf, workshop

blueprint = Blueprint("window", __name__, url_prefix="/builds/<int:build_id>/<side:side>/window")


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """The page; what takes longer comes in after it."""
    current, system = workshop().open(build_id), current_system()
    return render_template("window/index.html", **around(current, side, assessed(current), system), title="Parts")


@blueprint.get("/worked")
def worked(build_id: int, side: str) -> str:
    current, system = workshop().open(build_id), current_system()
    ctx = assessed(current).sides[side]
    try:
        found = window(ctx, part_shelf().offered())
    except NotKnown as told:
        return render_template("window/_worked.html", found=None, told=told, build_id=build_id, side=side)
    return render_template(
        "window/_worked.html",
        found=found,
        told=None,
        drawing=window_drawing(found, system),
        rows=_rows(found, system),
        wanted=_wanted(found.wanted, system) if found.wanted else [],
        name=current.build.name,
        build_id=build_id,
        side=side,
    )


def _rows(found: Window, system: System) -> list[tuple[str, str, str, str, str, bool, bool]]:
    """Each pack: its rate, where it stands, and how far it goes either way."""
    return [
        (
            p.name, str(show(p.rate_N_per_mm, RATE, system)), str(show(p.at_N, FORCE, system)),
            f"{show(p.low_N, FORCE, system)}, {p.ends[0]}", f"{show(p.high_N, FORCE, system)}, {p.ends[1]}", p.holds,
            p.fitted,
        )
        for p in sorted(found.packs, key=lambda p: (not p.fitted, not p.holds, p.rate_N_per_mm))
    ]  # fmt: skip


def _wanted(w: Wanted, system: System) -> list[tuple[str, str]]:
    """What to ask a maker for, as lines of an order."""

    def length(value: float | None) -> str:
        return str(show(value, LENGTH, system)) if value is not None else "not known"

    low, high = (show(v, FORCE, system) for v in w.seat_range_N)
    rows = [
        ("Installed height", length(w.height_mm)),
        ("Lift", length(w.lift_mm)),
        ("Load, installed", f"{show(w.seat_N, FORCE, system)} ({low} to {high} will do)"),
        ("Load, open", str(show(w.open_N, FORCE, system))),
        ("Rate", str(show(w.rate_N_per_mm, RATE, system))),
        ("Solid height, at most", length(w.solid_mm)),
        ("Outside diameter, at most", length(w.outside_mm)),
        ("Inside diameter, at least", length(w.inside_mm)),
    ]
    if w.surge_Hz is not None:
        rows.append(("Surge frequency, at least", str(show(w.surge_Hz, FREQUENCY, system))))
    return rows
