"""Whatever moves a figure stands below it: what a check read of a build is held against the leaves of its figure."""

from functools import cache

import pytest

from arcstack.assess import Assessment, assess, checks, placed, reads
from arcstack.assess.context import Context
from arcstack.assess.reads import Noting
from arcstack.checks import Evidence, Figure, Verdict
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, Entry, change, decided, get, unsaid
from arcstack.errors import FieldError
from arcstack.evidence import coverage
from arcstack.trials.next_reading import design_next
from tests.builds import BY, OTHERS

BUILDS = {b.name.split(",")[0]: b for b in (*demo_builds(), *(make() for make in OTHERS))}
APART = (0.9, 1.1)


@cache
def as_it_is(name: str) -> Assessment:
    return assess(BUILDS[name])


@cache
def moved(name: str, path: str, times: float) -> Assessment | None:
    """The build with one figure that much larger; None where it cannot be."""
    build = BUILDS[name]
    held, spec = get(build, path), FIELDS[path].quantity
    if not isinstance(held, Entry) or spec is None:
        return None
    try:
        return assess(
            before=as_it_is(name),
            build=change(build, path, f"{held.value * times:.8g} {spec.dimension.canonical_word}".strip(), by=BY),
        )
    except FieldError:
        return None


def paths_below(found: Figure) -> set[str]:
    own = {found.path} if found.path else set()
    return own.union(*(paths_below(f) for f in found.below))


def read_by(build: Build, v: Verdict) -> set[str]:
    """Fields that were read for a verdict's figure, what its limit read left out."""
    ctx = Context(build, v.side or "intake")
    with Noting() as noted:
        checks()[v.id].work(ctx)
    return {t for t in reads.tokens(noted.read) if t in FIELDS}


@pytest.mark.parametrize("name", BUILDS)
def test_what_moves_a_check_stands_among_its_leaves(name: str) -> None:
    build, found, tried = BUILDS[name], as_it_is(name), 0
    for v in found.verdicts:
        if v.figure is None:
            continue
        for path in read_by(build, v) - paths_below(v.figure):
            for times in APART:
                other = moved(name, path, times)
                if other is None:
                    continue
                tried += 1
                w = other.verdict(v.id, v.side or "intake")
                assert w.figure is not None, (v.key, path)
                assert (w.figure.value, w.figure.band) == (v.figure.value, v.figure.band), (v.key, path)
    assert tried > 50


CHOICES = {
    "engine.follower": {"lift.net", "lift.useful"},
    "engine.rod_material": {"piston.clearance", "piston.clearance_swept"},
    "intake.stack.pack": {"spring.seat_load", "spring.reserve.inner", "fit.seal"},
    "intake.stack.damping": {"spring.nest_gap"},
    "intake.follower.bucket.materials": {"follower.contact_pressure.nose"},
}


@pytest.mark.parametrize("path", CHOICES)
def test_a_choice_about_a_part_that_nobody_stated_is_assumed_and_owed(path: str) -> None:
    build = BUILDS["Quill"]
    silent = change(build, path, "")
    assert unsaid(silent, path) == get(build, path) == get(silent, path)
    said, found = assess(build), assess(silent, before=assess(build))
    touched = set()
    for v in found.of_side("intake"):
        leaf = next((f for f in v.figure.leaves if f.path == path), None) if v.figure else None
        if leaf is None:
            assert v.figure == said.verdict(v.id, "intake").figure
            continue
        touched.add(v.id)
        assert leaf.unsaid
        assert leaf.evidence is Evidence.ASSUMED
        assert leaf.note == f"not said: taken as {get(build, path)}"
        assert not v.proven
        assert v.figure is not None
        assert path in {f.path for f in coverage(v.figure).owed}
        # what stands anyway gives the same figure
        same = said.verdict(v.id, "intake")
        assert same.figure is not None
        assert (v.figure.value, v.figure.band, v.level) == (same.figure.value, same.figure.band, same.level)
        assert path not in {f.path for f in coverage(same.figure).owed}
    assert touched >= CHOICES[path]
    again = assess(change(silent, path, str(get(build, path))), before=found)
    assert [v.figure for v in again.verdicts] == [v.figure for v in said.verdicts]


def test_springs_on_a_seat_of_which_nobody_said_what_locates_them_are_not_proven() -> None:
    path, build = "intake.stack.locator.base", BUILDS["Quill"]
    assert assess(build).verdict("fit.spring_seat", "intake").proven
    silent = assess(change(build, path, "not stated"))
    v = silent.verdict("fit.spring_seat", "intake")
    assert v.figure is not None
    assert not v.proven
    assert path in {f.path for f in coverage(v.figure).owed}
    # a seal whose height was read stands there whatever holds it
    held = assess(change(build, "intake.stack.seal.held", "not stated")).verdict("stack.retainer_seal", "intake")
    assert held.proven


def test_a_speed_that_is_asked_for_does_not_keep_what_was_measured_from_being_proven() -> None:
    build = change(BUILDS["Quill"], "intake.cam.lash", "0.2 mm", Evidence.PRINTED)
    v = assess(build).verdict("lift.net", "intake")
    assert v.proven
    # what is left out, or only assumed, is no decision
    for loose in (change(build, "intake.cam.lash", ""), change(build, "intake.cam.lash", "0.2 mm", Evidence.ASSUMED)):
        assert not assess(loose).verdict("lift.net", "intake").proven
    loose = change(build, "intake.stack.outer.solid", "22.4 mm", Evidence.PRINTED)
    assert not assess(loose).verdict("spring.reserve.outer", "intake").proven


@pytest.mark.parametrize(("evidence", "off"), [("measured", 0.0), ("printed", 0.3), ("assumed", 0.6)])
def test_a_solid_height_that_nobody_measured_opens_its_reserve(evidence: str, off: float) -> None:
    build = BUILDS["Quill"]
    for name, path in (("outer", "intake.stack.outer.solid"), ("inner", "intake.stack.inner.solid")):
        text = {"outer": "22.4 mm", "inner": "21.2 mm"}[name]
        build = change(build, path, text, Evidence(evidence), by=BY)
    found = assess(build)
    for check in ("spring.reserve.outer", "spring.reserve.inner"):
        f = found.verdict(check, "intake").figure
        assert f is not None
        low, high = f.band or (f.value, f.value)
        assert (f.value - low, high - f.value) == (pytest.approx(off), pytest.approx(off))
    most = found.verdict("spring.reserve_ceiling", "intake").figure
    assert most is not None
    assert (most.band is None) == (off == 0.0)


@pytest.mark.parametrize("name", BUILDS)
def test_no_reading_is_asked_of_what_is_decided(name: str) -> None:
    """A printed target height stood first for Tamarack's exhaust; only a hand can move it."""
    for ctx in as_it_is(name).sides.values():
        assert not [n.share.path for n in design_next(ctx) if decided(n.share.path)]


def test_a_centreline_from_events_rests_on_their_lift_and_is_their_middle_whatever_a_stated_one_would_mean() -> None:
    build = change(BUILDS["Teasel"], "exhaust.cam.centreline", "")
    ctx = assess(build).sides["exhaust"]
    assert "exhaust.cam.event_lift" in {f.path for f in placed.centreline(ctx).leaves}
    other = assess(change(build, "exhaust.cam.centreline_means", "maximum lift")).sides["exhaust"]
    # its card is skewed by 3°: the nose does not lie in the middle
    assert placed.nose_crank_rad(other) == placed.nose_crank_rad(ctx) != -placed.centreline(ctx).value
