"""The design with readings laid over it says what the design says, until a reading says otherwise."""

import gc
import random
import weakref
from dataclasses import replace

import pytest

from arcstack.assess import assess
from arcstack.assess.built import OF_DESIGN, Built, built
from arcstack.checks import Evidence, Level
from arcstack.demo import demo_builds
from arcstack.document import Build, Entry, change, get, set_evidence
from arcstack.document.parts import HeightBasis
from arcstack.document.places import places
from arcstack.readings import Cut, Phase, Sheet, Waived, as_built, stands_per
from arcstack.readings.taking import How, read_at
from tests import builds
from tests.readings.bench import BY, Hand, as_designed

HEADS = (demo_builds()[0], demo_builds()[1], builds.quill(), builds.sorrel(), builds.bramble())


@pytest.mark.parametrize("build", HEADS, ids=lambda b: b.name)
def test_a_head_that_reads_its_design_stands_as_its_design(build: Build) -> None:
    if build.engine.cylinders is None or build.engine.valves_per_cylinder is None:
        build = change(change(build, "engine.cylinders", "4"), "engine.valves_per_cylinder", "4")
    # a solid height that is read leaves nothing open, as one that was measured before
    for path in ("stack.outer.solid", "stack.inner.solid"):
        for side in ("intake", "exhaust"):
            build = set_evidence(build, f"{side}.{path}", Evidence.MEASURED, BY)
    bare = [s for s in ("intake", "exhaust") if build.side(s).stack.height_basis is not HeightBasis.AS_FITTED]
    design = assess(build)
    found = built(design, as_designed(build).sheet())
    for side in {"intake", "exhaust"} - set(bare):
        for v in design.of_side(side):
            if v.id in OF_DESIGN:
                continue
            for place, of_place in found.across(v.id, side).at:
                where = f"{v.id} at {place.label}"
                assert of_place.level is v.level, where
                assert (of_place.figure is None) == (v.figure is None), where
                if v.figure is not None and of_place.figure is not None:
                    assert of_place.figure.value == v.figure.value, where
                    assert of_place.figure.band == v.figure.band, where


def test_nothing_read_is_the_design_itself() -> None:
    build = demo_builds()[0]
    design = assess(build)
    found = built(design, Sheet(build))
    across = found.across("stack.installed_height", "intake")
    assert (len(across.at), across.measured, across.proven) == (8, 0, False)
    assert found.sets == {"intake": (), "exhaust": ()}


def test_one_place_read_is_one_of_many() -> None:
    build = demo_builds()[0]
    hand = Hand(build)
    for n in range(2):
        hand.take("open_height", "3I-b", 36.81 + 0.01 * n)
    found = built(assess(build), hand.sheet())
    across = found.across("stack.retainer_seal", "intake")
    own = {p.label: v.figure.value for p, v in across.at if v.figure is not None}
    assert own["3I-b"] - own["1I-a"] == pytest.approx(36.815 - get(build, "intake.stack.open_height").value)
    assert not across.proven


def test_two_readings_that_disagree_ask_for_a_third_and_the_odd_one_is_left_out() -> None:
    hand = Hand(demo_builds()[0])
    place = hand.places[0]
    hand.take("open_height", place.label, 36.80)
    assert hand.sheet().settled(place, "open_height").again  # type: ignore[union-attr]
    hand.take("open_height", place.label, 36.90)
    settled = hand.sheet().settled(place, "open_height")
    assert settled is not None
    assert settled.again
    hand.take("open_height", place.label, 36.82)
    settled = hand.sheet().settled(place, "open_height")
    assert settled is not None
    assert not settled.again
    assert settled.value == pytest.approx(36.81)


def test_a_correction_replaces_and_the_old_one_stays() -> None:
    hand = Hand(demo_builds()[0])
    first = hand.take("valve_mass", "1I-a", 0.0512)
    hand.take("valve_mass", "1I-a", 0.0521, replaces=first)
    sheet = hand.sheet()
    assert [r.value for r in sheet.at("1I-a", "valve_mass")] == [0.0521]
    assert len(sheet.readings) == 2


