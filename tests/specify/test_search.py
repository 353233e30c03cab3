"""What a search says of a whole shelf: order, ends, and why nothing would do."""

import math
from dataclasses import replace

import numpy as np
import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.assess.context import Context
from arcstack.assess.stack import installed_height
from arcstack.checks import Evidence, Level
from arcstack.demo import demo_builds
from arcstack.demo.loader import demo_shelf
from arcstack.document import Build, Entry, change, clear, set_cam, set_curve
from arcstack.document.load_table import read_load_table
from arcstack.errors import MissingInput, NothingThere, Stopped, TooMany
from arcstack.shelf import PartKind, ShelfPart, changed
from arcstack.shelf.fitting import together
from arcstack.specify import Ask, Found, Want, search
from arcstack.specify.cams import WithCam, with_each
from arcstack.specify.changes import changes
from arcstack.specify.measured import HEIGHT
from arcstack.specify.rank import frontier, ranked
from arcstack.specify.space import space
from arcstack.specify.whynot import Answer, NoAnswer, answers, in_order_of_cost, of_part, untold
from tests.builds import readings

K = PartKind
SHELF = list(demo_shelf())
USUAL = Ask((K.PACK, K.RETAINER, K.LOCKS, K.SHIM))


def side(build: Build, name: str = "intake") -> Context:
    return assess(build).sides[name]


def named(name: str) -> ShelfPart:
    return next(p for p in SHELF if p.name == name)


def test_one_combination_by_hand() -> None:
    """KD-28 over R-7 St 0.0 with L-6 +0.5 in the demo's first head, from the figures on the shelf."""
    build = demo_builds()[0]
    found = search(side(build), SHELF, USUAL)
    row = next(
        r for r in map(found.row, found.feasible.numbers.tolist())
        if {"KD-28", "R-7 St 0.0", "L-6 +0.5"} <= {o.name for o in r.parts.values()}
    )  # fmt: skip
    stack, pack = build.intake.stack, named("KD-28")
    assert stack.open_height is not None
    # read as fitted, so that only what differs from the fitted parts moves it
    was = [stack.retainer.offset, stack.locks.offset]
    moved = 0.0 + 0.5 - sum(o.value for o in was if o is not None and hasattr(o, "value"))
    height = stack.open_height.value + moved - row.shims.total_mm
    assert row.values["stack.installed_height"] == pytest.approx(height, abs=1e-9)
    loads = []
    for name, at in (("outer", height), ("inner", height - 1.5 - 0.9)):
        h1, f1, h2, f2 = (pack.at(f"{name}.{f}").value for f in ("height_1", "load_1", "height_2", "load_2"))
        loads.append(f1 + (f2 - f1) / (h1 - h2) * (h1 - at))
    step = named("R-7 St 0.0").at("step").value + stack.locator.step.value  # type: ignore[union-attr]
    assert step == pytest.approx(1.5 + 0.9)
    assert row.values["spring.seat_load"] == pytest.approx(sum(loads), abs=1e-6)
    assert row.price == pytest.approx(sum(p.price.value for p in row.chosen if p.price))


def test_wants_in_turn_and_weighed() -> None:
    columns = {
        Want.SPEED: np.array([9000.2, 9000.0, 8800.0, np.nan]), Want.PRICE: np.array([80.0, 60.0, 20.0, 1.0]),
        Want.RESERVE: np.array([1.0, 1.0, 3.0, 3.0]), Want.FRICTION: np.array([100.0, 90.0, 95.0, 80.0]),
        Want.ON_HAND: np.array([0.0, 1.0, 2.0, 0.0]),
    }  # fmt: skip
    kinds = (K.PACK,)
    assert ranked(columns, Ask(kinds, (Want.SPEED, Want.PRICE)), 9).tolist() == [1, 0, 2, 3]
    assert ranked(columns, Ask(kinds, (Want.SPEED, Want.RESERVE)), 2).tolist() == [0, 1]
    assert ranked(columns, Ask(kinds, (Want.ON_HAND, Want.FRICTION)), 9).tolist() == [3, 0, 1, 2]
    assert ranked(columns, Ask(kinds, (Want.SPEED, Want.PRICE), (0.0, 1.0)), 1).tolist() == [3]
    # the cheapest is a quarter of the way along speed and all of the way along price
    assert ranked(columns, Ask(kinds, (Want.SPEED, Want.PRICE), (1.0, 3.0)), 2).tolist()[0] == 2
    with pytest.raises(ValueError, match="each want"):
        Ask(kinds, (Want.SPEED,), (1.0, 2.0))
    with pytest.raises(ValueError, match="wanted"):
        Ask(kinds, ())


