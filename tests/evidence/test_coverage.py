"""Of what a result rests on: measured, owed, set, typical; and nothing counts for another."""

from dataclasses import replace

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Evidence, Figure, Level, Limit, Sense, Waiver
from arcstack.demo import demo_builds
from arcstack.document import Absent, Build, Entry, change, decided, get, set_curve, set_evidence
from arcstack.document.fields import FIELDS
from arcstack.evidence import Leaf, coverage, passing
from arcstack.formats.verdict_json import verdicts
from arcstack.units import COUNT, LENGTH, SPEED
from tests.builds import BY, OTHERS, bramble, quill, readings
from tests.readings.bench import as_designed

SOUND, FAILING = demo_builds()
BUILDS = [SOUND, FAILING, *(make() for make in OTHERS)]


def leaf(path: str | None, evidence: Evidence, **more: object) -> Leaf:
    f = Figure("x", "X", 1.0, more.pop("of", LENGTH), evidence, path, **more)  # type: ignore[arg-type]
    return coverage(f).leaves[0][1]


@pytest.mark.parametrize(
    ("path", "evidence", "more", "how"),
    [
        ("intake.stack.open_height", Evidence.MEASURED, {}, Leaf.MEASURED),
        ("intake.stack.open_height", Evidence.MEASURED, {"sample": (1, 8)}, Leaf.UNREAD),
        ("intake.stack.open_height", Evidence.MEASURED, {"sample": (8, 8)}, Leaf.MEASURED),
        ("intake.stack.open_height", Evidence.ASSUMED, {"outdated": "Stale: cut"}, Leaf.STALE),
        ("intake.stack.locks.taper", Evidence.MEASURED, {"sample": (1, 8)}, Leaf.MEASURED),
        ("intake.stack.locks.taper", Evidence.PRINTED, {}, Leaf.UNREAD),
        ("brief.limiter", Evidence.PRINTED, {"of": SPEED}, Leaf.SET),
        ("brief.limiter", Evidence.ASSUMED, {"of": SPEED, "unsaid": True}, Leaf.UNREAD),
        ("turbo.drains", Evidence.PRINTED, {"of": COUNT}, Leaf.SET),
        ("turbo.drains", Evidence.ASSUMED, {"of": COUNT}, Leaf.UNREAD),
        ("intake.stack.pocket.metal", Evidence.PRINTED, {}, Leaf.SET),
        (None, Evidence.ASSUMED, {}, Leaf.TYPICAL),
        ("brief.pulse_peak", Evidence.ASSUMED, {"unsaid": True}, Leaf.UNREAD),
    ],
)
def test_a_leaf_stands_one_way(path: str | None, evidence: Evidence, more: dict[str, object], how: Leaf) -> None:
    assert leaf(path, evidence, **more) is how


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name)
def test_what_is_proven_of_a_design_is_shown_with_its_leaves(build: Build) -> None:
    """Each figure at the bottom of a proven check was measured, or is none said by a hand, or is no instrument's."""
    for v in assess(build).verdicts:
        if not v.proven:
            continue
        assert v.figure is not None
        for f, how in coverage(v.figure).leaves:
            assert how in (Leaf.MEASURED, Leaf.TYPICAL, Leaf.SET), (v.key, f.label)
            if how is Leaf.SET and f.path is not None and decided(f.path):
                assert isinstance(get(build, f.path), Entry), (v.key, f.path)
                continue
            if f.path is None or f.path not in FIELDS or FIELDS[f.path].quantity is None:
                continue
            held = get(build, f.path)
            assert isinstance(held, Entry | Absent), (v.key, f.path)
            assert held.stands is Evidence.MEASURED, (v.key, f.path)
            assert held.by is not None


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name)
def test_n_of_n_counts_places_at_which_every_leaf_was_read(build: Build) -> None:
    design, sheet = assess(build), as_designed(build).sheet()
    found = built(design, sheet)
    for side in ("intake", "exhaust"):
        for a in found.sides[side]:
            for s in a.stands:
                owed = [] if s.coverage is None else s.coverage.owed
                assert s.measured is (s.coverage is not None and not owed)
                if s.verdict.proven:
                    assert s.measured, (a.check, s.place.label)
            assert a.measured == sum(s.measured for s in a.stands) <= len(a.stands)


# -- what a figure silently assumes


def owed_of(build: Build, check: str, side: str = "intake") -> tuple[bool, list[str]]:
    v = assess(build).verdict(check, side)
    assert v.figure is not None, (check, v.missing, v.note)
    return v.proven, [f.label for f in coverage(v.figure).owed]


def measured(build: Build, path: str, text: str) -> Build:
    return change(build, path, text, Evidence.MEASURED, by=BY)


def test_a_load_is_measured_only_where_it_was_taken() -> None:
    """A tester table from 34.5 to 36 mm for a spring that opens to about 26: its open load is nobody's reading."""
    table = "36 230; 35.5 246; 35 262; 34.5 278"
    build = change(quill(), "intake.stack.outer.table_from", "measured", by=BY)
    build = change(build, "intake.stack.outer.table", table, by=BY)
    proven, owed = owed_of(build, "spring.open_load")
    assert not proven
    assert "Load beyond its table" in owed
    assert "Load beyond its table" not in owed_of(build, "spring.seat_load")[1]
    short = measured(measured(quill(), "intake.stack.outer.height_2", "34.5"), "intake.stack.outer.load_2", "290")
    assert "Load beyond its loads" in owed_of(short, "spring.open_load")[1]


