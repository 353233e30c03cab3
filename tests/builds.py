"""Whole builds beside the demo's: other followers, tables, units, counts and schools, all invented."""

import math
from collections.abc import Mapping
from datetime import datetime
from functools import cache

import numpy as np

from arcstack.application import Sweeps
from arcstack.checks import Evidence
from arcstack.document import Build, Sitting, change, set_curve
from arcstack.document.parts import MeasuredCurve, Place
from arcstack.mech.cam.law import SymmetricLobe

BY = Sitting(hand="Wen", instrument="dial 4 and tester", at=datetime(2026, 5, 4, 10, 30))

SWEEPS = Sweeps()
"""Elastic trains worked once for every test of a run."""

LOBE = SymmetricLobe.polynomial(9.4, math.radians(70.0), (2.0, 8.0, 14.0, 20.0))


def readings(
    lobe: SymmetricLobe = LOBE, noise_mm: float = 0.002, seed: int = 1, place: Place = Place.LOBE, lash_mm: float = 0.0,
    step_deg: float = 1.0, by: Sitting | None = BY,
) -> MeasuredCurve:  # fmt: skip
    """A lift table as a dial reads it, in micrometres, with its scatter."""
    angle = np.radians(np.arange(-100.0, 100.0 + step_deg, step_deg))
    lift = np.maximum(lobe.evaluate(angle) - lash_mm, 0.0) + np.random.default_rng(seed).normal(0, noise_mm, len(angle))
    return MeasuredCurve(
        origin="bench", place=place, cam_rad=tuple(angle.tolist()), lift_mm=tuple(np.round(lift, 3).tolist()), by=by
    )


def typed(build: Build, rows: Mapping[str, str], evidence: Evidence | None = None) -> Build:
    """The build with fields typed one after another; ``both.`` in a path stands for either side."""
    for path, text in rows.items():
        for side in ("intake", "exhaust") if path.startswith("both.") else ("",):
            build = change(build, path.replace("both.", f"{side}."), text, evidence, by=BY)
    return build


_SPRING = {
    "height_1": "36 mm", "load_1": "250 N", "height_2": "26 mm", "load_2": "560 N", "solid": "22.4 mm", "mass": "42 g",
    "outside": "28.2 mm", "wire": "3.75 mm", "coils": "6.1",
}  # fmt: skip
_INNER = {
    "height_1": "33.5 mm", "load_1": "118 N", "height_2": "23.5 mm", "load_2": "254 N", "solid": "21.2 mm",
    "mass": "17 g", "outside": "20.0 mm", "wire": "2.6 mm", "coils": "8.1",
}  # fmt: skip


def under(prefix: str, rows: Mapping[str, str]) -> dict[str, str]:
    return {f"{prefix}.{name}": text for name, text in rows.items()}


_FIT = {
    "valve.lock_end": "6 mm", "valve.groove": "one round", "valve.groove_below_tip": "0.205 in", "locks.stem": "6 mm",
    "locks.groove": "one round", "locks.taper": "10 deg", "locks.outside": "11.20 mm", "locks.above_groove": "3.4 mm",
    "retainer.taper": "10.1 deg", "retainer.locks_outside": "11.20 mm", "retainer.outer_step": "20.5 mm",
    "retainer.inner_step": "14.6 mm", "retainer.outside": "28 mm", "locator.material": "hardened steel",
    "locator.base": "spigot", "locator.bore": "11.2 mm", "locator.outside": "28.7 mm", "locator.spigot": "20.4 mm",
    "locator.inner_spigot": "14.5 mm", "rings.inside": "11.5 mm", "rings.outside": "28.6 mm", "rings.hardened": "hardened",
    "seal.stem": "6 mm", "seal.guide": "11 mm", "seal.outside": "13.2 mm", "guide.outside": "11 mm",
    "pocket.metal": "aluminium", "pocket.diameter": "29.4 mm",
}  # fmt: skip
"""What the rules of fit ask for, of the parts below."""