def test_a_reading_taken_back_leaves_the_design() -> None:
    hand = Hand(demo_builds()[0])
    first = hand.take("valve_mass", "1I-a", 0.0712)
    hand.take("valve_mass", "1I-a", 0.0712, replaces=first, void=True)
    assert hand.sheet().settled(hand.places[0], "valve_mass") is None


def test_a_later_phase_stands_before_an_earlier_one_whenever_it_was_typed() -> None:
    hand = Hand(demo_builds()[0])
    hand.take("tip_height", "1I-a", 47.20, Phase.MACHINED)
    hand.take("tip_height", "1I-a", 47.00, Phase.INCOMING)
    settled = hand.sheet().settled(hand.places[0], "tip_height")
    assert settled is not None
    assert settled.value == 47.20
    incoming = hand.sheet().settled(hand.places[0], "tip_height", Phase.INCOMING)
    assert incoming is not None
    assert incoming.value == 47.00


def test_an_exchanged_retainer_makes_its_heights_stale_and_says_so() -> None:
    build = demo_builds()[0]
    hand = Hand(build)
    for _ in range(2):
        hand.take("open_height", "1I-a", 36.80)
    hand.take("tip_height", "1I-a", 47.0)
    after = change(build, "intake.stack.retainer.code", "R-12")
    sheet = hand.sheet(after)
    settled = sheet.settled(hand.places[0], "open_height")
    assert settled is not None
    assert "Retainer" in settled.stale
    entry = get(as_built(sheet, hand.places[0]), "intake.stack.open_height")
    assert isinstance(entry, Entry)
    assert (entry.value, entry.stands) == (36.80, Evidence.ASSUMED)
    tip = sheet.settled(hand.places[0], "tip_height")
    assert tip is not None
    assert tip.stale == ""


def test_what_was_read_before_an_exchange_is_no_half_of_a_mean_with_what_was_read_after_it() -> None:
    hand = Hand(demo_builds()[0])
    place = hand.places[0]
    how = How(BY, resolution=0.01, sure=True)

    def take(text: str) -> None:
        made = read_at(hand.sheet(), "open_height", place.label, text, how)
        hand.readings.append(replace(made, number=hand.next))

    take("36.80")
    take("36.82")
    hand.build = change(hand.build, "intake.stack.retainer.code", "R-12")
    for text, value, again in (("37.30", 37.30, True), ("37.32", 37.31, False)):
        take(text)
        settled = hand.sheet().settled(place, "open_height")
        assert settled is not None
        assert (settled.value, settled.again, settled.stale) == (pytest.approx(value), again, "")
    # each of the two replaced one of the old, and one more replaces the last of the new
    take("37.34")
    assert [r.replaces for r in hand.readings] == [None, None, 1, 2, 4]


def test_a_vacuum_read_with_a_spring_in_never_counts() -> None:
    hand = Hand(demo_builds()[0])
    hand.take("vacuum", "1I-a", 0.84, condition={"with_spring": 1.0})
    assert hand.sheet().settled(hand.places[0], "vacuum") is None
    hand.take("vacuum", "1I-a", 0.71)
    hand.take("vacuum_later", "1I-a", 0.70)
    found = built(assess(hand.build), hand.sheet())
    level = {p.label: v.level for p, v in found.across("seat.vacuum", "intake").at}
    assert level["1I-a"] is Level.FAIL
    assert level["1I-b"] is Level.OPEN


def test_a_cut_moves_heights_until_they_are_read_again() -> None:
    """Seat 0.20 and face 0.10 raise the retainer by 0.30; the margin loses the face's share alone."""
    build = demo_builds()[0]
    hand = Hand(build)
    for _ in range(2):
        hand.take("open_height", "2I-a", 36.80)
    hand.take("margin", "2I-a", 1.10)
    hand.take("tip_height", "2I-a", 47.00)
    hand.happened(Cut(1, "2I-a", 0.10, 0.20, 0.05, BY))
    place = next(p for p in hand.places if p.label == "2I-a")
    document = as_built(hand.sheet(), place)
    value = {
        p: get(document, f"intake.{p}").value for p in ("stack.open_height", "stack.valve.margin", "bench.tip_height")
    }
    assert value == pytest.approx({"stack.open_height": 37.10, "stack.valve.margin": 1.00, "bench.tip_height": 47.25})
    assert get(document, "intake.stack.open_height").stands is Evidence.ASSUMED
    for _ in range(2):
        hand.take("open_height", "2I-a", 37.08, Phase.MACHINED)
    hand.readings = [r for r in hand.readings if r.phase is Phase.MACHINED or r.key != "open_height"]
    again = get(as_built(hand.sheet(), place), "intake.stack.open_height")
    assert (again.value, again.stands) == (37.08, Evidence.MEASURED)


