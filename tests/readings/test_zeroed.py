"""Which instrument a figure may be read with: known, of the kind, on its zero, and that not long ago."""

from datetime import datetime, timedelta

import pytest

from arcstack.demo import demo_builds
from arcstack.document import Sitting
from arcstack.readings import Sheet, Zero
from arcstack.readings.instruments import KINDS, Instrument
from arcstack.readings.zeroed import good_for, zero_now

NOW, LASTS = datetime(2026, 5, 4, 12, 0), timedelta(hours=12)
HEIGHT = Instrument(name="H-2", kind="height", resolution=0.01, standard=KINDS["height"].standard)
DIAL = Instrument(name="D-1", kind="dial", resolution=0.01, standard=0.0)


def tried(
    name: str = "H-2", off: float = 0.0, hours: float = 1.0, correction: float = 0.0, at: datetime | None = NOW
) -> Zero:
    when = at - timedelta(hours=hours) if at is not None else None
    return Zero(1, name, 35.0 + off, 35.0, 0.01, Sitting(hand="Wen", at=when), correction)


def good(*zeros: Zero, key: str = "open_height", named: str = "H-2") -> str:
    found = good_for(key, named, Sheet(demo_builds()[0], zeros=zeros), [DIAL, HEIGHT], NOW, LASTS)
    return found.name if found is not None else ""


def test_an_instrument_of_the_kind_that_was_on_its_zero_reads() -> None:
    assert good(tried()) == good(tried(), named=" h-2 ") == "H-2"
    assert good(tried(off=0.03, correction=0.03)) == "H-2"


@pytest.mark.parametrize(
    "zeros",
    [
        (), (tried(off=0.03),), (tried(), tried(off=0.03)), (tried(hours=12.0),), (tried(hours=-12.0),),
        (tried(at=None),), (tried("D-1"),),
    ],
)  # fmt: skip
def test_one_that_was_not_tried_is_off_or_was_tried_long_ago_does_not(zeros: tuple[Zero, ...]) -> None:
    assert good(*zeros) == ""


def test_one_of_another_kind_and_an_eye_do_not() -> None:
    assert good(tried("D-1"), named="D-1") == good(tried("eye"), named="eye") == good(tried(), named="") == ""


def test_a_zero_stands_for_half_a_day_to_either_side_of_the_clock() -> None:
    for hours, stands in ((0.0, True), (11.99, True), (12.0, False), (-11.99, True), (-12.0, False)):
        found = zero_now(Sheet(demo_builds()[0], zeros=(tried(hours=hours),)), "H-2", NOW, LASTS)
        assert (found is not None) is stands, hours