_COMMON = {
    "brief.usual_speed": "5500", "brief.peak_speed": "6900", "brief.limiter": "7400", "brief.overspeed": "7,900 rpm",
    "brief.boost": "1.2 bar", "brief.back_pressure": "1.5 bar", "brief.pulse_peak": "2.6 bar",
    "engine.stroke": "82 mm", "engine.rod": "140 mm", "engine.pin_offset": "none", "engine.milling": "none",
    "engine.valve_spacing": "38.5 mm", "both.cam.lobe_lift": "9.4 mm", "both.cam.durations.1.check_lift": "1.0 mm",
    "both.cam.durations.1.duration": "224 deg", "both.cam.centreline": "108 deg", "both.cam.lash": "0.2 mm",
    "both.cam.base_circle": "35 mm", "both.cam.lobe_width": "13 mm", "both.cam.phaser_advance": "none",
    "both.cam.phaser_retard": "none", "both.cam.peak_offset": "none", "both.stack.open_height": "36.5 mm",
    "both.stack.shims.1": "0.5 mm", "both.stack.target_height": "36 mm", "both.stack.seal_height": "21.5 mm",
    "both.stack.valve.head": "33 mm", "both.stack.valve.stem": "6 mm", "both.stack.valve.mass": "47 g",
    "both.stack.valve.groove_offset": "none", **under("both.stack.outer", _SPRING), **under("both.stack.inner", _INNER),
    "both.stack.retainer.step": "1.5 mm", "both.stack.retainer.depth": "3.2 mm", "both.stack.retainer.mass": "9.5 g",
    "both.stack.retainer.offset": "none", "both.stack.locks.offset": "none", "both.stack.locks.mass": "2.4 g",
    "both.stack.locator.thickness": "0.9 mm", "both.stack.locator.step": "0.9 mm", "both.follower.bucket.diameter": "36 mm",
    "both.follower.bucket.mass": "38 g", "both.follower.bucket.offset": "none", "both.follower.shim_mass": "none",
    "both.clearance.valve_angle": "14 deg", "both.clearance.drop_at_tdc": "7.2 mm",
    "both.clearance.floor": "square to the valve", **under("both.stack", _FIT),
    "both.follower.bucket.inside": "32 mm", "both.port.throat": "28.8 mm", "engine.follower": "bucket",
    "engine.rod_material": "steel", "both.stack.pack": "dual", "both.stack.damping": "none",
    "both.follower.bucket.materials": "steel on hardened steel",
}  # fmt: skip


@cache
def quill() -> Build:
    """One cylinder, two valves, all of it measured, a lift table at each lobe: what can be proven."""
    rows = _COMMON | {
        "engine.cylinders": "1", "engine.valves_per_cylinder": "2", "both.cam.durations.1.duration": "218 deg",
    }  # fmt: skip
    build = typed(Build(name="Quill, one-lung sprinter", practice="long-life"), rows, Evidence.MEASURED)
    for side in ("intake", "exhaust"):
        build = set_curve(build, side, readings(seed=len(side)))
    return build


@cache
def sorrel() -> Build:
    """Fingers by their arms on a roller, five valves a cylinder, one beehive spring off a tester's table, in inches."""
    rows = {k: v for k, v in _COMMON.items() if not k.startswith(("both.stack.inner", "both.stack.outer"))} | {
        "engine.cylinders": "2", "engine.valves_per_cylinder": "5", "engine.follower": "finger",
        "both.cam.lobe_lift": '0.236"', "both.cam.lash": "8 thou", "both.cam.durations.1.check_lift": "0.040 in",
        "both.cam.durations.1.duration": "216 deg", "both.follower.finger.ratio_from": "pivot geometry",
        "both.follower.finger.arm": "1.575 in", "both.follower.finger.arm_height": "4.9 mm", "both.follower.finger.pad_arm": "25 mm",
        "both.follower.finger.pad_height": "3 mm", "both.follower.finger.pad_radius": "9 mm", "both.follower.finger.meets": "roller",
        "both.follower.finger.mass": "1.1 oz", "both.stack.pack": "single", "both.stack.outer.shape": "beehive",
        "both.stack.outer.table": "in lbf; 1.42 66; 1.30 86; 1.18 107; 1.06 130; 0.98 146",
        "both.stack.outer.table_from": "measured", "both.stack.outer.solid": "0.90 in", "both.stack.outer.mass": "45 g",
        "both.stack.outer.outside": "28.4 mm", "both.stack.outer.outside_top": "23 mm", "both.stack.outer.wire": "4.0 mm",
        "both.stack.outer.coils": "6.3", "both.stack.open_height": "1.437 in", "both.stack.height_basis": "bare",
        "both.stack.retainer.offset": "0.020 in", "both.stack.locator.thickness": "none", "both.stack.locator.step": "none",
        "both.follower.finger.materials": "steel on chilled iron", "brief.boost": "18 psi", "brief.back_pressure": "21 psi",
        "brief.pulse_peak": "", "both.clearance.drop_at_tdc": "0.300 in", "both.stack.retainer.outer_step": "0.583 in",
        "both.stack.locator.spigot": "20.1 mm",
    }  # fmt: skip
    return typed(Build(name="Sorrel, hill-climb twin"), rows)


