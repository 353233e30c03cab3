"""Traps that belong to assembly, the turbo side and the head that comes back, each caught by its name."""

import pytest

from arcstack.assembly.counts import counts_of
from arcstack.assess import assess
from arcstack.demo import demo_builds
from arcstack.demo.returned import returned_head
from arcstack.document import change
from arcstack.errors import FieldError
from arcstack.mech.clamping import preload_by_torque_N
from arcstack.readings import Sheet
from arcstack.readings.assembling import State
from arcstack.readings.mock_up import Closed, Stood
from arcstack.readings.returning import What, named
from arcstack.wear.dispositions import dispose, take_remedy
from arcstack.wear.order import passes
from arcstack.wear.signs import signs
from tests.assembly.hands import WEN, Builder

SOUND, _ = demo_builds()


def test_checking_springs_left_in() -> None:
    hand = Builder(SOUND)
    stood = Stood(0, "intake", 0.2, 1.15, 1.15, 0.0, "", True, True, True, WEN)
    hand.bench.happened(stood)
    hand.bench.happened(Closed(0, "intake", 32, 32, True, True, "maker", WEN))
    hand.own_all()
    for step in ("tools", "wash", "seats"):
        hand.do(step)
    with pytest.raises(FieldError, match="31 of 32, 1 short"):
        hand.do("checking_out", **{"count.checking.intake": "31"})
    with pytest.raises(FieldError, match="Not yet: Checking springs out is to do"):
        hand.do("valves")


def test_a_lash_pattern_adjusted_away() -> None:
    _, _, events = returned_head()
    with pytest.raises(FieldError, match="the shim hides it until a spring breaks"):
        take_remedy("thinner_shim", named(events), "", WEN)


def test_a_head_cleaned_before_it_was_looked_at() -> None:
    build, readings, events = returned_head()
    fresh = Sheet(build, readings, events[:1])
    with pytest.raises(FieldError, match="Receive the head first"):
        passes(fresh.events, "cleaned", "it was dirty", 3, WEN)
    came = [e for e in events if type(e).__name__ == "Received"]
    with pytest.raises(FieldError, match="photographed before any cleaning comes first"):
        passes(came, "cleaned", "it was dirty", 3, WEN)


def test_evidence_kept_after_the_part_was_exchanged() -> None:
    hand = Builder(SOUND)
    hand.all_until("locks")
    found = hand.standing(change(SOUND, "intake.stack.locks.code", "L-99"))
    assert found["locks"].state is State.REOPENED
    assert found["retainers"].state is State.DONE


def test_a_lock_that_fits_but_sits_deep_is_a_sign_of_its_own() -> None:
    assert dict(signs()["lock_deep"].weights) == {"wrong_assembly": 3}


def test_the_same_wrench_with_another_lubricant() -> None:
    moly, dry = (preload_by_torque_N(90.0, k, 11.0) for k in (0.13, 0.20))
    assert dry / moly == pytest.approx(0.65)


def test_one_spring_standing_for_the_set() -> None:
    hand = Builder(SOUND)
    ctx = assess(SOUND).sides["intake"]
    with pytest.raises(FieldError, match="For one alone, say why"):
        dispose(hand.sheet, ctx, hand.bench.places[0], "springs", What.REPLACE, {}, WEN)
    with pytest.raises(FieldError, match="Springs of one life go as a set"):
        take_remedy("one_spring", (), "", WEN)


def test_one_reading_proving_sixteen() -> None:
    hand = Builder(SOUND)
    hand.bench.readings = [r for r in hand.bench.readings if r.key != "shims" or r.place != "4E-b"]
    locators = hand.standing()["locators"].step
    from_counts = {c.key: c for c in counts_of(locators, hand.sheet)}
    assert from_counts["shims.exhaust"].wanted is None
    assert "4E-b" in from_counts["shims.exhaust"].why
