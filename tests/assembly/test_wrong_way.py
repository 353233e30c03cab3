"""What the wrong way of putting a part in does to a build's own figures."""

import pytest

from arcstack.assembly.wrong_way import Moved, Pair, pairs
from arcstack.assess import assess
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.mech.spring.geometry import still_end_kg
from arcstack.mech.stack import upside_down_mm
from tests import builds

SOUND, _ = demo_builds()


def shown(key: str, build: Build = SOUND, side: str = "intake") -> tuple[Pair, ...]:
    return pairs(key, assess(build).sides[side])


def rows(pair: Pair) -> dict[str, Moved]:
    return {m.label: m for m in pair.moved}


def test_a_flat_backed_seat_upside_down_costs_the_outer_its_step_and_leaves_the_inner() -> None:
    flat, _ = shown("locator")
    found = rows(flat)
    assert (found["Installed height, outer"].right, found["Installed height, outer"].wrong) == pytest.approx(
        (36.0, 35.1)
    )
    assert (found["Reserve, outer"].right, found["Reserve, outer"].wrong) == pytest.approx((3.40, 2.50))
    assert (found["Reserve, inner"].right, found["Reserve, inner"].wrong) == pytest.approx((2.00, 2.00))
    assert found["Seat load, outer"].wrong - found["Seat load, outer"].right == pytest.approx(30.0 * 0.9, rel=1e-3)
    assert found["Seat load, inner"].wrong == found["Seat load, inner"].right


def test_one_pressed_from_sheet_gives_the_inner_what_it_takes_from_the_outer() -> None:
    found = rows(shown("locator")[1])
    assert (found["Reserve, outer"].wrong, found["Reserve, inner"].wrong) == pytest.approx((2.50, 2.90))
    assert found["Seat load, inner"].wrong < found["Seat load, inner"].right


def test_a_step_deeper_than_the_reserve_goes_solid_and_says_which() -> None:
    deep = change(SOUND, "intake.stack.locator.step", "3.6 mm")
    flat = shown("locator", deep)[0]
    assert rows(flat)["Reserve, outer"].fails
    assert flat.says.startswith("Goes solid before full lift: reserve, outer")
    assert not rows(shown("locator")[0])["Reserve, outer"].fails


def test_without_a_step_nothing_is_said_to_be_known() -> None:
    bare = change(SOUND, "intake.stack.locator.step", "")
    (only,) = shown("locator", bare)
    assert only.moved == ()
    assert "step of the locator" in only.needs
    assert upside_down_mm(0.0, True) == (0.0, 0.0)


def test_a_seal_off_its_stop_takes_its_half_millimetre_from_the_room() -> None:
    (pair,) = shown("seal")
    assert rows(pair)["Retainer to seal, full lift"].right == pytest.approx(1.4)
    assert rows(pair)["Retainer to seal, full lift"].wrong == pytest.approx(0.9)
    deep = SOUND.side("intake").stack.retainer.depth
    assert deep is not None
    tight = change(SOUND, "intake.stack.retainer.depth", f"{deep.value + 1.1:.3f} mm")
    assert rows(shown("seal", tight)[0])["Retainer to seal, full lift"].right == pytest.approx(0.3)
    assert shown("seal", tight)[0].says == "The retainer meets it at full lift."
    assert rows(shown("seal", tight)[0])["Retainer to seal, full lift"].fails


def test_one_lock_that_is_not_home_leaves_all_of_the_load_to_the_other() -> None:
    found = rows(shown("lock")[0])
    assert len(found) == 2
    for moved in found.values():
        assert moved.wrong == pytest.approx(2.0 * moved.right)
    assert found["Held by each lock, open"].wrong > found["Held by each lock, seated"].wrong


def test_coils_wound_shut_at_one_end_move_with_the_valve_when_that_end_is_up() -> None:
    close = change(change(SOUND, "intake.stack.outer.coils", "8"), "intake.stack.outer.active", "5")
    mass = close.side("intake").stack.outer.mass
    assert mass is not None
    (pair,) = shown("end", close)
    assert rows(pair)["Moving mass, outer up"].wrong - rows(pair)["Moving mass, outer up"].right == pytest.approx(
        mass.value / 8.0
    )
    assert "lower speed" in pair.says
    assert shown("end")[0].moved == ()
    assert "follow the mark" in shown("end")[0].says
    assert still_end_kg(0.05, 6.0, 5.0) == 0.0


def test_hands_are_told_where_they_are_known() -> None:
    assert "Look at both" in shown("hands")[0].says
    alike = change(change(SOUND, "intake.stack.outer.wound", "left"), "intake.stack.inner.wound", "left")
    assert "wound alike" in shown("hands", alike)[0].says
    apart = change(alike, "intake.stack.inner.wound", "right")
    assert "Outer left, inner right" in shown("hands", apart)[0].says


@pytest.mark.parametrize("key", ["locator", "seal", "lock", "end", "hands"])
@pytest.mark.parametrize("build", [*builds.OTHERS, lambda: Build(name="Bare")])
def test_every_other_build_is_told_something_or_what_it_lacks(key: str, build: object) -> None:
    made = build()  # type: ignore[operator]
    for side in ("intake", "exhaust"):
        for pair in shown(key, made, side):
            assert pair.moved or pair.needs or pair.says
            assert all(m.right == m.right and m.wrong == m.wrong for m in pair.moved)


def test_a_step_that_shows_nothing_has_no_pair() -> None:
    assert shown("") == ()