def test_a_spring_brings_its_own_loads_to_where_it_stands() -> None:
    build = demo_builds()[0]
    hand = Hand(build)
    hand.put("S-07", "outer", "1I-a")
    for key, load, height in (("outer.load_1", 271.0, 36.0), ("outer.load_2", 600.0, 26.0)):
        hand.take(key, "1I-a", load, item="S-07", condition={"height_mm": height})
    document = as_built(hand.sheet(), hand.places[0])
    outer = document.intake.stack.outer
    assert [e.value for e in (outer.height_1, outer.load_1, outer.height_2, outer.load_2) if e] == [
        36.0,
        271.0,
        26.0,
        600.0,
    ]
    hand.put("S-07", "outer", "1I-b")
    assert as_built(hand.sheet(), hand.places[0]).intake.stack.outer == build.intake.stack.outer


def test_shims_are_what_lies_there() -> None:
    hand = Hand(demo_builds()[0])
    hand.take("shims", "1I-a", 0.75, typed="0.50 + 0.25 mm")
    assert [s.value for s in as_built(hand.sheet(), hand.places[0]).intake.stack.shims if s] == [0.5, 0.25]  # type: ignore[union-attr]


def test_set_checks_need_two_places_and_name_the_extremes() -> None:
    build = demo_builds()[0]
    hand = Hand(build)
    for label, value in (("1I-a", 36.72), ("1I-b", 36.74), ("2I-a", 37.10)):
        for _ in range(2):
            hand.take("open_height", label, value)
        hand.take("shims", label, 0.75, typed="0.50 + 0.25 mm")
    found = built(assess(build), hand.sheet())
    spread = next(v for v in found.sets["intake"] if v.id == "set.height_spread")
    assert spread.figure is not None
    assert spread.figure.value == pytest.approx(0.38)
    assert spread.level is Level.FAIL
    assert "2I-a most" in spread.note
    assert not spread.proven


def test_a_place_is_worked_only_where_something_changed_at_it() -> None:
    build = demo_builds()[0]
    hand = Hand(build)
    design = assess(build)
    first = built(design, hand.sheet())
    assert first.contexts["1I-a"].side.bench.place == "1I-a"
    for _ in range(2):
        hand.take("open_height", "3I-b", 36.80)
    second = built(design, hand.sheet(), first)
    assert second.contexts["1I-a"] is first.contexts["1I-a"]
    assert second.contexts["3I-b"] is not first.contexts["3I-b"]
    alone = built(design, hand.sheet())
    for side in ("intake", "exhaust"):
        for a, b in zip(second.sides[side], alone.sides[side], strict=True):
            assert [(v.level, v.figure and v.figure.value) for _, v in a.at] == [
                (v.level, v.figure and v.figure.value) for _, v in b.at
            ]


def test_what_stands_on_nothing_that_changed_is_the_very_same_and_how_much_was_measured_is_counted() -> None:
    build = demo_builds()[0]
    hand, design = Hand(build), assess(build)
    for label in ("1I-a", "2I-b", "2I-b", "1E-a"):
        hand.take("open_height", label, 36.80)
    first = built(design, hand.sheet())
    # a height alone measures no installed height: its shims were not read
    assert first.across("stack.installed_height", "intake").begun == 2
    assert first.across("stack.installed_height", "exhaust").begun == 1
    assert first.across("stack.installed_height", "intake").measured == 0
    assert first.across("valve.margin", "intake").begun == 0
    again = built(design, hand.sheet(), first)
    assert again.worked("intake") is first.worked("intake")
    waived = Waived(1, "stack.retainer_seal", "intake", "1I-a", "old seals", "winter", "", BY)
    let_pass = built(design, Sheet(build, hand.sheet().readings, (waived,)), again)
    assert let_pass.worked("intake") is not first.worked("intake")
    hand.take("open_height", "1E-a", 36.81)
    after = built(design, hand.sheet(), again)
    assert after.worked("intake") is first.worked("intake")
    assert after.worked("exhaust") is not first.worked("exhaust")


