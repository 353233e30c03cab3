"""The core against worked figures obtained apart from it. ``--cases FILE`` runs another file of the same shape."""

import json
import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import at_speed
from arcstack.formats.curve_table import read_table
from arcstack.mech import (
    airflow,
    bench,
    clamping,
    compression,
    contact,
    control,
    degreeing,
    gas,
    lash,
    piston,
    pushed,
    shims,
    stack,
)
from arcstack.mech.cam import card, facts
from arcstack.mech.cam.law import LiftLaw, SymmetricLobe
from arcstack.mech.cam.smoothing import smooth
from arcstack.mech.spring import geometry, rate, stress
from arcstack.mech.timing import tooth_rad
from tests.specify import grid

Given = dict[str, Any]
Worked = dict[str, Any]

NOT_YET_BUILT: tuple[str, ...] = ()


def lobe(g: Given) -> SymmetricLobe:
    return SymmetricLobe.polynomial(g["h_mm"], math.radians(g["beta_cam_deg"]), tuple(float(p) for p in g["powers"]))


def spring_geometry(g: Given) -> Worked:
    wire, mean, coils = g["wire_mm"], g["mean_diameter_mm"], g["active_coils"]
    k = geometry.rate_N_per_mm(geometry.cylindrical(wire, mean, coils), g["shear_modulus_GPa"] * 1000)
    m = geometry.active_mass_kg(geometry.cylindrical(wire, mean, coils), g["density_kg_m3"])
    return {"rate_N_per_mm": k, "active_mass_g": m * 1000, "surge_Hz": geometry.surge_Hz(k, m)}


def spring_stress(g: Given) -> Worked:
    wire, mean = g["wire_mm"], g["mean_diameter_mm"]
    return {
        "index": mean / wire,
        "wahl": stress.wahl_factor(wire, mean),
        "shear_MPa": stress.shear_MPa(g["load_N"], wire, mean),
    }


def spring_dual(g: Given) -> Worked:
    heights = {"outer": g["H"], "inner": stack.inner_height_mm(g["H"], g["retainer_step"], g["seat_step"])}
    out: Worked = {}
    for name, height in heights.items():
        spring = rate.LinearSpring(g[name]["rate"], g[name]["free"])
        out[f"seat_load_{name}_N"] = spring.load_N(height)
        out[f"open_load_{name}_N"] = spring.load_N(height - g["lift"])
        out[f"coil_bind_{name}_mm"] = stack.reserve_mm(height, g["lift"], g[name]["solid"])
    out["seat_load_N"] = out["seat_load_outer_N"] + out["seat_load_inner_N"]
    out["open_load_N"] = out["open_load_outer_N"] + out["open_load_inner_N"]
    return out


def lobe_facts(g: Given) -> Worked:
    return lobe_facts_of(lobe(g), g["base_circle_radius_mm"])


def lobe_facts_of(law: LiftLaw, base_radius_mm: float) -> Worked:
    found = facts.facts(law)
    return {
        "max_lift_mm": found.max_lift_mm,
        "peak_velocity_mm_per_rad": found.peak_velocity_mm_per_rad,
        "peak_accel_mm_per_rad2": found.peak_accel_mm_per_rad2,
        "min_accel_mm_per_rad2": found.min_accel_mm_per_rad2,
        "min_radius_of_curvature_mm": facts.flat_follower_min_radius_mm(law, base_radius_mm),
        "bucket_contact_eccentricity_mm": found.peak_velocity_mm_per_rad,
    }


def lobe_duration(g: Given) -> Worked:
    return {"durations_crank_deg": [math.degrees(facts.duration_crank_rad(lobe(g), c)) for c in g["check_lifts_mm"]]}


def lobe_table(g: Given) -> Worked:
    """What a reader recovers from the rounded table, written out as text first."""
    text = "\n".join(f"{a:g}\t{y:g}" for a, y in zip(g["cam_deg_from_nose"], g["lift_mm"], strict=True))
    reading = read_table(text)
    assert reading.sound
    law = smooth(np.array(reading.cam_rad), np.array(reading.lift_mm)).law
    got = lobe_facts_of(law, g["base_circle_radius_mm"])
    return got | {"durations_crank_deg": [math.degrees(facts.duration_crank_rad(law, c)) for c in (1.0, 1.27)]}


def contact_hertz(g: Given) -> Worked:
    pressure = contact.hertz_line_MPa(g["load_N"], g["width_mm"], g["radius_of_curvature_mm"])
    return {"peak_pressure_MPa": float(pressure)}


def control_separation(g: Given) -> Worked:
    out: Worked = {}
    for name, force in (("without_gas", 0.0), ("with_gas", g["opening_force_N"])):
        found = control.RigidTrain(
            lobe(g), control.LinearPack(g["seat_load_N"], g["rate_N_per_mm"]), g["mass_g"] / 1000, g["lash_mm"], force
        ).separation()
        assert found is not None
        out[name] = {"rpm": found.rpm, "at_cam_deg_from_nose": abs(math.degrees(found.cam_rad))}
    return out


