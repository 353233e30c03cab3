"""What every page of a build shows around its stage, and the parts that an edit swaps."""

from dataclasses import dataclass
from functools import partial
from typing import Any

from flask import abort, render_template, request

from arcstack.assess import Assessment, cam, card, elastic, follower, gas, spring
from arcstack.assess.context import Context, ask
from arcstack.assess.speed_limit import speed_limit
from arcstack.document import FIELDS, SIDES, SLOTS, Build
from arcstack.dynamics.model import COILS
from arcstack.errors import CurveConflict, NotKnown
from arcstack.mech.cam.smoothing import Smoothed
from arcstack.services import Current
from arcstack.trials.packs import tried
from arcstack.trials.pressures import PULSE_RANGE, RATIO_RANGE
from arcstack.units import System
from arcstack.web import asked
from arcstack.web.charts.curves import cam_chart, clearance_chart
from arcstack.web.charts.gas import gas_chart
from arcstack.web.charts.springs import height_chart, load_chart, surge_chart
from arcstack.web.charts.train import cost_chart, sweep_chart
from arcstack.web.drawings.crown import crown, lobe_picture
from arcstack.web.drawings.force_map import force_map
from arcstack.web.drawings.goodman import goodman_picture
from arcstack.web.drawings.scrubber import scrubber
from arcstack.web.drawings.section import section
from arcstack.web.guard import drawn
from arcstack.web.pages.answers import questions
from arcstack.web.session import assessed, current_system, workshop
from arcstack.web.view.events import centreline_deg, tables
from arcstack.web.view.layout import BY_NAME, STAGES, Stage
from arcstack.web.view.margins import WIDTH, margins, share
from arcstack.web.view.motion import motion_rows
from arcstack.web.view.pack_fields import pack_groups
from arcstack.web.view.rows import FieldGroup, field_row, figure_row, said_by
from arcstack.web.view.spring_parts import compared, height_words, heights, remarks, speeds_to_avoid


@dataclass(frozen=True)
class Bench:
    """One build at one revision, on one stage and side."""

    current: Current
    stage: Stage
    side: str

    @property
    def build(self) -> Build:
        return self.current.build


def open_bench(build_id: int, stage: str, side: str, build: Current | None = None) -> Bench:
    """Raises 404 for a stage or a side that does not exist."""
    if stage not in BY_NAME or side not in SIDES:
        abort(404)
    return Bench(build or workshop().open(build_id), BY_NAME[stage], side)


def groups(bench: Bench, system: System) -> list[FieldGroup]:
    found = []
    for group in bench.stage.groups:
        rows = [field_row(bench.build, path, system) for path in full_paths(bench.build, bench.side, group.paths)]
        found.append(FieldGroup(group.title, group.part, group.help, rows))
    return found


def full_paths(build: Build, side: str, paths: tuple[str, ...]) -> list[str]:
    """The fields of a group that this build has: of a follower, those of the kind that is fitted."""
    found = []
    for path in paths:
        part, _, name = path.partition(".")
        own = f"{side}.{path}"
        if path.startswith(("brief.", "engine.", "head.", "job.")):
            own = path
        elif part == "follower" and name != "shim_mass":
            own = f"{side}.follower.{build.engine.follower.value}.{name}"
        if own in FIELDS:
            found.append(own)
        if path == "stack.shims.3":
            # one more once those are filled
            held = len(build.side(side).stack.shims)
            found += [f"{side}.stack.shims.{n}" for n in range(4, held + 2) if f"{side}.stack.shims.{n}" in FIELDS]
    return found