def test_the_first_of_many_are_those_of_a_whole_sort() -> None:
    dice = np.random.default_rng(11)
    columns = {w: np.round(dice.random(500) * 5.0) for w in Want}
    for wants in ((Want.PRICE, Want.SPEED), (Want.ON_HAND, Want.PRICE, Want.SPEED)):
        found = ranked(columns, Ask((K.PACK,), wants), 60)
        signs = {Want.SPEED: -1.0, Want.PRICE: 1.0, Want.ON_HAND: 1.0}
        whole = sorted(range(500), key=lambda i: (*(signs[w] * columns[w][i] for w in wants), i))
        assert found.tolist() == whole[:60]
    # what pages show as equal is equal, what they show apart is not
    near = {w: np.zeros(2) for w in Want} | {Want.FRICTION: np.array([100.04, 100.0]), Want.PRICE: np.array([1.0, 2.0])}
    assert ranked(near, Ask((K.PACK,), (Want.FRICTION, Want.PRICE)), 2).tolist() == [0, 1]
    apart = near | {Want.FRICTION: np.array([100.16, 100.0])}
    assert ranked(apart, Ask((K.PACK,), (Want.FRICTION, Want.PRICE)), 2).tolist() == [1, 0]


def test_the_frontier_holds_each_that_nothing_beats() -> None:
    random = np.random.default_rng(3)
    points = np.round(random.random((400, 3)), 2)
    kept = set(frontier(list(points.T)).tolist())
    distinct = {tuple(p) for p in points}
    for at, point in enumerate(points):
        beaten = any(all(a <= b for a, b in zip(q, point, strict=True)) and q != tuple(point) for q in distinct)
        if at in kept:
            assert not beaten
        elif not beaten:
            assert any(tuple(points[k]) == tuple(point) for k in kept)


def test_a_search_is_counted_and_stopped() -> None:
    told: list[tuple[int, int]] = []
    ask = replace(USUAL, vary=(*USUAL.vary, K.LOCATOR))
    found = search(side(demo_builds()[0]), SHELF, ask, lambda a, b: told.append((a, b)), lambda: len(told) > 2)
    assert found.stopped
    assert 0 < found.tried < found.space.size
    assert told[0][1] == found.space.size
    assert [a for a, _ in told] == sorted(a for a, _ in told)


def test_what_cannot_be_searched_says_why(monkeypatch: pytest.MonkeyPatch) -> None:
    build = demo_builds()[0]
    for path in ("brief.limiter", "intake.cam.lobe_lift"):
        with pytest.raises(MissingInput) as told:
            search(side(clear(template("bucket"), path)), SHELF, USUAL)
        assert told.value.missing[0].path.startswith(path.rpartition(".")[0])
    with pytest.raises(NothingThere, match="No spring pack"):
        search(side(build), [p for p in SHELF if p.kind is not K.PACK], USUAL)
    with pytest.raises(TooMany) as many:
        search(side(build), SHELF, Ask((K.PACK, K.RETAINER, K.LOCKS, K.SHIM, K.VALVE, K.LOCATOR, K.BUCKET, K.SEAL)))
    assert many.value.size > many.value.most
    nothing = search(side(build), SHELF, Ask(()))
    assert nothing.space.size == 1
    assert len(nothing.feasible) == 1
    assert nothing.row(0).chosen == ()


def test_of_equal_stacks_the_fewest_shims_are_laid() -> None:
    over = space(demo_builds()[0], "intake", SHELF, replace(USUAL, most_shims=3), 8)
    totals = [s.total_mm for s in over.shims]
    assert totals == sorted(set(totals))
    sizes = {p.at("thickness").value for p in SHELF if p.kind is K.SHIM and str(p.at("hardened")) != "not hardened"}
    assert all(len(s.parts or ()) == 1 for s in over.shims if s.total_mm in sizes)
    assert over.shims[0].parts == ()


