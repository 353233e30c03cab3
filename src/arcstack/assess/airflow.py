"""Throat, curtain and useful lift; what a flow bench said, and what that advises."""

from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam, gas
from arcstack.assess.check import Check, Named, Says
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Evidence, Figure
from arcstack.document import Entry
from arcstack.document.flow_table import read_flow_table
from arcstack.errors import MissingInput
from arcstack.mech import airflow as model
from arcstack.mech.airflow import FlowTable
from arcstack.mech.cam.facts import samples
from arcstack.settings import setting
from arcstack.units import COUNT, LENGTH, RATIO, show


@figure
def useful_lift(ctx: Context) -> Figure:
    """Lift at which the curtain round the head equals the open throat."""
    ctx.need("stack.valve.head", "stack.valve.stem", "port.throat")
    head, stem = ctx.entry("stack.valve.head", "d_v"), ctx.entry("stack.valve.stem", "d_s")
    throat = ctx.entry("port.throat", "d_t")
    value = model.useful_lift_mm(head.value, throat.value, stem.value)
    note = "Past it the throat, not the lift, lets the air through."
    return length("L_u", "Useful lift", value, "L_u = (d_t² − d_s²)/(4·d_v)", throat, stem, head, note=note)


def useful_gross_lift_mm(ctx: Context) -> float:
    """Lift of the curve, lash still in it, at which the valve stands at its useful lift."""
    return useful_lift(ctx).value + cam.lash(ctx).value


@figure
def lift_over_useful(ctx: Context) -> Figure:
    """Net lift over useful lift, and how long the valve is past it."""
    net, useful = cam.net_lift(ctx), useful_lift(ctx)
    past = known(lambda: past_useful_deg(ctx))
    note = "" if past is None else f"Past useful lift for {past:.0f} cam degrees."
    return Figure.by("Net lift ÷ useful lift", RATIO, "x_u = L_n/L_u", net, useful, note=note)


def past_useful_deg(ctx: Context) -> float:
    """Cam degrees that the valve spends past its useful lift."""
    taken = samples(cam.curve(ctx).valve)
    past = taken.lift - cam.lash(ctx).value > useful_lift(ctx).value
    if not past.any():
        return 0.0
    angles = taken.angle[past]
    return float(np.degrees(angles[-1] - angles[0]))


@figure
def throat_share(ctx: Context) -> Figure:
    """Throat over head: what is left is the seat's width and its way for heat."""
    ctx.need("stack.valve.head", "port.throat")
    head, throat = ctx.entry("stack.valve.head", "d_v"), ctx.entry("port.throat", "d_t")
    return Figure.by("Throat ÷ head", RATIO, "x_t = d_t/d_v", throat, head)


@figure
def cap_room(ctx: Context) -> Figure:
    """Lift that the mechanism has left past what the lobe asks."""
    cap, gross = ctx.entry("port.lift_cap", "L_c"), cam.gross_lift(ctx)
    by = ctx.side.port.cap_reason
    note = f"Set by {by}." if by else "Whatever the lobe, no more is to be had."
    label = "Lift left under the mechanism’s cap"
    return Figure.by(label, LENGTH, "r_c = L_c − L", cap, gross, note=note)


def _capped(ctx: Context) -> bool:
    return isinstance(ctx.side.port.lift_cap, Entry)


def table(ctx: Context, before: bool = False) -> FlowTable | None:
    """A flow table of a side, both brought to the depression of the one after work; None where there is none."""
    port = ctx.side.port
    text = port.flow_before if before else port.flow
    if not text:
        return None
    found = read_flow_table(text)
    if before and port.flow_before_at is not None and port.flow_at is not None:
        wanted, taken = port.flow_at.value, port.flow_before_at.value
        flows = tuple(model.at_depression(f, taken, wanted) for f in found.flow)
        found = FlowTable(found.lift_mm, flows)
    return found


def _flow_figure(ctx: Context, symbol: str, label: str, value: float, note: str = "") -> Figure:
    flow = table(ctx)
    rows = float(len(flow.lift_mm)) if flow is not None else 0.0
    origin = Figure("Q", "Flow table, rows", rows, COUNT, Evidence.PRINTED, ctx.path("port.flow"))
    return Figure.calculated(symbol, label, value, RATIO, "read off the flow table", origin, note=note)


