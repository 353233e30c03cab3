"""Series of the elastic train: over speed, and through one turn."""

import math
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np

from arcstack.assess import cam, cost, elastic, spring
from arcstack.assess.context import Context, known
from arcstack.dynamics.motion import AtSpeed, Trace
from arcstack.dynamics.question import Answer
from arcstack.mech.cam.law import Array
from arcstack.trials.packs import TriedPack
from arcstack.units import FORCE, LENGTH, POWER, STRESS, TORQUE, VELOCITY, Dimension, System
from arcstack.units.convert import factor
from arcstack.views.series import STYLES, Chart, scaled, speed_marks

Take = Callable[[AtSpeed], float]

_OVER_SPEED: tuple[tuple[str, Dimension, Take, str, int], ...] = (
    ("Gap, valve off cam", LENGTH, lambda r: r.separation_mm, "gap", 84),
    ("Seating velocity", VELOCITY, lambda r: r.seating_m_per_s, "valve", 84),
    ("Bounce", LENGTH, lambda r: r.bounce_mm, "violet", 60),
    ("Peak contact force", FORCE, lambda r: r.peak_contact_N, "other", 84),
    ("Load lost to surge", FORCE, lambda r: r.load_lost_N, "green", 84),
)


def sweep_chart(ctx: Context, answer: Answer, system: System) -> Chart:
    """Each figure of the sweep over speed, with the band that assumed stiffness and damping leave."""
    rows = answer.rows[elastic.AS_BUILT]
    speeds = [r.rpm for r in rows]
    panels = []
    for name, dimension, take, style, tall in _OVER_SPEED:
        own = [take(r) for r in rows]
        series: dict[str, Any] = {"name": name, "style": style, "y": scaled(own, dimension, system)}
        all_of = [own]
        for name_of, others in answer.rows.items():
            if name_of != elastic.AS_BUILT:
                along = np.interp(speeds, [r.rpm for r in others], [take(r) for r in others])
                # below where the others start the band is nothing but the figure itself
                all_of.append(list(np.where(np.array(speeds) < others[0].rpm, own, along)))
        if len(all_of) > 1:
            series["low"] = scaled(np.array(all_of).min(axis=0), dimension, system)
            series["high"] = scaled(np.array(all_of).max(axis=0), dimension, system)
        panel: dict[str, Any] = {
            "name": f"{name.lower()}, {dimension.unit(system)}",
            "decimals": dimension.decimals(system),
            "height": tall,
            "series": [series],
            "least": 0,
        }
        limit = _limit(ctx, name)
        if limit is not None:
            unit = factor(dimension, dimension.unit(system))
            panel["limits"] = [{"y": round(limit / unit, 5), "text": "limit"}]
        panels.append(panel)
    return {
        "x": speeds,
        "x_name": "crank speed, rpm",
        "x_unit": "rpm",
        "x_interval": 1000,
        "panels": panels,
        "marks": speed_marks(ctx, speeds[0], speeds[-1]),
        "legend": [],
    }


def _limit(ctx: Context, name: str) -> float | None:
    keys = {
        "Gap, valve off cam": "control.parting_gap",
        "Seating velocity": "control.seating_velocity",
        "Bounce": "control.bounce",
    }
    if name not in keys:
        return None
    limit = ctx.limit(keys[name])
    return limit.high if limit.high is not None else limit.low


def trace_chart(ctx: Context, trace: Trace, system: System) -> Chart:
    """One turn: valve against cam, the gap between them, forces on cam and seat, and the springs' load."""
    degrees = np.degrees(trace.angle_rad)
    start, end = (math.degrees(v) for v in cam.curve(ctx).valve.support_rad)
    shown = (degrees >= start - 5.0) & (degrees <= end + 45.0)
    still = sum((c.load_at_N(trace.valve_mm) for c in elastic.chains(ctx)), start=np.zeros(len(degrees)))

    def series(name: str, style: str, values: Array, dimension: Dimension) -> dict[str, Any]:
        return {"name": name, "style": style, "y": scaled(values[shown], dimension, system, 4)}

    def panel(dimension: Dimension, tall: int, *rows: dict[str, Any], words: str) -> dict[str, Any]:
        unit = dimension.unit(system)
        return {
            "name": f"{words}, {unit}",
            "decimals": dimension.decimals(system),
            "height": tall,
            "series": list(rows),
            "least": 0,
        }

    return {
        "x": [round(float(d), 3) for d in degrees[shown]],
        "x_name": "cam degrees from the nose",
        "x_unit": "cam degrees",
        "x_decimals": 1,
        "x_interval": 20,
        "panels": [
            panel(
                LENGTH,
                104,
                series("Cam, less lash", "muted", trace.cam_mm, LENGTH),
                series("Valve", "valve", trace.valve_mm, LENGTH),
                words="lift",
            ),
            panel(LENGTH, 50, series("Gap", "red", trace.parted_mm, LENGTH), words="valve off cam"),
            panel(
                FORCE,
                84,
                series("On the cam", "gap", trace.cam_N, FORCE),
                series("On the seat", "otherDashed", trace.seat_N, FORCE),
                words="contact",
            ),
            panel(
                FORCE,
                84,
                series("Springs, moving", "green", np.sum(trace.springs_N, axis=0), FORCE),
                series("Springs, still", "faint", still, FORCE),
                words="spring load",
            ),
        ],
    }