def test_a_height_that_no_longer_stands_turns_a_combination_away() -> None:
    build = clear(demo_builds()[0], "intake.stack.retainer.offset")
    found = search(side(build), SHELF, USUAL)
    counted = next(c for c in found.counts if c.check == HEIGHT)
    assert counted.unknown == found.space.size
    assert not len(found.feasible)
    # taken bare there is nothing to forget
    bare = search(side(change(build, "intake.stack.height_basis", "bare")), SHELF, USUAL)
    assert next(c for c in bare.counts if c.check == HEIGHT).unknown == 0


def test_a_spring_stands_where_it_is_put_where_no_target_is_held() -> None:
    build = demo_builds()[0]
    held, free = (search(side(build), SHELF, replace(USUAL, holds_target=h)) for h in (True, False))
    assert len(free.feasible) > len(held.feasible)
    number = free.best[0]
    made = free.space.put_in(number)
    after = assess(made)
    target = made.intake.stack.target_height
    assert target is not None
    assert target.value == pytest.approx(free.row(number).values.get("stack.installed_height", target.value))
    for check in ("stack.installed_height", "stack.height_reachable", "spring.seat_load", "control.separation"):
        assert after.verdict(check, "intake").level is not Level.FAIL, check


# -- why not


@pytest.fixture(scope="module")
def hopeless() -> tuple[Context, "list[Answer | NoAnswer]", list[ShelfPart]]:
    build = change(change(demo_builds()[0], "brief.overspeed", "11000 rpm"), "brief.limiter", "9600 rpm")
    ctx, parts = side(build), [p for p in SHELF if p.kind in (K.PACK, K.RETAINER, K.LOCKS, K.SHIM)]
    ask = replace(USUAL, most_shims=1)
    found = search(ctx, parts, ask)
    assert not len(found.feasible)
    return ctx, answers(ctx, parts, found), parts


def test_the_smallest_change_lets_something_through_and_less_does_not(
    hopeless: tuple[Context, "list[Answer | NoAnswer]", list[ShelfPart]],
) -> None:
    ctx, told, parts = hopeless
    ask = replace(USUAL, most_shims=1)
    found = [a for a in told if isinstance(a, Answer)]
    assert "limiter" in {a.change.key for a in found}
    for answer in found:
        change_, by = answer.change, answer.by
        for amount, would in ((by, True), (by - change_.step, False)):
            build, shelf = change_.applied(ctx.build, "intake", parts, amount)
            leaves = frozenset(change_.leaves)
            assert bool(len(search(ctx.of(build), shelf, ask, leaves=leaves).feasible)) is would, change_.key
    # those that let something through come first
    assert [isinstance(a, Answer) for a in told] == sorted((isinstance(a, Answer) for a in told), reverse=True)


def test_a_change_that_lets_nothing_through_does_not_at_its_end_either(
    hopeless: tuple[Context, "list[Answer | NoAnswer]", list[ShelfPart]],
) -> None:
    ctx, told, parts = hopeless
    for answer in (a for a in told if isinstance(a, NoAnswer)):
        for share in (0.1, 0.4, 1.0):
            build, shelf = answer.change.applied(ctx.build, "intake", parts, answer.change.reach * share)
            found = search(ctx.of(build), shelf, replace(USUAL, most_shims=1), leaves=frozenset(answer.change.leaves))
            assert not len(found.feasible), (answer.change.key, share)


def test_a_search_for_changes_can_be_stopped() -> None:
    build = change(change(demo_builds()[0], "brief.overspeed", "11000 rpm"), "brief.limiter", "9600 rpm")
    ctx = side(build)
    found = search(ctx, SHELF, USUAL)
    with pytest.raises(Stopped):
        answers(ctx, SHELF, found, stop=lambda: True)


