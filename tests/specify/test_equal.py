"""One combination of a million says what the full checks say of it alone."""

import math
import random
import sys
from collections.abc import Callable

import pytest

from arcstack.assess import Assessment, assess
from arcstack.assess.catalogue import checks
from arcstack.checks import Level
from arcstack.demo import demo_builds
from arcstack.document import Build, change
from arcstack.shelf import PartKind, changed
from arcstack.specify import VARIED, Ask, Found, Want, search
from arcstack.specify.measured import HEIGHT
from tests import builds
from tests.specify.shelves import Drawn

MAKES: tuple[Callable[[], Build], ...] = (
    lambda: demo_builds()[0], lambda: demo_builds()[1], builds.quill, builds.sorrel, builds.bramble, builds.teasel,
)  # fmt: skip
SAMPLED = 6


def asked(dice: random.Random) -> Ask:
    kinds = tuple(k for k in VARIED if dice.random() < 0.6)
    return Ask(kinds, keeps_fitted=dice.random() < 0.3, holds_target=dice.random() < 0.7, most_shims=2)


def drawn(seed: int) -> tuple[Assessment, str, Found]:
    dice = random.Random(seed)
    build = MAKES[seed % len(MAKES)]()
    side = dice.choice(("intake", "exhaust"))
    if dice.random() < 0.3:
        build = change(build, f"{side}.stack.height_basis", "bare")
    if dice.random() < 0.15:
        build = change(build, "brief.usual_speed", "")
    base = assess(build)
    ask = asked(dice)
    shelf = Drawn(seed, build, side).shelf(dice.choice((1, 2)) if len(ask.vary) > 4 else dice.choice((1, 3)))
    return base, side, search(base.sides[side], shelf, ask)


@pytest.mark.parametrize("seed", [*range(36), 76, 117])
def test_a_combination_says_what_the_full_checks_say(seed: int) -> None:
    base, side, found = drawn(seed)
    judged = {c.check for c in found.counts}
    for number in random.Random(seed).sample(range(found.space.size), min(SAMPLED, found.space.size)):
        row = found.row(number)
        ctx = base.sides[side].of(found.space.put_in(number))
        alone = assess(ctx.build)
        names = [o.name for o in row.parts.values() if o.part] + [row.shims.name]
        for check in judged - {HEIGHT}:
            v = next((v for v in alone.of_side(side) if v.id == check), None)
            where = f"seed {seed}, {check}, {number}: {names}"
            if v is None:
                assert row.levels.get(check, Level.CLEAR) is Level.CLEAR or not checks()[check].applies(ctx), where
                continue
            level = row.levels[check]
            if level is Level.OPEN and v.figure is not None and any(f.unsaid for f in v.figure.leaves):
                # a check puts in a default where the part says nothing; of parts that are chosen nothing is put in
                continue
            assert (level is Level.OPEN) == (v.level is Level.OPEN), f"{where}: {level}, {v.level} {v.note} {v.missing}"
            if v.figure is None:
                continue
            assert row.values[check] == pytest.approx(v.figure.value, rel=1e-9, abs=1e-9), where
            assert (level is Level.FAIL) == (v.level is Level.FAIL), where
            if v.figure.band is None:
                assert level is v.level, where


@pytest.mark.parametrize("seed", range(36))
def test_what_is_counted_is_what_each_combination_says(seed: int) -> None:
    _, _, found = drawn(seed)
    if found.space.size > 2500:
        pytest.skip("too many to be looked at one by one")
    failed = dict.fromkeys((c.check for c in found.counts), 0)
    unknown, alone = failed.copy(), failed.copy()
    would_do = []
    for number in range(found.space.size):
        levels = found.row(number).levels
        anyway = found.measured.open_anyway
        bad = [c for c, level in levels.items() if level is Level.FAIL or (level is Level.OPEN and c not in anyway)]
        for check in bad:
            (failed if levels[check] is Level.FAIL else unknown)[check] += 1
        if len(bad) == 1:
            alone[bad[0]] += 1
        if not bad:
            would_do.append(number)
    assert found.feasible.numbers.tolist() == would_do
    assert {c.check: (c.failed, c.unknown, c.alone) for c in found.counts} == {
        check: (failed[check], unknown[check], alone[check]) for check in failed
    }
    for number, speed, reserve in zip(
        would_do, found.feasible.columns[Want.SPEED], found.feasible.columns[Want.RESERVE], strict=True
    ):
        row = found.row(number)
        assert speed == pytest.approx(row.values["control.separation"], rel=1e-9)
        assert reserve == pytest.approx(row.reserve_mm, abs=1e-9)
        assert not math.isnan(reserve)


@pytest.mark.parametrize("seed", [4, 6, 8, 15, 20])
def test_a_search_in_small_blocks_is_the_same_search(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    _, _, whole = drawn(seed)
    assert whole.space.size > 20
    monkeypatch.setattr(sys.modules["arcstack.specify.search"], "BLOCK", 20)
    monkeypatch.setattr(sys.modules["arcstack.specify.search"], "ROWS_AT_ONCE", 7)
    monkeypatch.setattr(sys.modules["arcstack.specify.search"], "CELLS", 30)
    _, _, found = drawn(seed)
    assert found.counts == whole.counts
    assert found.feasible.numbers.tolist() == whole.feasible.numbers.tolist()
    assert found.best == whole.best


@pytest.mark.parametrize("seed", range(18))
def test_a_search_after_another_is_the_same_as_one_by_itself(seed: int) -> None:
    """What the first left beside the head is used again only where it still holds."""
    base, side, found = drawn(seed)
    dice = random.Random(seed)
    kept = [o.part for axis in found.space.axes.values() for o in axis if o.part] + [o.part for o in found.space.packs]
    parts = [p for p in kept if p is not None] + [p for s in found.space.shims for p in s.parts or ()]
    other = change(base.build, f"{side}.stack.valve.head", "31.5 mm")
    other = change(other, f"{side}.stack.retainer.depth", "2.9 mm")
    other = change(other, "brief.limiter", f"{dice.choice((7400, 7800))}")
    edited = [
        changed(p, "mass", f"{dice.uniform(6, 40):.2f} g") if p.kind is PartKind.RETAINER
        else changed(p, "outer.solid", f"{dice.uniform(20, 23):.2f} mm") if p.kind is PartKind.PACK
        else p
        for p in {p.key: p for p in parts}.values()
    ]  # fmt: skip
    warm = search(base.sides[side].of(other), edited, found.ask)
    cold = search(assess(other).sides[side], edited, found.ask)
    assert warm.counts == cold.counts
    assert warm.feasible.numbers.tolist() == cold.feasible.numbers.tolist()
    assert [(a.check, a.level, a.why) for a in warm.whatever] == [(a.check, a.level, a.why) for a in cold.whatever]
    some = dice.randrange(cold.space.size)
    assert warm.row(some).values == pytest.approx(cold.row(some).values, nan_ok=True)
    assert warm.row(some).levels == cold.row(some).levels
