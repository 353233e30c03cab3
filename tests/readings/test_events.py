"""What is true of every event of a kind stands on its class, and every kind is there as soon as any is read."""

import subprocess
import sys
from dataclasses import fields, is_dataclass

import pytest
from pydantic import TypeAdapter, ValidationError

from arcstack.document import Sitting
from arcstack.errors import DocumentError
from arcstack.formats.readings_json import read_event
from arcstack.readings import KINDS, Event, last_of, of_kind
from arcstack.readings.lash_history import Bled, Served
from arcstack.readings.recorded import Booked, Released, Reopened, Sort, release
from arcstack.readings.returning import Received
from arcstack.readings.sent_on import SentOn

BY = Sitting(hand="Ilse")


def test_every_kind_is_known_as_soon_as_the_room_is_loaded() -> None:
    code = (
        "import arcstack.readings as r, importlib, pkgutil; known = set(r.KINDS);"
        "[importlib.import_module(m.name) for m in pkgutil.walk_packages(r.__path__, 'arcstack.readings.')];"
        "print(sorted(set(r.KINDS) - known))"
    )
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "[]"


@pytest.mark.parametrize("made", KINDS.values(), ids=list(KINDS))
def test_an_event_has_its_number_first_its_hand_and_what_it_names(made: type[Event]) -> None:
    assert is_dataclass(made)
    names = [f.name for f in fields(made)]
    assert names[0] == "number"
    assert "by" in names
    assert "kind" not in names
    assert made.names in ("", *names)


@pytest.mark.parametrize("kind", KINDS)
def test_nothing_is_read_that_an_event_does_not_hold(kind: str) -> None:
    with pytest.raises(ValidationError) as told:
        TypeAdapter(KINDS[kind]).validate_python({"nonsense": 1})
    assert ("nonsense",) in {e["loc"] for e in told.value.errors()}
    with pytest.raises(DocumentError):
        read_event({"kind": kind, "nonsense": 1})


def test_two_events_of_one_name_are_refused() -> None:
    with pytest.raises(TypeError, match="two events are called put"):
        type("Again", (Event,), {}, kind="put")


def test_what_decides_and_what_may_be_written_of_a_signed_head() -> None:
    assert {k for k, e in KINDS.items() if e.decides} == {
        "released", "reopened", "waived", "signed", "disposed", "zero",
    }  # fmt: skip
    assert {k for k, e in KINDS.items() if e.after_release} == {
        "received", "reopened", "served", "caused", "bled", "ran", "run_off", "booked", "weighed", "zero", "worked",
        "pictured", "marked", "picture_off", "stated",
    }  # fmt: skip


def test_events_of_a_kind_in_their_order() -> None:
    one, two, other = Bled(1, "intake", BY), Bled(3, "exhaust", BY), Served(2, 1, None, None, None, "", None, BY)
    assert of_kind([one, other, two], Bled) == (one, two)
    assert last_of([one, other, two], Bled) is two
    assert last_of([other], Bled) is None


def test_a_signature_ends_where_the_head_is_opened_or_sent_on_and_not_where_it_is_received() -> None:
    signed = Released(4, 2, 0, 3, "0" * 64, "Ilse", (), "", BY)
    came = Received(5, "ticks", "", None, None, None, BY)
    assert release([signed]) is signed
    assert release([signed, came]) is signed
    assert release([signed, came, SentOn(6, 3, "worn seat", BY)]) is None
    assert release([signed, Reopened(5, 4, "wrong shim", BY)]) is None
    assert release([]) is None


def test_what_is_named_is_called_by_its_new_number() -> None:
    back = Booked(9, Sort.HOURS, "2026-03-01", "seats", 0.0, 0.0, 0.0, BY, 7, True)
    assert back.renumbered({7: 70}, {7: 1}).replaces == 70
    assert back.renumbered({8: 80}, {}).replaces == 0
    signed = Released(9, 2, 5, 6, "0" * 64, "Ilse", (), "", BY).renumbered({3: 30, 7: 70}, {4: 40, 5: 50})
    assert (signed.readings, signed.events) == (50, 30)
    assert Bled(4, "intake", BY).renumbered({4: 40}, {}) == Bled(4, "intake", BY)