TOUCHES = ("nothing", "a context", "a check", "intake", "exhaust", "both")


def touch(found: Built, how: str) -> None:
    place = next(p for p in found._sheet.places if p.label == "1I-a")
    if how == "a context":
        assert found.contexts["1I-a"]
    elif how == "a check":
        assert found.at("spring.reserve.outer", place)
    elif how in ("intake", "both"):
        assert found.sides["intake"]
    if how in ("exhaust", "both"):
        assert found.sides["exhaust"]


@pytest.mark.parametrize("seed", range(6))
def test_a_head_as_built_is_the_same_whatever_was_asked_of_it_before(seed: int) -> None:
    rng, build = random.Random(seed), demo_builds()[0]
    hand, designs = Hand(build), [assess(build), assess(change(build, "intake.stack.retainer.step", "1.7 mm"))]
    labels = [p.label for p in places(build)]
    found = None
    for _ in range(5):
        for label in rng.sample(labels, 3):
            hand.take("open_height", label, round(rng.uniform(36.5, 37.2), 2))
        design = rng.choice(designs)
        sheet = Sheet(design.build, hand.sheet().readings)
        found = built(design, sheet, found)
        touch(found, rng.choice(TOUCHES))
    assert found is not None
    alone = built(design, sheet)
    assert dict(found.sides) == dict(alone.sides)
    assert dict(found.sets) == dict(alone.sets)
    for side in alone.sides:
        for across in alone.sides[side]:
            assert [found.at(across.check, p) for p, _ in across.at] == [v for _, v in across.at]


def test_what_is_past_is_let_go() -> None:
    build = demo_builds()[0]
    hand, design = Hand(build), assess(build)
    found, halves = None, []
    for n in range(8):
        hand.take("open_height", "1I-a", 36.8 + n / 100)
        found = built(design, hand.sheet(), found)
        touch(found, "intake" if n == 1 else "a context")
        halves.append(weakref.ref(found._half("intake")))
    gc.collect()
    # the one that was worked, from which the next would take, and the last
    assert [n for n, half in enumerate(halves) if half() is not None] == [1, 7]


@pytest.mark.parametrize("build", HEADS, ids=lambda b: b.name)
def test_a_head_is_let_go_at_once_without_a_search_for_garbage(build: Build) -> None:
    design = assess(build)
    found = built(design, Hand(build).sheet())
    touch(found, "both")
    context = next(iter(found.contexts.values()))
    gone = [weakref.ref(x) for x in (found, found._half("intake"), context, design)]
    gc.disable()
    try:
        del found, context, design
        assert [ref() for ref in gone] == [None, None, None, None]
    finally:
        gc.enable()


def test_a_side_is_at_hand_once_it_was_worked_and_stays_so_while_it_is_read() -> None:
    build = demo_builds()[0]
    hand, design = Hand(build), assess(build)
    first = built(design, hand.sheet())
    assert [first.at_hand(s) for s in ("intake", "exhaust")] == [False, False]
    touch(first, "a check")
    assert not first.at_hand("intake")
    touch(first, "intake")
    assert [first.at_hand(s) for s in ("intake", "exhaust")] == [True, False]
    hand.take("open_height", "1I-a", 36.80)
    second = built(design, hand.sheet(), first)
    assert [second.at_hand(s) for s in ("intake", "exhaust")] == [True, False]
    touch(second, "a context")
    assert [second.at_hand(s) for s in ("intake", "exhaust")] == [True, False]


@pytest.mark.parametrize(
    ("path", "per"),
    [("engine.cylinders", "engine"), ("intake.stack.valve.mass", "valve"), ("intake.cam.lash", "cam"),
     ("exhaust.stack.outer.solid", "spring"), ("intake.clearance.recess", "cylinder"), ("intake.stack.damping", "side")],
)  # fmt: skip
def test_each_figure_stands_per_one_thing(path: str, per: str) -> None:
    assert stands_per(path).value == per
