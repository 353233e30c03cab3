"""What every formula promises: a source, and one answer for scalars and arrays alike."""

import ast
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest

import arcstack.mech
from arcstack.mech import airflow, contact, control, engine, fit, follower, gas, mass, piston, stack, timing
from arcstack.mech.cam import card
from arcstack.mech.spring import fatigue, geometry, stress, surge

FILES = sorted(Path(arcstack.mech.__path__[0]).rglob("*.py"))


def formulae() -> Iterator[tuple[str, str]]:
    for file in FILES:
        for node in ast.parse(file.read_text("utf-8")).body:
            if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                yield f"{file.stem}.{node.name}", ast.get_docstring(node) or ""


def test_every_public_formula_names_its_source() -> None:
    rows = list(formulae())
    assert len(rows) > 50
    assert [name for name, words in rows if "Source: " not in words] == []


def _open_height(height: Any, one: Any, other: Any, groove: Any, locator: Any) -> Any:
    return stack.open_height_as_fitted_mm(height, [one, other, groove], [locator])


RANGES: dict[Callable[..., Any], tuple[tuple[float, float], ...]] = {
    card.duration_rad: ((-0.3, 1.0), (0.2, 1.6)),
    card.centreline_rad: ((-0.3, 1.0), (0.2, 1.6)),
    follower.valve_lift_mm: ((4, 12), (1, 2)),
    follower.net_lift_mm: ((4, 12), (0, 0.5)),
    follower.tip_sweep_mm: ((25, 45), (-3, 8), (5, 12)),
    gas.area_mm2: ((20, 40),),
    gas.opening_force_N: ((28, 40), (5, 8), (0.5, 4), (0.5, 6)),
    gas.boost_rule_force_N: ((28, 40), (-0.5, 3)),
    _open_height: ((30, 42), (-1, 1), (-1, 1), (-1, 1), (0, 2)),
    stack.inner_height_mm: ((30, 42), (0, 3), (0, 2)),
    stack.reserve_mm: ((30, 42), (7, 13), (20, 26)),
    stack.retainer_to_seal_closed_mm: ((30, 42), (0, 2), (0, 5), (15, 25)),
    contact.bucket_edge_margin_mm: ((28, 40), (5, 16), (8, 16), (-2, 2)),
    geometry.surge_Hz: ((15, 60), (0.01, 0.06)),
    geometry.nest_gap_mm: ((25, 32), (3, 5), (15, 22), (0, 1)),
    stress.wahl_factor: ((3, 5), (18, 28)),
    stress.shear_MPa: ((100, 900), (3, 5), (18, 28)),
    fatigue.goodman_factor: ((200, 450), (500, 900), (3, 5)),
    piston.estimated_drop_at_tdc_mm: ((-0.2, 1), (0.5, 1.6), (0, 4), (0, 6), (0, 0.5)),
    piston.milling_loss_mm: ((0, 1), (0, 0.5)),
    control.cam_rad_per_s: ((500, 12000),),
    timing.tooth_rad: ((18, 60),),
    timing.milling_retard_rad: ((-1, 1), (18, 60), (8, 10)),
    airflow.curtain_mm2: ((20, 40), (0, 12)),
    airflow.throat_mm2: ((18, 36), (4, 8)),
    airflow.useful_lift_mm: ((22, 40), (18, 36), (4, 8)),
    fit.inside_mm: ((18, 30), (2, 5)),
    fit.tip_proud_mm: ((4, 8), (2, 5), (-1, 1)),
    engine.displacement_cm3: ((70, 100), (60, 100), (1, 12)),
    surge.order: ((300, 700), (5000, 9000)),
}


@pytest.mark.parametrize("formula", RANGES, ids=lambda f: f.__name__)
def test_scalars_and_arrays_give_the_same(formula: Callable[..., Any]) -> None:
    rng = np.random.default_rng(4)
    columns = [rng.uniform(low, high, 40) for low, high in RANGES[formula]]
    together = formula(*columns)
    rows = [formula(*(float(c[i]) for c in columns)) for i in range(40)]
    if isinstance(together, tuple):
        together, rows = np.stack(together, axis=1), [list(r) for r in rows]
    assert together == pytest.approx(np.array(rows), rel=1e-12)


def test_sums_take_arrays_too() -> None:
    a, b, c = np.array([0.04, 0.05]), np.array([0.01, 0.02]), np.array([0.03, 0.06])
    assert mass.moving_mass_kg([a, b], [c]) == pytest.approx([0.06, 0.09])
    assert stack.installed_height_mm(np.array([36.0, 37.0]), [a, b]) == pytest.approx([35.95, 36.93])


def test_an_array_with_one_value_out_of_range_is_refused() -> None:
    with pytest.raises(ValueError, match="larger than its wire"):
        stress.wahl_factor(np.array([4.0, 4.0]), np.array([20.0, 3.0]))
    with pytest.raises(ValueError, match="too short"):
        follower.tip_sweep_mm(np.array([30.0, 8.0]), np.array([5.0, 5.0]), np.array([10.0, 14.0]))