def gas_force(g: Given) -> Worked:
    return {"opening_force_N": gas.opening_force_N(g["head_mm"], g["stem_mm"], g["port_bar_abs"], g["chamber_bar_abs"])}


def piston_drop(g: Given) -> Worked:
    crank = np.radians(np.array(g["crank_deg"], dtype=float))
    return {"drop_mm": piston.piston_drop_mm(crank, g["stroke"], g["rod"], g["pin_offset"]).tolist()}


def piston_clearance(g: Given) -> Worked:
    pair = piston.ValveToPiston(
        lobe(g),
        math.radians(g["centreline_crank_deg_after_tdc"]),
        g["drop_at_tdc_mm"],
        math.radians(g["valve_angle_deg"]),
        g["stroke_mm"],
        g["rod_mm"],
    )
    phaser = math.radians(g["phaser_advance_crank_deg"])
    found = pair.least_gap(phaser, phaser, g["lash_mm"])
    return {"min_mm": found.gap_mm, "at_crank_deg": math.degrees(found.crank_rad)}


def timing_centreline(g: Given) -> Worked:
    events = math.radians(g["opens_btdc"]), math.radians(g["closes_abdc"])
    return {
        "duration": math.degrees(card.duration_rad(*events)),
        "centreline_atdc": math.degrees(card.centreline_rad(*events)),
    }


def true_tdc(g: Given) -> Worked:
    error = degreeing.pointer_error_rad(math.radians(g["before"]), math.radians(g["after"]))
    return {"pointer_error_deg": math.degrees(error)}


def degree(g: Given) -> Worked:
    error = math.radians(g["pointer_error_deg"])
    read = degreeing.flanks_read(math.radians(g["opens_read_btdc"]), math.radians(g["closes_read_abdc"]), error)
    advance = degreeing.advance_rad(math.radians(g["card_centreline_atdc"]), read.centreline)
    return {
        "opens_btdc": math.degrees(read.by_tdc),
        "closes_abdc": math.degrees(read.by_bdc),
        "duration": math.degrees(read.duration),
        "centreline_atdc": math.degrees(read.centreline),
        "advance_crank_deg": math.degrees(advance),
        "turn_camshaft_in_gear_cam_deg": math.degrees(degreeing.turn_in_gear_rad(advance)),
        "one_tooth_crank_deg": math.degrees(tooth_rad(g["teeth"])),
    }


def piston_measured(g: Given) -> Worked:
    """The drop is not given: the model starts far off, and is corrected to what was pushed."""
    pair = piston.ValveToPiston(
        lobe(g), math.radians(g["centreline_crank_deg_after_tdc"]), 3.0, math.radians(g["valve_angle_deg"]),
        g["stroke_mm"], g["rod_mm"],
    )  # fmt: skip
    pushes = [pushed.Push(math.radians(a), c) for a, c in zip(g["crank_deg"], g["clearance_mm"], strict=True)]
    drop = pushed.drop_that_fits_mm(pair, pushes, g["lash_mm"])
    found = replace(pair, drop_at_tdc_mm=drop).least_gap(lash_mm=g["lash_mm"])
    return {"drop_at_tdc_mm": drop, "least_mm": found.gap_mm, "at_crank_deg": math.degrees(found.crank_rad)}


def _needed(g: Given) -> list[float]:
    pairs = zip(g["fitted_mm"], g["measured_mm"], strict=True)
    return [float(lash.needed_mm(fitted, measured, g["target_mm"])) for fitted, measured in pairs]


def new_shims(g: Given) -> Worked:
    return {"new_shim_mm": [lash.nearest(needed, g["shelf_mm"]) for needed in _needed(g)]}


def swapped_shims(g: Given) -> Worked:
    return {"new_shims_needed": lash.swapped(g["fitted_mm"], _needed(g), g["tolerance_mm"]).new}


def one_mass(g: Given) -> Worked:
    """The elastic train with springs of no mass, its first turn."""
    train = Train(
        lobe(g),
        g["mass_g"] / 1000,
        (Chain(g["seat_load_N"], g["spring_rate_N_per_mm"], to_solid_mm=50.0),),
        g["lash_mm"],
        g["train_stiffness_N_per_mm"],
        g["damping_ratio"],
        g["valve_seat_stiffness_N_per_mm"],
        g["valve_seat_damping_ratio"],
    )
    found = at_speed(train, g["rpm"], turns=1)
    return {
        "max_valve_lift_mm": found.max_lift_mm,
        "peak_contact_N": found.peak_contact_N,
        "min_contact_on_lobe_N": found.min_contact_N,
        "largest_separation_mm": found.separation_mm,
        "seating_velocity_m_per_s": found.seating_m_per_s,
        "bounce_mm": found.bounce_mm,
    }


def stack_shims(g: Given) -> Worked:
    best = shims.nearest(g["open_height_mm"], g["target_mm"], shims.stacks(g["sizes_mm"], g["most"]))
    left = stack.installed_height_mm(g["open_height_mm"], best.shims_mm)
    return {"installed_mm": left, "shims": len(best.shims_mm), "total_mm": best.total_mm}


