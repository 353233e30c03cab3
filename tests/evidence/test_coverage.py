"""Of what a result rests on: measured, owed, set, typical; and nothing counts for another."""

import pytest

from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Evidence, Figure
from arcstack.demo import demo_builds
from arcstack.document import Absent, Build, Entry, get
from arcstack.document.fields import FIELDS
from arcstack.evidence import Leaf, coverage
from arcstack.units import COUNT, LENGTH, SPEED
from tests.builds import OTHERS
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
    """Each figure at the bottom of a proven check was measured, or is none said by a hand, or is no reading's."""
    for v in assess(build).verdicts:
        if not v.proven:
            continue
        assert v.figure is not None
        for f, how in coverage(v.figure).leaves:
            assert how in (Leaf.MEASURED, Leaf.TYPICAL), (v.key, f.label)
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
