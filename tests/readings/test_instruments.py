"""Lines of gauges: read whole, refused with words, never half taken."""

import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Thread

import pytest

from arcstack.errors import LinkLost
from arcstack.readings.instruments import KINDS, Heard, Instrument, Link, read_line
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer


def gauge(**more: object) -> Instrument:
    given = {"name": "H-2", "kind": "height", "resolution": 0.01, "standard": 35.0, "unit": "mm"} | more
    return Instrument.model_validate(given)


def heard(link: Link, after: int = 0, patience: float = 5.0) -> Heard:
    end = time.monotonic() + patience
    while time.monotonic() < end:
        found = link.after(after)
        if found is not None:
            return found
        time.sleep(0.01)
    raise AssertionError("nothing was heard")


@contextmanager
def sends(*parts: bytes, then_close: bool = False, wait: float = 0.5) -> Iterator[str]:
    """A server that sends some bytes to whoever comes, and gives its address."""
    server = socket.create_server(("127.0.0.1", 0))
    held: list[socket.socket] = []

    def serve() -> None:
        one, _ = server.accept()
        held.append(one)
        time.sleep(wait)
        with suppress(OSError):
            for part in parts:
                one.sendall(part)
                time.sleep(0.05)
        if then_close:
            one.close()

    Thread(target=serve, daemon=True).start()
    try:
        yield f"socket://127.0.0.1:{server.getsockname()[1]}"
    finally:
        for one in held:
            one.close()
        server.close()


@pytest.mark.parametrize(
    ("line", "typed"),
    [("36.81", "36.81 mm"), ("36,81\r\n", "36.81 mm"), ("  +36.81 mm", "+36.81 mm"), ("−0.02", "-0.02 mm"), ("1.4492 in", "1.4492 in"), ("H 36.81mm", "36.81 mm")],
)  # fmt: skip
def test_a_line_is_read_with_its_unit(line: str, typed: str) -> None:
    assert read_line(gauge(), line) == typed


@pytest.mark.parametrize("line", ["", "\x00", "ERR", "81.2 N", "36.81 kg", "x" * 300])
def test_what_is_no_reading_is_refused_in_words(line: str) -> None:
    with pytest.raises(LinkLost, match="H-2 sent"):
        read_line(gauge(), line)


def test_a_pattern_of_its_own_finds_the_figure_among_others() -> None:
    own = gauge(pattern=r"CH1=(?P<value>[0-9.]+)")
    assert read_line(own, "CH0=12.00;CH1=36.81") == "36.81 mm"


@pytest.mark.parametrize("pattern", ["(", r"[0-9]+"])
def test_a_pattern_that_finds_nothing_is_refused(pattern: str) -> None:
    with pytest.raises(ValueError, match="pattern"):
        gauge(pattern=pattern)


def test_half_a_line_is_not_taken_until_its_end_comes() -> None:
    with sends(b"36.", b"81\r\n36.8", b"2 mm\n") as address:
        link = Link(gauge(address=address))
        first = heard(link)
        assert (first.text, first.number) == ("36.81 mm", 1)
        assert heard(link, 1).text == "36.82 mm"
        link.close()


def test_a_line_that_was_joined_in_its_middle_is_not_taken() -> None:
    server = socket.create_server(("127.0.0.1", 0))
    port = server.getsockname()[1]

    def serve() -> None:
        one, _ = server.accept()
        for part in (b"6.81\r\n", b"36.82\r\n"):
            time.sleep(0.05 if part[0] == ord("6") else 0.6)
            one.sendall(part)
        time.sleep(1.0)
        one.close()

    Thread(target=serve, daemon=True).start()
    link = Link(gauge(address=f"socket://127.0.0.1:{port}"))
    assert "as it was opened" in heard(link).trouble
    assert heard(link, 1).text == "36.82 mm"
    link.close()
    server.close()


def test_a_gauge_that_goes_in_the_middle_of_a_line_says_so() -> None:
    with sends(b"36.81\r\n36.8", then_close=True) as address:
        link = Link(gauge(address=address))
        assert heard(link).text == "36.81 mm"
        with pytest.raises(LinkLost, match="has gone in the middle of a line"):
            heard(link, 1)


def test_another_unit_and_nonsense_are_told_and_the_next_line_is_taken() -> None:
    with sends(b"81.2 N\r\n", b"????\r\n", b"36.81\r\n") as address:
        link = Link(gauge(address=address))
        assert "no length" in heard(link).trouble
        assert "no reading" in heard(link, 1).trouble
        assert heard(link, 2).text == "36.81 mm"
        link.close()