@cache
def bramble() -> Build:
    """Rockers with a ratio table that starts on the flank, one figure for each pair of springs, an exhaust phaser."""
    rows = _COMMON | {
        "engine.cylinders": "6", "engine.valves_per_cylinder": "3", "engine.follower": "rocker",
        "engine.rod_material": "aluminium", "both.cam.lobe_lift": "6.2 mm", "both.cam.lash": "0.15 mm",
        "both.cam.durations.1.check_lift": "1 mm", "both.cam.durations.1.duration": "214 deg",
        "both.follower.rocker.ratio_from": "table", "both.follower.rocker.ratio_table": "3 1.52; 4.5 1.55; 6.2 1.54",
        "both.follower.rocker.ratio_table_from": "measured", "both.follower.rocker.pad_radius": "28 mm",
        "both.follower.rocker.mass": "52 g", "both.follower.rocker.materials": "coated on hardened steel",
        "both.follower.rocker.meets": "pad", "both.stack.pack": "assembled", "both.stack.outer.load_1": "370 N",
        "both.stack.outer.load_2": "810 N", "both.stack.damping": "flat damper", "both.stack.damper_thickness": "0.2 mm",
        "exhaust.cam.phaser_retard": "20 deg", "brief.opening_pressure": "5 bar", "brief.pulse_peak": "",
        "brief.back_pressure": "", "brief.back_pressure_ratio": "1.6", "engine.deck": "0.2 mm",
    }  # fmt: skip
    return typed(Build(name="Bramble, long-rod six", practice="sprint"), rows)


@cache
def teasel() -> Build:
    """Buckets, a table read at the valve with its lash, rate and free length, a skewed exhaust card, estimated drop."""
    outer = {"height_1": "", "load_1": "", "height_2": "", "load_2": "", "rate": "178 lbf/in", "free_length": "44.1 mm"}
    rows = _COMMON | under("both.stack.outer", outer) | {
        "engine.cylinders": "8", "engine.valves_per_cylinder": "4", "intake.cam.curve_lash": "0.2 mm",
        "exhaust.cam.peak_offset": "3 deg", "exhaust.cam.tdc_event": "1 deg", "exhaust.cam.bdc_event": "43 deg",
        "exhaust.cam.event_lift": "1 mm", "both.stack.damping": "interference fit", "both.stack.inner.outside": "21.0 mm",
        "both.clearance.drop_at_tdc": "", "engine.deck": "-0.1 mm", "engine.gasket": "45 thou",
        "both.clearance.recess": "1.8 mm", "both.clearance.pocket": "4.6 mm", "engine.milling": "0.25 mm",
        "both.clearance.floor": "square to the valve",
        "intake.cam.phaser_advance": "30 deg", "engine.pin_offset": "0.5 mm",
        "intake.cam.durations.1.duration": "218 deg", "both.stack.retainer.inner_step": "15.6 mm",
        "both.stack.locator.inner_spigot": "15.5 mm",
    }  # fmt: skip
    build = typed(Build(name="Teasel, inch-built eight"), rows, Evidence.MEASURED)
    return set_curve(build, "intake", readings(place=Place.VALVE, lash_mm=0.2, noise_mm=0.003))


OTHERS = (quill, sorrel, bramble, teasel)
"""Four whole builds that the demo does not have."""