def around(current: Current, side: str, assessment: Assessment, system: System, stage: str = "") -> dict[str, Any]:
    """What the frame shows: stages with their marks, margins, top line."""
    gauges = margins(assessment, side, system)
    return {
        "build": current.build,
        "build_id": current.id,
        "revision": current.revision,
        "side": side,
        "sides": SIDES,
        "stage": stage,
        "stages": [
            (s.name, s.title, assessment.stage_level(s.name, side), assessment.stage_proven(s.name), s.under)
            for s in STAGES
        ],
        "assessment": assessment,
        "practice": assessment.practice,
        "gauges": gauges,
        "share": share(gauges, stage, BY_NAME[stage].title) if stage in BY_NAME else None,
        "gauge_width": WIDTH,
        "waits": assessment.waiting,
        "steps": current.steps,
    }


def swapped(bench: Bench, assessment: Assessment, system: System) -> dict[str, Any]:
    """What an edit on this stage changes beside the frame."""
    ctx = assessment.sides[bench.side]
    rows = [
        (heading, row) for name, heading in bench.stage.figures if (row := figure_row(ctx, name, system)) is not None
    ]
    shown: dict[str, Any] = {"figures": rows, "headings": list(dict.fromkeys(heading for heading, _ in rows))}
    if bench.stage.name == "brief":
        shown["asked"] = questions(bench.build)
    if bench.stage.name == "stack":
        shown.update(_section(bench, assessment, system))
    if bench.stage.name == "cam":
        shown.update(
            chart=drawn(lambda: cam_chart(ctx, system)),
            audits=drawn(lambda: card.audits(ctx)) or [],
            conflict=drawn(lambda: card.conflict(ctx)) or "",
            compared=drawn(lambda: card.against_curve(ctx)) or [],
            cautions=follower.cautions(ctx),
            crown=drawn(lambda: crown(ctx)),
            lobe_picture=drawn(lambda: lobe_picture(ctx)),
            event_tables=drawn(lambda: tables(ctx, 0.0, system)) or [],
            bucket=ctx.bucket,
            ratio_now=ctx.lever.ratio.value if ctx.lever.ratio else None,
            motion_rpm=_speed(bench.build),
            motion_rows=drawn(lambda: motion_rows(ctx, _speed(bench.build))) or [],
            curve=ctx.side.cam.curve,
            curve_by=_curve_by(ctx),
            smoothed=drawn(lambda: _smoothed(ctx)),
        )
    if bench.stage.name == "springs":
        shown.update(_springs(bench, ctx, system))
    if bench.stage.name == "control":
        shown.update(_control(bench, assessment, system))
    if bench.stage.name == "boost":
        shown.update(
            chart=drawn(lambda: gas_chart(ctx, system)),
            ratio_now=drawn(lambda: _ratio(ctx)) or 1.3,
            pulse_now=drawn(lambda: _pulse(ctx)) or 1.75,
        )
    if bench.stage.name == "clearance":
        shown.update(chart=drawn(lambda: clearance_chart(ctx, system)), centrelines=_centrelines(bench.build))
    return shown


def _section(bench: Bench, assessment: Assessment, system: System) -> dict[str, Any]:
    """The section drawing with its scrubber; nothing of it where its figures cannot be drawn."""
    made = drawn(lambda: section(assessment, bench.side, system))
    if made is None:
        return {"drawing": None, "curve": None}
    drawing, moving, geometry = made
    index = moving.nose
    curve = drawn(lambda: scrubber(moving, index))
    return {"drawing": drawing, "frames": moving, "geometry": geometry, "curve": curve, "index": index}


def _springs(bench: Bench, ctx: Context, system: System) -> dict[str, Any]:
    swept = drawn(lambda: heights(ctx))
    return {
        "chart": drawn(lambda: load_chart(ctx, system)),
        "remarks": drawn(lambda: remarks(ctx)) or [],
        "compared": drawn(lambda: compared(ctx, request.args.to_dict(), system)),
        "swept": drawn(lambda: height_chart(swept, system)) if swept else None,
        "height_words": height_words(swept, system) if swept else "",
        "goodman": drawn(lambda: goodman_picture(ctx, system)),
        "load_loss": f"{spring.load_loss(ctx).value:.0%}".replace("%", " %"),
        "surge": drawn(lambda: surge_chart(ctx, system)),
        "avoid": drawn(lambda: speeds_to_avoid(ctx, system)) or [],
    }


