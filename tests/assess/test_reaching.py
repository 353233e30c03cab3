"""The height solver: the worked case where nothing reaches, and what is found over the demo's shelf."""

import itertools

import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.assess.context import Context
from arcstack.assess.fit import Fits
from arcstack.demo.loader import demo_shelf
from arcstack.document import Build
from arcstack.errors import MissingInput
from arcstack.mech.shims import nearest, stacks
from arcstack.shelf import PartKind, ShelfPart, blank, changed
from arcstack.trials.reaching import Rank, Wish, search
from arcstack.units import System
from arcstack.web.pages.reaching import _order
from tests.builds import typed

SHELF = demo_shelf()


def head(**rows: str) -> Context:
    given = {
        "open_height": "39.40 mm", "retainer.offset": "2.5 mm", "locks.offset": "none", "target_height": "36.00 mm",
    } | {k.replace("__", "."): v for k, v in rows.items()}  # fmt: skip
    return assess(typed(template("bucket"), {f"intake.stack.{k}": v for k, v in given.items()})).sides["intake"]


def shims(*sizes: str) -> list[ShelfPart]:
    made = [
        changed(blank(f"{i:032x}", PartKind.SHIM, f"S {size}"), "thickness", f"{size} mm")
        for i, size in enumerate(sizes)
    ]
    return [changed(s, "hardened", "hardened") for s in made]


def named(name: str) -> ShelfPart:
    return next(p for p in SHELF if p.name == name)


def test_nothing_reaches_and_the_smallest_change_is_told() -> None:
    """As fitted 39.40 with a retainer of +2.5; locks of −1.2 and 2.0 of shims leave 36.20."""
    sizes = shims("1.0", "0.5", "0.4")
    found = search(head(), [named("L-6 −1.2"), *sizes], Wish((PartKind.LOCKS,)))
    assert found.rows == ()
    near = found.near
    assert near is not None
    assert [p.name for p in near.parts] == ["L-6 −1.2"]
    assert (near.height_mm, near.off_mm) == (pytest.approx(36.20), pytest.approx(0.20))
    change = next(c for c in found.changes if c.part == "retainer")
    assert (change.bound_mm, change.exact_mm, change.at_most) == (pytest.approx(2.43), pytest.approx(2.30), True)
    locator = next(c for c in found.changes if c.part == "locator")
    assert (locator.bound_mm, locator.at_most) == (pytest.approx(0.9 + 0.07), False)
    # the groove of the valve would do it too
    groove = next(c for c in found.changes if c.part == "valve")
    assert (groove.figure, groove.exact_mm, groove.at_most) == ("groove_offset", pytest.approx(-0.20), True)
    assert _order(groove, System.MM).startswith("any valve of groove offset ")
    # with a +0.0 retainer and standard locks: 36.90, shims 0.50 + 0.40
    found = search(head(), [named("R-7 Ti 0.0"), *sizes], Wish((PartKind.RETAINER,), rank=Rank.NEAREST))
    best = found.rows[0]
    assert ([p.name for p in best.parts], best.height_mm) == (["R-7 Ti 0.0"], pytest.approx(36.00))
    assert sorted(p.name for p in best.shims) == ["S 0.4", "S 0.5"]
    held = best.build.intake.stack
    assert held.open_height.value == pytest.approx(36.90)  # type: ignore[union-attr]
    figure = assess(best.build).verdict("stack.installed_height", "intake").figure
    assert figure is not None
    assert figure.value == pytest.approx(36.00)


def test_too_low_asks_the_other_way_round() -> None:
    found = search(head(open_height="35.50 mm"), shims("0.5"), Wish())
    assert found.near is not None
    assert (found.near.height_mm, found.near.shims) == (35.50, ())
    retainer = next(c for c in found.changes if c.part == "retainer")
    assert (retainer.bound_mm, retainer.at_most) == (pytest.approx(2.5 + 0.37), False)


@pytest.mark.parametrize("rank", list(Rank))
def test_every_stack_within_tolerance_is_found_and_ranked(rank: Rank) -> None:
    ctx = head(open_height="37.30 mm")
    sizes = ("0.25", "0.38", "0.51", "0.76", "1.02")
    found = search(ctx, shims(*sizes), Wish(rank=rank))
    by_hand = [
        c for n in range(4) for c in itertools.combinations_with_replacement(map(float, sizes), n)
        if sum(c) <= 2.0 + 1e-9 and abs(37.30 - sum(c) - 36.0) <= 0.13 + 1e-9
    ]  # fmt: skip
    assert found.reach == len(by_hand) > 3
    counts, off = [len(r.shims) for r in found.rows], [abs(r.off_mm) for r in found.rows]
    assert (counts if rank is Rank.FEWEST else off) == sorted(counts if rank is Rank.FEWEST else off)
    for row in found.rows:
        figure = assess(row.build).verdict("stack.installed_height", "intake").figure
        assert figure is not None
        assert figure.value == pytest.approx(row.height_mm, abs=1e-9)


def test_what_does_not_go_together_is_left_out() -> None:
    wish = Wish((PartKind.RETAINER, PartKind.LOCKS))
    found = search(head(), SHELF, wish)
    assert found.rows
    for row in found.rows:
        assert row.fits is not Fits.NOT
        levels = {v.id: v.level.value for v in assess(row.build).of_side("intake")}
        assert not [c for c in ("fit.taper", "fit.lock_stem", "fit.groove", "fit.lock_depth") if levels[c] == "fail"]
        assert "S-soft" not in " ".join(p.name for p in row.shims)
    few = search(head(), SHELF, Wish((PartKind.RETAINER,), on_hand_only=True))
    assert all(p.on_hand > 0 for r in few.rows for p in (*r.parts, *r.shims))


def test_read_bare_a_locator_and_offsets_are_added() -> None:
    ctx = head(height_basis="bare", open_height="36.90 mm", retainer__offset="0.5 mm", locator__thickness="0.9 mm")
    now = assess(ctx.build).verdict("stack.installed_height", "intake").figure
    assert now is not None
    found = search(ctx, [*shims("0.25", "0.1"), named("B-15s")], Wish((PartKind.LOCATOR,)))
    assert found.rows
    for row in found.rows:
        figure = assess(row.build).verdict("stack.installed_height", "intake").figure
        assert figure is not None
        assert figure.value == pytest.approx(row.height_mm, abs=1e-9)


def test_what_is_missing_is_asked_for() -> None:
    with pytest.raises(MissingInput) as told:
        search(assess(Build(name="x")).sides["intake"], SHELF, Wish())
    assert told.value.missing[0].path == "intake.stack.target_height"


def test_the_nearest_stack_is_of_fewest_shims() -> None:
    assert nearest(37.0, 36.0, stacks([0.5, 1.0], 3)).shims_mm == (1.0,)
    assert stacks([], 3) == stacks([0.5], 0)
    assert max(s.total_mm for s in stacks([0.9], 3, 2.0)) == 1.8
