"""A longer lobe: what is held stays where it was, what is not moves by what the lobe grew."""

import math

import pytest

from arcstack.assess import assess, placed, timing
from arcstack.demo import demo_builds
from arcstack.document import Build
from arcstack.errors import MissingInput
from arcstack.trials.longer import Held, longer
from tests.builds import quill

SOUND, _ = demo_builds()
TEN = math.radians(10.0)


def events(build: Build, side: str) -> tuple[float, float]:
    """Opening and closing, crank degrees from gas-exchange TDC."""
    ctx = assess(build).sides[side]
    found = timing.events(ctx, placed.centre_lift_mm(ctx))
    return math.degrees(found.opens_rad), math.degrees(found.closes_rad)


@pytest.mark.parametrize(
    ("held", "intake", "exhaust"),
    [
        (Held.OVERLAP, (0.0, 10.0), (-10.0, 0.0)),
        (Held.CENTRELINE, (-5.0, 5.0), (-5.0, 5.0)),
        (Held.FAR, (-10.0, 0.0), (0.0, 10.0)),
    ],
)
def test_only_what_is_not_held_moves(held: Held, intake: tuple[float, float], exhaust: tuple[float, float]) -> None:
    for side, moved in (("intake", intake), ("exhaust", exhaust)):
        was, now = events(SOUND, side), events(longer(SOUND, side, TEN, held), side)
        assert (now[0] - was[0], now[1] - was[1]) == pytest.approx(moved, abs=0.25), side


def test_overlap_stays_and_the_card_still_agrees_with_itself() -> None:
    before, after = assess(SOUND), assess(longer(SOUND, "intake", TEN, Held.OVERLAP))
    overlap = [a.verdict("timing.overlap", "intake").figure for a in (before, after)]
    assert overlap[0] is not None
    assert overlap[1] is not None
    assert overlap[1].value == pytest.approx(overlap[0].value, abs=math.radians(0.4))
    for held in Held:
        for side in ("intake", "exhaust"):
            card = assess(longer(SOUND, side, TEN, held)).verdict("cam.card", side)
            assert card.figure is not None
            assert card.figure.value < math.radians(1.0), (held, side)
    # the flank is another: piston clearance is worked again
    gaps = [a.verdict("piston.clearance_swept", "intake").figure for a in (before, after)]
    assert gaps[0] != gaps[1]


def test_nothing_longer_is_nothing_moved_and_a_measured_curve_is_no_card() -> None:
    same = longer(SOUND, "intake", 0.0, Held.OVERLAP)
    assert events(same, "intake") == pytest.approx(events(SOUND, "intake"), abs=1e-6)
    with pytest.raises(MissingInput, match="measured curve"):
        longer(quill(), "intake", TEN, Held.FAR)
    with pytest.raises(MissingInput, match="duration"):
        longer(Build(name="x"), "intake", TEN, Held.FAR)