def test_each_change_moves_what_it_says() -> None:
    build = demo_builds()[0]
    by_key = {c.key: c for c in changes()}
    pack = [named("KD-28")]
    _, (stiff,) = by_key["rate_more"].applied(build, "intake", pack, 0.1)
    h1, f1, h2, f2 = (pack[0].at(f"outer.{f}").value for f in ("height_1", "load_1", "height_2", "load_2"))
    assert stiff.at("outer.load_1").value == f1
    assert (stiff.at("outer.load_2").value - f1) / (h1 - h2) == pytest.approx(1.1 * (f2 - f1) / (h1 - h2))
    _, (strong,) = by_key["load_less"].applied(build, "intake", pack, 0.1)
    assert strong.at("inner.load_2").value == pytest.approx(0.9 * pack[0].at("inner.load_2").value)
    made, _ = by_key["lift"].applied(build, "intake", [], 0.4)
    lower, was = made.intake.cam, build.intake.cam
    if was.curve is not None:
        assert lower.curve is not None
        assert max(lower.curve.lift_mm) == pytest.approx(max(was.curve.lift_mm) - 0.4)
    else:
        assert lower.lobe_lift is not None
        assert was.lobe_lift is not None
        assert lower.lobe_lift.value == pytest.approx(was.lobe_lift.value - 0.4)
    made, _ = by_key["limiter"].applied(build, "intake", [], 2000.0)
    assert made.brief.limiter is not None
    assert made.brief.usual_speed is not None
    assert made.brief.usual_speed.value <= made.brief.limiter.value
    light, (valve,) = by_key["valve_mass"].applied(build, "intake", [named("V-6-330 in")], 0.006)
    assert valve.at("mass").value == pytest.approx(named("V-6-330 in").at("mass").value - 0.006)
    assert light.intake.stack.valve.mass is not None
    assert build.intake.stack.valve.mass is not None
    assert light.intake.stack.valve.mass.value == pytest.approx(build.intake.stack.valve.mass.value - 0.006)


def test_a_table_is_changed_in_proportion() -> None:
    by_key = {c.key: c for c in changes()}
    build = set_curve(demo_builds()[0], "intake", readings())
    made, _ = by_key["lift"].applied(build, "intake", [], 0.4)
    was, lower = build.intake.cam.curve, made.intake.cam.curve
    assert was is not None
    assert lower is not None
    assert max(lower.lift_mm) == pytest.approx(max(was.lift_mm) - 0.4)
    half = was.lift_mm.index(min(was.lift_mm, key=lambda v: abs(v - max(was.lift_mm) / 2.0)))
    assert lower.lift_mm[half] / was.lift_mm[half] == pytest.approx(max(lower.lift_mm) / max(was.lift_mm))
    curved = changed(named("KD-28"), "outer.table", "38 200; 34 340; 30 500")
    for key, loads in (("load_more", (220.0, 374.0, 550.0)), ("rate_more", (200.0, 354.0, 530.0))):
        _, (pack,) = by_key[key].applied(build, "intake", [curved], 0.1)
        table = read_load_table(pack.at("outer.table"))
        assert [float(table.load_N(h)) for h in (38.0, 34.0, 30.0)] == pytest.approx(loads)
    slow, _ = by_key["limiter"].applied(build, "intake", [], 100.0)
    assert slow.brief.usual_speed == build.brief.usual_speed
    # a head with no boost stated has none to lower
    bare, _ = by_key["boost"].applied(clear(build, "brief.boost"), "intake", [], 0.2)
    assert bare.brief.boost is None


def test_of_two_parts_of_one_size_the_one_on_hand_is_laid() -> None:
    shim = next(p for p in SHELF if p.kind is K.SHIM)
    cheap = shim.model_copy(update={"key": "0" * 32, "name": "other", "on_hand": 0})
    for shelf in ([shim, cheap], [cheap, shim]):
        over = space(demo_builds()[0], "intake", shelf, replace(USUAL, most_shims=1), 8)
        assert [p.name for p in over.shims[1].parts or ()] == [shim.name if shim.on_hand >= 8 else over.shims[1].name]
    free = shim.model_copy(update={"key": "1" * 32, "name": "no price", "price": None})
    over = space(demo_builds()[0], "intake", [free, shim], replace(USUAL, most_shims=1), 8)
    assert over.shims[1].name == shim.name


@pytest.mark.parametrize("basis", ["as fitted", "bare"])
@pytest.mark.parametrize("vary", [(K.RETAINER,), ()])
def test_a_retainer_imagined_higher_stands_higher(basis: str, vary: tuple[PartKind, ...]) -> None:
    build = change(demo_builds()[0], "intake.stack.height_basis", basis)
    (change_,) = [c for c in changes() if c.key == "retainer_high"]
    ask, shelf = Ask(vary, holds_target=False), [named("R-7 St 0.0")]
    was = search(side(build), shelf, ask).row(0)
    other, parts = change_.applied(build, "intake", shelf, 0.4)
    now = search(side(other), parts, ask).row(0)
    assert now.values["spring.reserve.outer"] - was.values["spring.reserve.outer"] == pytest.approx(0.4)
    assert now.values["stack.retainer_seal"] - was.values["stack.retainer_seal"] == pytest.approx(0.4)