def flow_useful_lift(g: Given) -> Worked:
    return {
        "useful_lift_mm": airflow.useful_lift_mm(g["head_mm"], g["throat_mm"], g["stem_mm"]),
        "throat_to_head": g["throat_mm"] / g["head_mm"],
    }


def spring_assign(g: Given) -> Worked:
    loads = bench.loads_N(g["load_N"], g["rate_N_per_mm"], g["height_mm"], g["installed_mm"])
    return {
        "least_spread_N": bench.least_spread(loads).spread_N,
        "spread_as_laid_N": float(np.ptp(np.diag(loads))),
    }


def tolerance_reserve(g: Given) -> Worked:
    at = {name: pair[0] for name, pair in g.items()}
    height = stack.installed_height_mm(at["open_height"], [at["shims"]])
    inner = stack.inner_height_mm(height, at["retainer_step"], at["seat_step"])
    reserve = stack.reserve_mm(inner, at["gross_lift"], at["solid"])
    worst, likely = bench.worst_and_likely([pair[1] for pair in g.values()])
    return {"reserve_mm": reserve, "worst_mm": reserve - worst, "rss_half_width_mm": likely}


def seat_vacuum(g: Given) -> Worked:
    constant = bench.vacuum_time_constant_s(g["first_bar"], g["second_bar"], g["seconds"])
    return {"time_constant_s": constant, "half_life_s": bench.half_life_s(constant)}


def head_clamp(g: Given) -> Worked:
    gas = clamping.gas_force_N(g["peak_pressure_bar"], g["gasket_bore_mm"]) / 1000.0
    alone = g["preload_kN"] * clamping.studs_of_cylinder(g["fasteners"], 1.0)
    held = g["preload_kN"] * clamping.studs_of_cylinder(g["fasteners"], g["shared_between"])
    return {"gas_force_kN": gas, "clamp_kN": held, "ratio": held / gas, "ratio_unshared": alone / gas}


def engine_compression(g: Given) -> Worked:
    swept = compression.cylinder_cc(g["bore_mm"], g["stroke_mm"])
    above = compression.Volumes(
        g["chamber_cc"], compression.cylinder_cc(g["gasket_bore_mm"], g["gasket_mm"]),
        compression.cylinder_cc(g["bore_mm"], g["deck_mm"]), g["dish_cc"],
    )  # fmt: skip
    return {
        "swept_cc": swept, "engine_cc": swept * g["cylinders"], "clearance_cc": above.clearance,
        "ratio": compression.ratio(swept, above.clearance),
    }  # fmt: skip


SOLVERS: dict[str, Callable[[Given], Worked]] = {
    "spring.geometry": spring_geometry,
    "spring.stress": spring_stress,
    "spring.dual": spring_dual,
    "lobe.facts": lobe_facts,
    "lobe.duration": lobe_duration,
    "lobe.table": lobe_table,
    "contact.hertz": contact_hertz,
    "control.separation": control_separation,
    "gas.force": gas_force,
    "piston.drop": piston_drop,
    "piston.clearance": piston_clearance,
    "timing.centreline": timing_centreline,
    "timing.true_tdc": true_tdc,
    "timing.degree": degree,
    "piston.measured": piston_measured,
    "lash.new_shim": new_shims,
    "lash.swap": swapped_shims,
    "dynamics.one_mass": one_mass,
    "stack.shims": stack_shims,
    "flow.useful_lift": flow_useful_lift,
    "specify.grid": grid.worked,
    "spring.assign": spring_assign,
    "spring.assign_uneven": spring_assign,
    "tolerance.reserve": tolerance_reserve,
    "head.clamp": head_clamp,
    "engine.compression": engine_compression,
    "seat.vacuum": seat_vacuum,
}


def compare(expected: Any, got: Any, tolerance: dict[str, float], where: str) -> None:
    if isinstance(expected, dict):
        for key, value in expected.items():
            compare(value, got[key], tolerance, f"{where}.{key}")
    elif isinstance(expected, list):
        assert len(expected) == len(got), where
        for i, (a, b) in enumerate(zip(expected, got, strict=True)):
            compare(a, b, tolerance, f"{where}[{i}]")
    else:
        assert got == pytest.approx(expected, rel=tolerance["rel"], abs=tolerance.get("abs", 0.0)), where


def named(table: Any, case_id: str) -> Any:
    return next((name for name in table if case_id == name or case_id.startswith(name + ".")), None)


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    if "case" in metafunc.fixturenames:
        cases = json.loads(Path(metafunc.config.getoption("--cases")).read_text())
        metafunc.parametrize("case", cases, ids=[c["id"] for c in cases])


def test_case(case: dict[str, Any]) -> None:
    solver = named(SOLVERS, case["id"])
    if solver is None:
        assert named(NOT_YET_BUILT, case["id"]), f"{case['id']} is neither solved nor named as not yet built"
        pytest.skip(f"{case['id']}: not yet built")
    compare(case["expect"], SOLVERS[solver](case["given"]), case["tolerance"], case["id"])