def test_a_ratio_table_tells_of_no_lift_past_its_end() -> None:
    assert not any(f.unsaid for f in assess(bramble()).verdict("lift.net", "intake").figure.leaves)  # type: ignore[union-attr]
    short = change(bramble(), "intake.follower.rocker.ratio_table", "1 1.56; 3 1.55", by=BY)
    short = change(short, "intake.follower.rocker.ratio_table_from", "measured", by=BY)
    found = assess(short).verdict("lift.net", "intake").figure
    assert found is not None
    assert any(f.unsaid and "of lobe lift only" in f.note for f in found.leaves)


def test_a_lift_table_that_begins_above_its_base_circle_measures_nothing_below() -> None:
    whole = readings(by=BY)
    held = [(a, x) for a, x in zip(whole.cam_rad, whole.lift_mm, strict=True) if x >= 1.5]
    cut = whole.model_copy(update={"cam_rad": tuple(a for a, _ in held), "lift_mm": tuple(x for _, x in held)})
    for table, begins in ((whole, False), (cut, True)):
        v = assess(set_curve(quill(), "intake", table)).verdict("lift.net", "intake")
        assert v.figure is not None
        assert v.proven is not begins
        assert any("It begins at" in f.note for f in v.figure.leaves) is begins


def test_what_is_not_said_is_a_leaf() -> None:
    bare = change(change(quill(), "intake.stack.height_basis", "bare"), "intake.stack.locks.outside", "")
    bare = set_evidence(bare, "intake.stack.open_height", Evidence.MEASURED, BY)
    proven, owed = owed_of(bare, "spring.reserve.outer")
    assert not proven
    assert "Locks sit deep by: diameters not known" in owed
    silent = change(quill(), "brief.overspeed", "")
    assert "Overspeed: not stated" in owed_of(silent, "control.separation")[1]
    v = assess(change(quill(), "brief.usual_speed", "")).verdict("follower.contact_pressure.flank", "intake")
    assert v.level is Level.OPEN
    assert [m.path for m in v.missing] == ["brief.usual_speed"]
    single = change(change(SOUND, "intake.cam.tdc_event", ""), "intake.cam.bdc_event", "")
    card = assess(single).verdict("cam.card", "intake")
    assert not card.proven
    assert any(f.unsaid for f in card.figure.leaves)  # type: ignore[union-attr]


def test_a_pulse_that_nobody_read_has_a_width() -> None:
    v = assess(change(SOUND, "brief.pulse_peak", "")).verdict("gas.difference_rule", "exhaust")
    assert v.figure is not None
    assert v.figure.band is not None
    low, high = v.figure.band
    assert low < v.figure.value < high
    told = assess(change(SOUND, "brief.pulse_peak", "3.2 bar")).verdict("gas.difference_rule", "exhaust")
    assert told.figure is not None
    assert told.figure.band is None


def test_what_is_owed_is_named_up_to_six_and_the_rest_counted() -> None:
    def owed(count: int) -> str:
        parts = [Figure(f"p{n}", f"Part {n}", 1.0, LENGTH, Evidence.PRINTED, f"intake.part.{n}") for n in range(count)]
        return coverage(Figure.calculated("s", "Sum", 1.0, LENGTH, "s = Σp", *parts)).words

    assert owed(1) == "part 0"
    assert owed(6) == "part 0, part 1, part 2, part 3, part 4, part 5"
    assert owed(8) == "part 0, part 1, part 2, part 3, part 4, part 5 and 2 more"


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name)
def test_the_json_says_of_every_check_what_its_coverage_says(build: Build) -> None:
    found = assess(build)
    for told, v in zip(verdicts(found), found.verdicts, strict=True):
        owed = coverage(v.figure).owed if v.figure is not None else ()
        assert [i["label"] for i in told["not_measured"]] == [f.label for f in owed], v.key
        if v.figure is None:
            continue
        assert (told["evidence"] == "proven") is v.proven
        if v.proven:
            assert not owed, v.key
        if told["measured_at"] is not None and any(f.evidence is not Evidence.MEASURED for f in owed):
            assert told["measured_at"]["places"] == 0, v.key


def test_a_card_is_owed_as_a_lift_curve_and_everything_else_by_its_own_name() -> None:
    card = Figure("D", "Duration at 0.1 mm", 4.2, LENGTH, Evidence.PRINTED, "intake.cam.durations.1.angle")
    height = Figure("H", "Open height", 36.9, LENGTH, Evidence.PRINTED, "intake.stack.open_height")
    assert [coverage(f).words for f in (card, height)] == ["lift curve", "open height"]


def test_a_limit_that_was_loosened_is_held_as_the_practice_has_it() -> None:
    loosened = Limit(
        "stack.reserve",
        Sense.AT_LEAST,
        0.5,
        None,
        0.2,
        LENGTH,
        "why",
        "the build",
        waiver=Waiver("Ilse", None, "raced once", 1.0, None),
    )
    assert (passing.shops(loosened).low, passing.shops(loosened).waiver) == (1.0, None)
    own = replace(loosened, waiver=None)
    assert passing.shops(own) is own
    figure = Figure("R", "Reserve", 0.7, LENGTH, Evidence.MEASURED)
    assert passing.stands(figure, loosened).past == pytest.approx(0.3)
    assert passing.stands(figure, own).past == pytest.approx(-0.2)