def test_why_a_part_is_not_in_the_list() -> None:
    ctx = side(template("bucket"))
    found = search(ctx, SHELF, Ask((K.PACK, K.LOCKS, K.SHIM)))
    assert len(found.feasible)
    deep = of_part(ctx, SHELF, found, named("L-6 worn pattern"))
    assert not len(deep.found.feasible)
    assert deep.rank is None
    levels = deep.found.row(deep.found.nearest).levels
    assert levels["fit.lock_depth"] is Level.FAIL
    assert in_order_of_cost(deep.found)[0][0] == "fit.lock_depth"
    best = found.row(found.best[0])
    there = of_part(ctx, SHELF, found, best.parts[K.LOCKS].part or named("L-6 0.0"))
    assert there.rank == 1
    assert len(there.found.feasible)


def test_a_part_that_lacks_a_price_is_dear_last_and_not_free() -> None:
    parts = [p if p.name != "KD-28" else p.model_copy(update={"price": None}) for p in SHELF]
    found = search(side(demo_builds()[0]), parts, replace(USUAL, want=(Want.PRICE,)))
    prices = [found.row(n).price for n in found.best]
    assert not math.isnan(prices[0])
    assert all(o.name != "KD-28" for o in found.row(found.best[0]).parts.values())


def test_a_part_of_no_known_mass_is_not_taken_for_weightless() -> None:
    light = changed(named("R-7 St 0.0"), "mass", "")
    parts = [light if p.key == light.key else p for p in SHELF]
    found = search(side(demo_builds()[0]), parts, USUAL)
    assert next(c for c in found.counts if c.check == "control.separation").unknown > 0
    assert all(light.key not in {p.key for p in found.row(n).chosen} for n in found.best)


def test_each_of_other_cams_is_searched_as_if_it_were_the_builds_own() -> None:
    build, ask = demo_builds()[0], replace(USUAL, on_hand_only=True)
    cams = [change(build, "intake.cam.lobe_lift", lift).intake.cam for lift in ("9.0 mm", "10.4 mm", "13.0 mm")]
    behind: list[tuple[int, int]] = []
    found = with_each(
        side(build), [*cams, Build(name="bare").intake.cam], SHELF, ask, lambda *n: behind.append(n), never
    )
    assert behind == [(0, 4), (1, 4), (2, 4), (3, 4)]
    for cam, told in zip(cams, found, strict=False):
        alone = search(side(set_cam(build, "intake", cam)), SHELF, ask)
        assert told.would_do == len(alone.feasible)
        best = alone.row(alone.best[0]).values["control.separation"] if alone.best else None
        assert told.parts_at == best
    assert found[0].would_do != found[1].would_do
    assert found[2].would_do == 0
    assert found[2].parts_at is None
    assert found[3] == WithCam(None, None)


def test_what_stands_against_the_search_with_every_cam_is_told() -> None:
    bare = Build(name="bare").intake.cam
    with pytest.raises(MissingInput):
        with_each(side(demo_builds()[0]), [bare, bare], SHELF, USUAL, lambda *_: None, never)
    assert with_each(side(demo_builds()[0]), [], SHELF, USUAL, lambda *_: None, never) == []


def never() -> bool:
    return False


def test_trying_cams_is_stopped_between_two_of_them() -> None:
    build, asked = demo_builds()[0], []

    def stop() -> bool:
        asked.append(1)
        return len(asked) > 1

    with pytest.raises(Stopped):
        with_each(side(build), [build.intake.cam] * 9, SHELF, USUAL, lambda *_: None, stop)


# ---- what a shelf does not say, and what it has of each


def parse_entry(text: str) -> Entry:
    return Entry(value=float(text.split()[0]), typed=text, evidence=Evidence.PRINTED)


def shims_only(*parts: ShelfPart, **more: object) -> Found:
    ask = replace(USUAL, vary=(K.SHIM,), **more)  # type: ignore[arg-type]
    return search(side(demo_builds()[0]), [p for p in SHELF if p.kind is not K.SHIM] + list(parts), ask)


def like(name: str, key: str, **figures: object) -> ShelfPart:
    """A part of the demo's shelf under another name; what is given as None is not known of it."""
    held = named(name)
    body = held.body.model_copy(update=figures)
    return held.model_copy(update={"key": key * 32, "name": f"{name}, {key}", "body": body})


