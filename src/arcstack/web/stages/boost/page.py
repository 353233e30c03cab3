"""Boost and back pressure: both rules, moved by supposing another turbine side."""

from flask import Blueprint, render_template, request

from arcstack.assess.context import known
from arcstack.trials.pressures import PULSE_RANGE, RATIO_RANGE, pressures_of, suppose
from arcstack.units import FORCE, GAUGE_PRESSURE, show
from arcstack.web.kit import asked
from arcstack.web.kit.session import assessed, current_system, workshop

blueprint = Blueprint(
    "boost", __name__, url_prefix="/builds/<int:build_id>/<side:side>/boost-what-if", template_folder="templates"
)


@blueprint.get("", endpoint="suppose")
def suppose_pressures(build_id: int, side: str) -> str:
    """Both rules on both sides at a supposed back pressure and pulse; nothing is stored."""
    current, system = workshop().open(build_id), current_system()
    ratio = asked.figure(request.args, "ratio", 1.3, *RATIO_RANGE)
    pulse = asked.figure(request.args, "pulse", 1.75, *PULSE_RANGE)
    rows = known(lambda: suppose(assessed(current), ratio, pulse))
    pressures = pressures_of(current.build, ratio, pulse)
    if rows is None or pressures is None:
        return render_template("parts/_told.html", words="Needs boost, head and stem diameters, and the springs.")
    back, peak = pressures
    return render_template(
        "boost/_supposed.html",
        rows=[(r, show(r.margin_N, FORCE, system)) for r in rows],
        back=show(back, GAUGE_PRESSURE, system),
        peak=show(peak, GAUGE_PRESSURE, system),
        lowest=RATIO_RANGE[0],
        highest=RATIO_RANGE[1],
    )
