"""A grid of parts as a head and a shelf, searched."""

import math
from typing import Any
from uuid import UUID

import numpy as np

from arcstack.assess import assess
from arcstack.checks import Evidence, Level
from arcstack.document import Build, change, set_curve
from arcstack.document.model import Override
from arcstack.document.parts import MeasuredCurve, Place
from arcstack.mech.cam.law import SymmetricLobe
from arcstack.shelf import KINDS, PartKind, ShelfPart, changed
from arcstack.specify import Ask, Want, search
from tests.builds import BY, typed

_AT_LEAST = {
    "reserve_outer": "spring.reserve.outer", "reserve_inner": "spring.reserve.inner",
    "retainer_seal": "stack.retainer_seal",
}  # fmt: skip


def part(kind: PartKind, name: str, **figures: str) -> ShelfPart:
    made = ShelfPart(
        key=UUID(int=abs(hash((kind, name)))).hex, kind=kind, name=name, on_hand=16, body=KINDS[kind].model()
    )
    for path, text in figures.items():
        made = changed(made, path.replace("__", "."), text, Evidence.PRINTED)
    return made


def shelf(g: dict[str, Any]) -> list[ShelfPart]:
    parts = [
        part(
            PartKind.PACK, p["code"], pack="dual",
            **{
                f"{name}__{field}": text
                for name in ("outer", "inner")
                for field, text in {
                    "rate": f"{p[name]['rate']} N/mm", "free_length": f"{p[name]['free']} mm",
                    "solid": f"{p[name]['solid']} mm", "mass": f"{p[name]['mass_g']} g",
                }.items()
            },
        )
        for p in g["packs"]
    ]  # fmt: skip
    parts += [
        part(
            PartKind.RETAINER, r["code"], offset=f"{r['offset']} mm", step=f"{r['step']} mm", depth=f"{r['depth']} mm",
            mass=f"{r['mass_g']} g",
        )
        for r in g["retainers"]
    ]  # fmt: skip
    parts += [part(PartKind.LOCKS, k["code"], offset=f"{k['offset']} mm", mass=f"{k['mass_g']} g") for k in g["locks"]]
    parts += [part(PartKind.SHIM, f"S{s}", thickness=f"{s} mm", hardened="hardened") for s in g["shims_mm"] if s]
    return parts


def head(g: dict[str, Any]) -> Build:
    """A head of which only what the grid judges is known; its lobe as a fine table."""
    lobe = SymmetricLobe.polynomial(g["h_mm"], math.radians(g["beta_cam_deg"]), tuple(float(p) for p in g["powers"]))
    angle = np.radians(np.arange(-90.0, 90.25, 0.25))
    curve = MeasuredCurve(
        origin="a table", place=Place.LOBE, cam_rad=tuple(angle.tolist()),
        lift_mm=tuple(np.round(lobe.evaluate(angle), 6).tolist()), by=BY,
    )  # fmt: skip
    build = typed(
        Build(name="Grid"),
        {
            "engine.follower": "bucket", "brief.limiter": "8000", "brief.boost": "0 bar", "brief.back_pressure": "0 bar",
            "intake.stack.valve.head": "33 mm", "intake.stack.valve.stem": "6 mm", "intake.stack.height_basis": "bare",
            "intake.cam.lash": f"{g['lash_mm']} mm", "intake.stack.open_height": f"{g['open_height_mm']} mm",
            "intake.stack.seal_height": f"{g['seal_top_mm']} mm", "intake.stack.valve.groove_offset": "none",
            "intake.stack.valve.mass": f"{g['valve_and_follower_g'] / 2} g",
            "intake.follower.bucket.mass": f"{g['valve_and_follower_g'] / 2} g", "intake.follower.shim_mass": "none",
            "intake.stack.locator.thickness": "none", "intake.stack.locator.step": f"{g['seat_step']} mm",
        },
    )  # fmt: skip
    build = set_curve(build, "intake", curve)
    limits = g["limits"]
    own = {check: (f"{limits[name]} mm", None) for name, check in _AT_LEAST.items()}
    own["spring.seat_load"] = (f"{limits['seat_load_low']} N", f"{limits['seat_load_high']} N")
    own["control.separation"] = (str(limits["separation_rpm"] / 8000.0), None)
    for key, (low, high) in own.items():
        build = overridden(build, key, low, high)
    return build


def overridden(build: Build, key: str, low: str, high: str | None) -> Build:
    found = {}
    for end, text in (("low", low), ("high", high)):
        if text is not None:
            found[end] = change(build, "intake.stack.target_height", "30 mm").intake.stack.target_height.model_copy(  # type: ignore[union-attr]
                update={"value": float(text.split()[0]), "typed": text}
            )
    return build.model_copy(update={"overrides": build.overrides | {key: Override(reason="the grid's", **found)}})


def worked(g: dict[str, Any]) -> dict[str, Any]:
    """What the search itself makes of a grid of parts: counts by limit, and the best of those that meet all."""
    ask = Ask(
        (PartKind.PACK, PartKind.RETAINER, PartKind.LOCKS, PartKind.SHIM),
        (Want.SPEED,),
        most_shims=1,
        holds_target=False,
    )
    found = search(assess(head(g)).sides["intake"], shelf(g), ask)
    counts = {c.check: c.failed for c in found.counts}
    rows = [found.row(number) for number in range(found.space.size)]
    loads = [row.values["spring.seat_load"] for row in rows]
    judged = {*_AT_LEAST.values(), "spring.seat_load", "control.separation"}
    would_do = [row for row in rows if not any(row.levels[check] is Level.FAIL for check in judged)]
    best = max(would_do, key=lambda row: row.values["control.separation"])
    low = sum(load < g["limits"]["seat_load_low"] for load in loads)
    return {
        "combinations": found.space.size,
        "feasible": len(would_do),
        "turned_away": {
            **{name: counts[check] for name, check in _AT_LEAST.items()},
            "seat_load_low": low,
            "seat_load_high": counts["spring.seat_load"] - low,
            "separation": counts["control.separation"],
        },
        "best_separation_rpm": best.values["control.separation"],
        "best_seat_load_N": best.values["spring.seat_load"],
    }
