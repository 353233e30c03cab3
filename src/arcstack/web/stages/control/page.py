"""Control: the map, the sweep and the trace, worked in the background and shown as they come."""

from dataclasses import dataclass

from flask import Blueprint, render_template, request

from arcstack.application import State
from arcstack.assess import elastic
from arcstack.assess.context import Context, ask, known
from arcstack.drawings.force_map import ForceMap, force_map
from arcstack.dynamics import warm
from arcstack.dynamics.motion import FASTEST_RPM, SLOWEST_RPM, AtSpeed, at_speed, trace
from arcstack.dynamics.question import Question, Run
from arcstack.dynamics.sweep import speeds_rpm
from arcstack.errors import NotKnown
from arcstack.trials import raising
from arcstack.units import FORCE, LENGTH, SPEED, VELOCITY, Dimension, show
from arcstack.views.drawn import drawn
from arcstack.web.kit import asked
from arcstack.web.kit.progress import waiting
from arcstack.web.kit.session import assessed, current_system, sweeps, workshop
from arcstack.web.stages.control.charts import coil_frames, sweep_chart, trace_chart

blueprint = Blueprint(
    "control", __name__, url_prefix="/builds/<int:build_id>/<side:side>/train", template_folder="templates"
)


def _ctx(build_id: int, side: str) -> Context:
    return assessed(workshop().open(build_id)).sides[side]


def made_map(ctx: Context, with_gas: bool) -> ForceMap | None:
    return drawn(lambda: force_map(ctx, with_gas, current_system()))


@blueprint.get("/map")
def show_map(build_id: int, side: str) -> str:
    ctx = _ctx(build_id, side)
    return render_template("control/_map.html", map=made_map(ctx, request.args.get("gas", "") != "off"))


@dataclass(frozen=True)
class TraceRow:
    """One figure at the speed shown, and the band that is left open."""

    label: str
    text: str
    band: str


_ROWS: tuple[tuple[str, Dimension, str], ...] = (
    ("Gap, valve off cam", LENGTH, "separation_mm"),
    ("Peak contact force", FORCE, "peak_contact_N"),
    ("Least on the lobe", FORCE, "min_contact_N"),
    ("Seating velocity", VELOCITY, "seating_m_per_s"),
    ("Bounce", LENGTH, "bounce_mm"),
    ("Load lost to surge", FORCE, "load_lost_N"),
    ("Middle coil strays", LENGTH, "swing_mm"),
    ("Coils clash with", FORCE, "clash_N"),
)


def _rows(found: list[AtSpeed]) -> list[TraceRow]:
    system, rows = current_system(), []
    for label, dimension, name in _ROWS:
        values = [getattr(f, name) for f in found]
        low, high = show(min(values), dimension, system), show(max(values), dimension, system)
        band = f"{low.number} to {high.number}" if len(values) > 1 and low.number != high.number else ""
        rows.append(TraceRow(label, str(show(values[0], dimension, system)), band))
    return rows


@blueprint.get("/trace")
def show_trace(build_id: int, side: str) -> str | tuple[str, int]:
    """One turn at a speed: valve against cam, forces, coils."""
    ctx, rpm = _ctx(build_id, side), asked.some_figure(request.args, "rpm")
    if rpm is None or not SLOWEST_RPM <= rpm <= FASTEST_RPM:
        return _told(f"Give a speed between {show(SLOWEST_RPM, SPEED)} and {show(FASTEST_RPM, SPEED)}.")
    if not warm.ready():
        warm.in_background()
        return render_template("control/_preparing.html", build_id=build_id, side=side, rpm=rpm)
    question = ask(lambda: elastic.question(ctx))
    if isinstance(question, NotKnown):
        return _not_known(question)
    try:
        found = trace(question.runs[0].train, rpm)
        each = [at_speed(run.train, rpm) for run in question.runs]
    except ArithmeticError as error:
        return _told(str(error))
    return render_template(
        "control/_trace.html",
        chart=trace_chart(ctx, found, current_system()),
        frames=coil_frames(ctx, found),
        rows=_rows(each),
        turns=each[0].turns,
        repeats=each[0].repeats,
        rpm=rpm,
        per_ms=elastic.cam_deg_per_ms(rpm),
    )


def _not_known(told: NotKnown) -> tuple[str, int]:
    """What a train still needs, or why there is none."""
    if told.missing:
        return _told("Needs " + ", ".join(m.label.lower() for m in told.missing) + ".", 200)
    return _told(told.why)


def _told(words: str, code: int = 422) -> tuple[str, int]:
    return render_template("parts/_told.html", words=words), code


@blueprint.get("/sweep")
def show_sweep(build_id: int, side: str) -> str | tuple[str, int]:
    """The sweep over speeds of the builder's own choosing, as far as it is."""
    ctx = _ctx(build_id, side)
    low, high = asked.some_figure(request.args, "from"), asked.some_figure(request.args, "to")
    if low is None or high is None or not SLOWEST_RPM <= low < high:
        return _told("Give a lowest and a higher highest speed, in rpm.")
    if high > FASTEST_RPM:
        return _told(f"{show(high, SPEED)} is past what any cam turns; sweep to {show(FASTEST_RPM, SPEED)} at most.")
    own = ask(lambda: elastic.question(ctx))
    if isinstance(own, NotKnown):
        return _not_known(own)
    speeds = tuple(speeds_rpm(low, high, elastic.SWEPT))
    question = Question(tuple(Run(r.name, r.train, speeds) for r in own.runs))
    answer = sweeps().known(question)
    if answer is None:
        progress = sweeps().start(question)
        return render_template(
            "control/_sweeping.html", **waiting([progress]), build_id=build_id, side=side, low=low, high=high
        )
    return render_template("control/_sweep.html", sweep=sweep_chart(ctx, answer, current_system()))


@blueprint.get("/raise")
def show_raise(build_id: int, side: str) -> str:
    """What would raise the speed most."""
    ctx = _ctx(build_id, side)
    question = known(lambda: raising.raising_question(ctx))
    if question is None:
        return ""
    progress = sweeps().start(question)
    if progress.state is not State.DONE:
        going = waiting([progress])
        return render_template("control/_raising.html", **going, build_id=build_id, side=side)
    return render_template("control/_raise.html", rows=raising.raising(ctx))