def coil_frames(ctx: Context, trace: Trace, frames: int = 180) -> dict[str, Any]:
    """Positions of coils, retainer and cam through the turn, above each spring's own seat (mm), for the animation."""
    start, end = (math.degrees(v) for v in cam.curve(ctx).valve.support_rad)
    degrees = np.degrees(trace.angle_rad)
    pick = np.nonzero((degrees >= start - 5.0) & (degrees <= end + 60.0))[0]
    pick = pick[np.unique(np.linspace(0, len(pick) - 1, frames).astype(int))]
    springs = []
    names = ("outer", "inner")[: len(trace.coils_mm)]
    for name, coils in zip(names, trace.coils_mm, strict=True):
        height, solid = spring.height(ctx, name).value, ctx.entry(f"stack.{name}.solid", "b").value
        count = coils.shape[1]
        rest = height * (1.0 - np.arange(1, count + 1) / (count + 1))
        springs.append(
            {
                "name": name,
                "height": round(height, 3),
                "solid": round(solid, 3),
                "coils": [[round(float(v), 3) for v in rest - coils[i]] for i in pick],
            }
        )
    return {
        "angle": [round(float(degrees[i]), 2) for i in pick],
        "seconds": [round(float(trace.seconds[i] - trace.seconds[pick[0]]), 7) for i in pick],
        "valve": [round(float(trace.valve_mm[i]), 4) for i in pick],
        "cam": [round(float(max(trace.follower_mm[i], 0.0)), 4) for i in pick],
        "springs": springs,
    }


def cost_chart(packs: list[TriedPack], system: System) -> Chart | None:
    """Nose pressure, cam torque and friction power over speed, of the fitted pack and those beside it."""
    worked = []
    for pack, style in zip(packs, STYLES, strict=False):
        found = known(partial(_over_speed, pack.ctx))
        if found is not None:
            worked.append((pack, style, *found))
    if not worked:
        return None
    names: tuple[tuple[str, Dimension], ...] = (
        ("nose pressure", STRESS),
        ("peak cam torque, one lobe", TORQUE),
        ("friction, one valve", POWER),
    )
    panels = []
    for i, (words, dimension) in enumerate(names):
        if all(math.isnan(row[i]) for _, _, _, rows in worked for row in rows):
            continue
        series = [
            {"name": p.name, "style": style, "y": scaled([r[i] for r in rows], dimension, system)}
            for p, style, _, rows in worked
        ]
        panels.append(
            {
                "name": f"{words}, {dimension.unit(system)}",
                "decimals": dimension.decimals(system),
                "height": 76,
                "series": series,
            }
        )
    speeds = worked[0][2]
    return {
        "x": [round(float(n)) for n in speeds],
        "x_name": "crank speed, rpm",
        "x_unit": "rpm",
        "x_interval": 1000 if speeds[-1] < 12000 else 2000,
        "panels": panels,
        "marks": speed_marks(worked[0][0].ctx, float(speeds[0]), float(speeds[-1])),
    }


def _over_speed(ctx: Context) -> tuple[Array, list[tuple[float, float, float]]]:
    top = elastic.top_rpm(ctx)
    speeds = np.linspace(0.15 * top, top, 13)
    return speeds, [_costs(ctx, float(n)) for n in speeds]


def _costs(ctx: Context, rpm: float) -> tuple[float, float, float]:
    pressure = known(lambda: cost.nose_pressure_at(ctx, rpm))
    return math.nan if pressure is None else pressure, float(cost.torque_at(ctx, rpm).max()), cost.power_at(ctx, rpm)