def test_a_flood_is_told_once_and_nothing_of_it_taken_after() -> None:
    with sends(b"36.81\r\n" * 10_000) as address:
        link = Link(gauge(address=address))
        at, troubles = 0, []
        end = time.monotonic() + 5.0
        while not troubles and time.monotonic() < end:
            found = link.after(at)
            if found is None:
                time.sleep(0.01)
                continue
            at = found.number
            troubles += [found.trouble] if found.trouble else []
        assert "lines a second" in troubles[0]
        time.sleep(0.2)
        assert link.last < 200
        link.close()


def test_a_line_without_end_does_not_fill_the_memory() -> None:
    with sends(b"9" * 3000) as address:
        link = Link(gauge(address=address))
        assert "without an end of line" in heard(link).trouble
        link.close()


def test_nobody_at_the_address_is_said() -> None:
    free = socket.create_server(("127.0.0.1", 0))
    port = free.getsockname()[1]
    free.close()
    with pytest.raises(LinkLost, match="does not answer"):
        Link(gauge(address=f"socket://127.0.0.1:{port}"))


def test_a_gauge_that_sends_by_itself_is_not_asked() -> None:
    with sends() as address:
        link = Link(gauge(address=address))
        with pytest.raises(LinkLost, match="its own button"):
            link.ask()
        link.close()


@pytest.mark.parametrize("kind", KINDS)
def test_every_stand_in_speaks_over_the_same_link_as_a_real_one(kind: str) -> None:
    server = StandInServer(StandIn(kind, seed=3, faults=Faults(wild=0.0)))
    Thread(target=server.serve_forever, daemon=True).start()
    instrument = server.stand_in.instrument(server.port)
    link = Link(instrument)
    link.ask("3I-b", "open_height")
    first = heard(link)
    assert first.trouble == ""
    assert first.text.split()[1] == instrument.unit
    link.close()
    server.shutdown()
    server.server_close()


def test_a_stand_in_errs_as_it_is_told_to() -> None:
    """Noise of half a resolution about the truth; a zero error moves all; one in sixty is wild by far more."""
    exact = StandIn("height", truth=lambda place, figure: 36.80, faults=Faults(0.0, 0.0, 0.0, 0.0))
    assert {exact.line("1I-a", "open_height") for _ in range(20)} == {"36.80 mm"}
    off = StandIn("height", truth=lambda place, figure: 36.80, faults=Faults(0.0, 5.0, 0.0, 0.0))
    assert off.line("1I-a", "open_height") == "36.85 mm"
    assert off.line("", "zero") == "35.05 mm"
    noisy = StandIn("height", truth=lambda place, figure: 36.80)
    read = [float(noisy.line("1I-a", "open_height").split()[0]) for _ in range(600)]
    wild = [r for r in read if abs(r - 36.80) > 0.5]
    assert 3 <= len(wild) <= 25
    drifting = StandIn("height", truth=lambda place, figure: 36.80, faults=Faults(0.0, 0.0, 0.5, 0.0))
    assert [drifting.line() for _ in range(40)][-1] == "37.00 mm"


def test_the_same_seed_gives_the_same_head() -> None:
    lines = [[StandIn("bore", seed).line("1I-a", "bore_top_1") for _ in range(1)] for seed in (4, 4, 5)]
    assert lines[0] == lines[1] != lines[2]
    one = StandIn("scale", 4)
    assert one.real("1I-a", "valve_mass") == one.real("1I-a", "valve_mass") != one.real("1I-b", "valve_mass")


def test_no_pattern_searches_for_longer_than_its_line_is() -> None:
    slow = gauge(pattern=r"(?:(?:a+)+)+b(?P<value>[0-9]+)")
    began = time.monotonic()
    with pytest.raises(LinkLost, match="finds no reading"):
        read_line(slow, "a" * 199)
    assert time.monotonic() - began < 0.5


def test_a_pattern_whose_reading_is_optional_says_so_and_the_next_line_is_heard() -> None:
    with sends(b"busy\r\n", b"busy 36.82\r\n") as address:
        link = Link(gauge(address=address, pattern=r"busy ?(?P<value>[0-9.]+)?"))
        assert "finds no reading" in heard(link).trouble
        assert heard(link, 1).text == "36.82 mm"
        link.close()


@pytest.mark.parametrize("asks", ["R\r\nDELE 1", "R\nX", "R\x00", "Ré"])
def test_a_question_is_one_line_of_plain_letters(asks: str) -> None:
    with pytest.raises(ValueError, match="one line of plain letters"):
        gauge(asks=asks)


def test_what_is_put_into_a_question_cannot_break_its_line() -> None:
    with sends(b"36.81\r\n") as address:
        link = Link(gauge(address=address, asks="R {place} {figure}"))
        with pytest.raises(LinkLost, match="one line"):
            link.ask("1I-a\r\nDELE 1", "open_height")
        link.close()
