"""How far a figure could go: the value just holds, a little past it fails, and what fails is what it says."""

import math

import pytest

from arcstack.application.starts import template
from arcstack.assess import Assessment, assess
from arcstack.checks import Level
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, change
from arcstack.errors import MissingInput
from arcstack.trials.room import BY_KEY, QUANTITIES, room, words
from arcstack.units import System
from tests.builds import quill, sorrel

SOUND, FAILING = demo_builds()


def fails(build: Build) -> set[tuple[str, str]]:
    return {(v.id, v.side or "") for v in assess(build).verdicts if v.judges and v.level is Level.FAIL}


@pytest.mark.parametrize(
    "make", [lambda: SOUND, lambda: FAILING, lambda: template("finger"), lambda: template("rocker")]
)
@pytest.mark.parametrize("key", [q.key for q in QUANTITIES])
def test_the_value_holds_and_just_past_it_the_check_fails(make: object, key: str) -> None:
    build = make()  # type: ignore[operator]
    found = room(assess(build), key)
    quantity = BY_KEY[key]
    before = fails(build)
    if found.first is None:
        assert fails(quantity.put(build, found.tried_to)) - before <= {("cam.card", "intake"), ("cam.card", "exhaust")}
        return
    span = found.tried_to - found.now
    card = {("cam.card", "intake"), ("cam.card", "exhaust")}
    assert fails(quantity.put(build, found.first.value)) - before - card == set()
    past = fails(quantity.put(build, found.first.value + 0.01 * span))
    assert (found.first.check, found.first.side) in past - before
    assert found.now <= found.first.value <= found.tried_to
    if found.next is not None:
        assert found.next.value >= found.first.value
        assert found.next.check != found.first.check
    for system in System:
        assert words(found, system).startswith("to ")


def test_the_limiter_goes_as_far_as_the_head_holds_to() -> None:
    """Force reserve q = (n_s/n)² of 1.25 at least: the limiter may go to n_s/√1.25 of the weaker side."""
    now: Assessment = assess(SOUND)
    least = min(f.value for s in ("intake", "exhaust") if (f := now.verdict("control.separation", s).figure))
    found = room(now, "limiter")
    assert found.first is not None
    assert (found.first.check, found.first.side) == ("control.force_reserve", "exhaust")
    assert found.first.value == pytest.approx(least / 1.25**0.5, rel=2e-3)


def test_what_fails_already_is_named_and_left_out() -> None:
    found = room(assess(FAILING), "limiter")
    assert "Inner reserve" in found.failing
    assert found.first is not None
    assert found.first.check != "spring.reserve.inner"


def test_a_figure_that_stands_nowhere_or_on_a_measured_curve_says_so() -> None:
    with pytest.raises(MissingInput, match="limiter"):
        room(assess(Build(name="x")), "limiter")
    with pytest.raises(MissingInput, match="duration"):
        room(assess(quill()), "duration")
    with pytest.raises(KeyError):
        room(assess(SOUND), "wings")
    # assumed from boost where it is not given
    bare = change(SOUND, "brief.back_pressure", "")
    assert room(assess(bare), "back_pressure").now == pytest.approx(1.5 * 1.3, rel=0.2)


def test_inch_built_heads_are_worked_too() -> None:
    found = room(assess(sorrel()), "boost")
    assert "psi" in words(found, System.INCH)


def test_it_goes_no_further_than_a_field_a_stop_or_the_head_itself_allows() -> None:
    held = change(change(SOUND, "intake.cam.phaser_limit", "40 deg"), "intake.cam.phaser_held", "a stop")
    found = room(assess(held), "advance")
    assert math.degrees(found.tried_to) == pytest.approx(40.0, abs=0.01)
    assert found.stopped == "a stop limits the phaser"
    free = room(assess(change(held, "intake.cam.phaser_held", "not said")), "advance")
    assert math.degrees(free.tried_to) > 60.0
    most = FIELDS["intake.cam.lobe_lift"].quantity
    assert most is not None
    lift = room(assess(change(SOUND, "intake.cam.lobe_lift", f"{0.9 * most.high} mm")), "lift")
    assert lift.tried_to > 0.95 * most.high
    assert lift.tried_to <= most.high + 1e-6
    assert "is not between" in lift.stopped
    # no limiter stands above its own overspeed
    speed = room(assess(SOUND), "limiter")
    assert speed.tried_to <= 8700.0
    assert speed.stopped.startswith("Overspeed is below the limiter")
    if speed.first is None or speed.next is None:
        assert "where it ends: Overspeed is below the limiter" in words(speed, System.MM)


def test_what_waits_for_a_sweep_is_named_as_not_tried() -> None:
    found = room(assess(SOUND), "limiter")
    waits = {v.title for v in assess(SOUND).verdicts if v.judges and v.waiting}
    assert waits
    assert set(found.waiting) == waits
    assert "Not tried, since each needs its sweep: " in words(found, System.MM)