def _control(bench: Bench, assessment: Assessment, system: System) -> dict[str, Any]:
    ctx = assessment.sides[bench.side]
    force = drawn(lambda: force_map(ctx, ctx.practice.schools.gas_in_separation, system))
    shown: dict[str, Any] = {"map": force, "gas_judged": ctx.practice.schools.gas_in_separation}
    shown["limit"], shown["other_limit"] = (drawn(partial(speed_limit, c)) for c in (ctx, ctx.other))
    shown["gone_solid"] = [said for c in (ctx, ctx.other) for said in drawn(partial(spring.gone_solid, c)) or []]
    shown["other_side"] = ctx.other.side_name
    limit = shown["limit"]
    shown["proven"] = limit is not None and all(
        assessment.verdict(h.check, bench.side).proven for h in (limit.governs, limit.governs_overspeed)
    )
    shown["sweep"] = None
    answer = ask(lambda: elastic.answer(ctx))
    if isinstance(answer, CurveConflict):
        shown["sweep_needs"] = answer.why
    elif not isinstance(answer, NotKnown):
        shown["sweep"] = drawn(lambda: sweep_chart(ctx, answer, system))
    elif answer.missing:
        shown["sweep_needs"] = "Needs " + ", ".join(m.label.lower() for m in answer.missing) + "."
    speed = _speed(bench.build)
    own = (2000.0, 8000.0)
    if bench.build.brief.limiter:
        own = drawn(lambda: (elastic.lowest_rpm(ctx), elastic.top_rpm(ctx))) or own
    shown |= {"trace_rpm": speed, "sweep_from": round(own[0]), "sweep_to": round(own[-1]), "coils": COILS}
    shown["chart"] = drawn(lambda: cost_chart(tried(ctx), system))
    return shown


def _ratio(ctx: Context) -> float:
    """Back pressure over boost, as it stands."""
    return min(max(gas.back_pressure(ctx).value / gas.boost(ctx).value, RATIO_RANGE[0]), RATIO_RANGE[1])


def _pulse(ctx: Context) -> float:
    """Pulse peak over mean back pressure, as it stands."""
    return min(max(gas.pulse_peak(ctx).value / gas.back_pressure(ctx).value, PULSE_RANGE[0]), PULSE_RANGE[1])


def _speed(build: Build) -> int:
    """Speed that the motion starts at: the limiter, else 6,000."""
    limiter = build.brief.limiter
    return round(limiter.value) if limiter else 6000


def _curve_by(ctx: Context) -> str:
    """Who took the measured curve and with what; empty where that makes it no measurement."""
    by = ctx.side.cam.curve.by if ctx.side.cam.curve else None
    return said_by(by) if by and by.measures else ""


def _smoothed(ctx: Context) -> Smoothed | None:
    table = ctx.side.cam.curve
    return cam.smoothed(table, ctx.side.cam.hand) if table else None


def _centrelines(build: Build) -> dict[str, float | None]:
    return {side: centreline_deg(build, side) for side in SIDES}


def _slot() -> int:
    """The pack whose fields are open on the Springs page; 0 is the fitted one."""
    slot = asked.whole(request.args, "pack")
    return slot if slot in SLOTS else 0


def stage_page(bench: Bench) -> str:
    system = current_system()
    assessment = assessed(bench.build)
    return render_template(
        f"stages/{bench.stage.name}.html",
        **around(bench.current, bench.side, assessment, system, bench.stage.name),
        **swapped(bench, assessment, system),
        groups=groups(bench, system),
        slot=_slot(),
        pack_groups=pack_groups(bench.build, bench.side, _slot(), system),
        title=bench.stage.title,
    )
