"""Trays of a head that does not exist: the same for everyone, read by the same data, with conflicts among them."""

import pytest

from arcstack.wear.signs import causes, chains
from arcstack.wear.trays import READINGS, TRAYS, answered, lesson

SEEDS = range(1, 91)


def test_every_seed_leads_to_its_hidden_cause_and_one_in_three_conflicts() -> None:
    for seed in SEEDS:
        of = lesson(seed)
        assert of.diagnosis.leader is not None
        assert of.diagnosis.leader.cause.id == of.cause, seed
        assert bool(of.diagnosis.conflict) is (seed % 3 == 0), seed


def test_the_same_seed_is_the_same_head_and_others_are_others() -> None:
    assert lesson(11) == lesson(11)
    assert len({lesson(s).cause for s in SEEDS}) >= len(causes()) - 2
    assert len({tuple(t.place for t in lesson(s).trays) for s in SEEDS}) > 80


def test_three_trays_by_place_hold_signs_absent_and_normal_ones_among_them() -> None:
    absent = normal = 0
    for seed in SEEDS:
        of = lesson(seed)
        places = [t.place for t in of.trays]
        assert len(set(places)) == TRAYS
        assert places == sorted(places)
        rows = [(s, f) for t in of.trays for s, f in t.shown]
        assert all(f.places == (t.place,) for t in of.trays for _, f in t.shown)
        absent += any(f.absent for _, f in rows)
        normal += any(s.normal for s, _ in rows)
    assert normal == len(SEEDS)
    assert absent > len(SEEDS) // 2


def test_an_answer_is_right_or_in_the_chain_or_neither() -> None:
    of = next(lesson(s) for s in SEEDS if lesson(s).cause == "load_lost")
    assert answered(of, "load_lost", "springs").right
    assert answered(of, "load_lost", "springs").decides
    near = answered(of, "float", "runout")
    assert (near.right, near.same_chain, near.decides) == (False, True, False)
    far = answered(of, "hit", "look")
    assert (far.right, far.same_chain) == (False, False)
    with pytest.raises(KeyError):
        answered(of, "bad luck", "look")


def test_every_reading_that_a_cause_or_chain_names_can_be_chosen() -> None:
    named = {c.reading for c in causes().values()} | {c.reading for c in chains()}
    assert named <= set(READINGS)