@figure
def mean_flow(ctx: Context) -> Figure:
    """Flow averaged over this cam's event: one figure that compares heads, or cams on one head."""
    flow = table(ctx)
    if flow is None:
        raise MissingInput(ctx.missing("port.flow"))
    taken = samples(cam.curve(ctx).valve)
    value = model.mean_flow(flow, taken.lift - cam.lash(ctx).value, taken.angle)
    flat = flow.flattens_mm()
    note = f"Flow hardly grows past {show(flat, LENGTH)}." if flat is not None else ""
    return _flow_figure(ctx, "Q_m", "Flow, mean over this event", value, note)


@figure
def flow_share(ctx: Context) -> Figure:
    """Exhaust flow over intake flow, each at its own useful lift and at one depression.

    With the depression of one side alone the other's is asked for; with neither they are taken as alike, and said so.
    """
    intake, exhaust = (ctx, ctx.other) if ctx.intake else (ctx.other, ctx)
    told = [side for side in (intake, exhaust) if side.given("port.flow_at")]
    if len(told) == 1:
        raise MissingInput((exhaust if told[0] is intake else intake).missing("port.flow_at"))
    note = "" if told else "No depression is given: both tables are taken as of one."
    flows, inputs = [], []
    for side in (intake, exhaust):
        flow, useful = table(side), useful_lift(side)
        if flow is None:
            raise MissingInput(side.missing("port.flow"))
        at, port = float(flow.at(useful.value)), side.side.port
        other = intake.side.port.flow_at
        if side is exhaust and port.flow_at is not None and other is not None:
            at = model.at_depression(at, port.flow_at.value, other.value)
        flows.append(at)
        inputs.append(_flow_figure(side, f"Q_{side.side_name[0]}", f"Flow at useful lift, {side.side_name}", at))
    return Figure.calculated(
        "x_q",
        "Exhaust flow ÷ intake flow",
        flows[1] / flows[0],
        RATIO,
        "x_q = Q_e/Q_i",
        inputs[1],
        inputs[0],
        note=note,
    )


@dataclass(frozen=True)
class Advice:
    """What figures advise, and why; never a verdict."""

    says: str
    why: str


LOW_SHARE, HIGH_SHARE = setting("airflow.longer_exhaust"), setting("airflow.shorter_exhaust")
RESTRICTIVE = setting("airflow.restrictive")


def advice(ctx: Context) -> list[Advice]:
    """One pattern or two, and how much overlap the turbine side can bear."""
    found = []
    share = known(lambda: flow_share(ctx))
    if share is not None:
        percent = f"The exhaust flows {100 * share.value:.0f} % of the intake at useful lift"
        percent += ", both tables taken as of one depression" if share.note else ""
        if share.value < LOW_SHARE:
            found.append(
                Advice("A longer exhaust than intake.", f"{percent}: below {100 * LOW_SHARE:.0f} % it wants more time.")
            )
        elif share.value > HIGH_SHARE:
            found.append(
                Advice(
                    "A shorter exhaust than intake.", f"{percent}: above {100 * HIGH_SHARE:.0f} % it needs less time."
                )
            )
        else:
            found.append(
                Advice(
                    "One pattern on both sides.",
                    f"{percent}, between {100 * LOW_SHARE:.0f} and {100 * HIGH_SHARE:.0f} %.",
                )
            )
    boost, back = known(lambda: gas.boost(ctx)), known(lambda: gas.back_pressure(ctx))
    if boost is not None and back is not None and boost.value > 0 and back.value / boost.value > RESTRICTIVE:
        ratio = back.value / boost.value
        why = f"Back pressure is {ratio:.2f} × boost: overlap sends exhaust back into the port."
        found.append(Advice("Less overlap and a shorter exhaust than such flow would ask for.", why))
    return found


CHECKS = (
    Check(
        "lift.useful",
        "Useful lift",
        "cam",
        "Net lift against the lift at which the throat, not the curtain, lets the air through.",
        work=lift_over_useful,
        limit="lift.useful",
        says=Says.ALWAYS,
    ),
    Check(
        "lift.cap",
        "Cap on lift",
        "cam",
        "The lobe asks no more than the mechanism can give.",
        work=cap_room,
        limit="lift.cap",
        applies=_capped,
        says=Says.ALWAYS,
    ),
    Check(
        "valve.throat",
        "Throat",
        "cam",
        "The throat leaves the head a seat to stand on, and chokes no more than it must.",
        work=throat_share,
        limit="valve.throat",
    ),
)

FIGURES = (
    Named("airflow.useful_lift", "Useful lift", useful_lift),
    Named("airflow.throat", "Throat ÷ head", throat_share),
    Named("airflow.mean_flow", "Flow, mean over this event", mean_flow),
    Named("airflow.share", "Exhaust flow ÷ intake flow", flow_share),
)