def test_a_retainer_without_depth_would_do_once_it_is_known_and_does_not() -> None:
    retainer = named("R-7 Ti 0.0")
    bare = like(retainer.name, "d", depth=None)
    ask = Ask((K.RETAINER,), holds_target=False)
    ctx = side(demo_builds()[0])
    whole, lacking = (search(ctx, [part], ask) for part in (retainer, bare))
    assert whole.row(0).levels["stack.retainer_seal"] is not Level.OPEN
    assert lacking.row(0).levels["stack.retainer_seal"] is Level.OPEN
    assert len(lacking.feasible) == 0
    (first, *_) = untold(ctx, lacking)
    assert (first.path, first.alone) == ("intake.stack.retainer.depth", 1)


def test_each_of_two_shims_is_judged_whatever_their_order() -> None:
    shim = next(p for p in SHELF if p.kind is K.SHIM)
    narrow = like(shim.name, "e", inside=parse_entry("9 mm"))
    build = demo_builds()[0]
    for pair in ((shim, narrow), (narrow, shim)):
        made = Context(together(build, "intake", {}, pair), "intake")
        verdict = next(v for v in assess(made.build).of_side("intake") if v.id == "fit.shims")
        assert verdict.level is Level.FAIL
    unsaid = like(shim.name, "f", outside=None)
    for pair in ((shim, unsaid), (unsaid, shim)):
        made = Context(together(build, "intake", {}, pair), "intake")
        verdict = next(v for v in assess(made.build).of_side("intake") if v.id == "fit.shims")
        assert verdict.level is Level.OPEN


@pytest.mark.parametrize("figures", [{"inside": None, "outside": None}, {"inside": "9 mm"}])
def test_a_cheap_shim_that_does_not_go_in_takes_nothing_away(figures: dict[str, str | None]) -> None:
    own = [p.model_copy(update={"on_hand": 99}) for p in SHELF if p.kind is K.SHIM]
    cheap = [
        like(p.name, str(n), **{k: v and parse_entry(v) for k, v in figures.items()}).model_copy(
            update={"on_hand": 99, "price": p.price and p.price.model_copy(update={"value": 0.01})}
        )
        for n, p in enumerate(own[:9])
    ]
    without, beside = shims_only(*own), shims_only(*own, *cheap)
    assert 0 < len(without.feasible) == len(beside.feasible)


def test_on_hand_is_said_of_every_place() -> None:
    own = [p.model_copy(update={"on_hand": 8}) for p in SHELF if p.kind is K.SHIM]
    build, places = demo_builds()[0], side(demo_builds()[0]).places
    assert places == 8
    over = space(build, "intake", own, replace(USUAL, on_hand_only=True, most_shims=2), places)
    # eight of a size are one at each place, and never two
    assert all(len(set(s.parts or ())) == len(s.parts or ()) for s in over.shims)
    assert any(len(s.parts or ()) == 2 for s in over.shims)
    short = [p.model_copy(update={"on_hand": 7}) for p in own]
    assert [s.total_mm for s in space(build, "intake", short, replace(USUAL, on_hand_only=True), places).shims] == [0.0]


def test_the_smallest_change_is_found_between_what_does_and_what_does_not() -> None:
    """A window that lies between the sixteenths, the eighths and the quarters of a change's reach."""
    parts = [named("R-7 St 0.0")]
    (change_,) = [c for c in changes() if c.key == "retainer_high"]
    ctx = side(demo_builds()[0])
    base = ctx.of(together(ctx.build, "intake", {"retainer": parts[0]}))
    height = installed_height(base).value
    # a target 0.85 mm above where it stands: from some 0.72 to 0.98 of more offset holds it
    target = change(ctx.build, "intake.stack.target_height", f"{height + 0.85} mm")
    ask, wanted = Ask((K.RETAINER,)), assess(target).sides["intake"]
    found = search(wanted, parts, ask)
    assert not len(found.feasible)
    limit = wanted.limit("stack.installed_height")
    assert limit.low is not None
    least = 0.85 + limit.low
    told = [a for a in answers(wanted, parts, found) if isinstance(a, Answer) and a.change.key == change_.key]
    others = {c.check for c in found.counts if c.turned_away} - {
        "stack.installed_height",
        "stack.height_reachable",
        HEIGHT,
    }
    assert bool(told) != bool(others)
    for answer in told:
        assert least - 1e-6 <= answer.by <= least * 1.03
