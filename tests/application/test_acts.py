"""An act is judged against the head as it stands, and stored with all it does or not at all."""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

import pytest

from arcstack.application import Shop, Who, bench
from arcstack.application.acts import assembling, costs, lash, lesson, ordering, power, receiving, signing
from arcstack.application.acts.acting import act
from arcstack.application.acts.work_done import write_down
from arcstack.application.head import Opened, opened
from arcstack.demo import demo_builds
from arcstack.document import Sitting, change
from arcstack.errors import FieldError, Frozen, StoreError
from arcstack.formats.power_csv import Columns
from arcstack.readings import Event, Phase
from arcstack.readings.assembling import Held, Tooled, tools_held
from arcstack.readings.lash_history import Bled
from arcstack.readings.recorded import Known, Released, Sort, Worked, Worker, booked, runs
from arcstack.readings.returning import Severity, findings
from arcstack.readings.taking import How
from arcstack.store import Kind, Reason
from arcstack.units import System

AT = datetime(2026, 3, 1, 8, 30)
WHO = Who("ann", lambda: AT)
ANN, WEN = (Sitting(hand=name, at=AT) for name in ("Ann", "Wen"))
NOBODY = Sitting(hand="workshop", at=AT)


@pytest.fixture
def head(tmp_path: Path) -> Opened:
    shop = Shop(tmp_path)
    return opened(shop, shop.workshop.create(demo_builds()[0], WHO), "intake")


def book(head: Opened, by: Sitting, what: str = "seats cut") -> None:
    costs.book(head, by, sort=Sort.HOURS, day="2026-03-01", what=what, hours=1.0, rate=80.0, money=0.0)


def test_an_act_is_decided_anew_where_another_hand_was_faster(head: Opened) -> None:
    seen = []

    def decided(now: Opened) -> list[Event]:
        seen.append((now.current.revision, len(now.sheet.events)))
        if len(seen) == 1:
            book(head, WEN)
        if len(seen) == 2:
            renamed = change(now.current.build, "job.number", "26-999")
            head.shop.workshop.save(head.current.id, 1, renamed, WHO, Reason(Kind.NOTE))
        return [Bled(0, now.side, ANN)]

    act(head, decided)
    assert seen == [(1, 0), (1, 1), (2, 1)]
    assert [type(e).__name__ for e in head.anew().sheet.events] == ["Booked", "Bled"]


def test_the_second_of_two_hands_that_take_one_thing_back_is_told(head: Opened) -> None:
    book(head, ANN)
    both_see = head.anew()
    number = booked(both_see.sheet.events)[0].number
    costs.take_back(both_see, ANN, booking=number)
    with pytest.raises(FieldError, match="taken back already"):
        costs.take_back(both_see, WEN, booking=number)
    assert len(head.anew().sheet.events) == 2


def test_all_runs_of_one_drop_are_taken_or_none(head: Opened, monkeypatch: pytest.MonkeyPatch) -> None:
    good, bad = (
        b"rpm;kW\n" + b"".join(b"%d;%d\n" % (rpm, rpm // 30) for rpm in range(3000, 8000, 500)),
        b"nothing of the kind",
    )

    def take(*tables: bytes) -> None:
        named = [(f"run {n}.csv", t) for n, t in enumerate(tables)]
        power.take_runs(
            head, ANN, group="before", day="2026-03-01", revision=None, conditions={}, tables=named,
            columns=Columns(None, None, None, None, None),
        )  # fmt: skip

    with pytest.raises(FieldError, match=r"run 1\.csv"):
        take(good, bad)
    assert runs(head.anew().sheet.events) == ()
    stored = bench.happened_within
    monkeypatch.setattr(bench, "happened_within", failing_after(1, stored))
    with pytest.raises(StoreError, match="full"):
        take(good, good)
    monkeypatch.undo()
    assert runs(head.anew().sheet.events) == ()
    take(good, good)
    assert len(runs(head.anew().sheet.events)) == 2


def failing_after(times: int, store: Callable[..., int]) -> Callable[..., int]:
    """A store that takes so many events, and then fails as a full disk does."""
    left = [times]

    def failing(*args: object) -> int:
        left[0] -= 1
        if left[0] < 0:
            raise OSError("the disk is full")
        return store(*args)

    return failing


def test_a_lesson_is_there_whole_or_not_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    shop = Shop(tmp_path)
    monkeypatch.setattr(bench, "happened_within", failing_after(0, bench.happened_within))
    with pytest.raises(StoreError, match="full"):
        lesson.start(shop, WHO, ANN, lesson="heights", seed=3)
    assert list(shop.workshop.builds().rows) == []
    monkeypatch.undo()
    head = opened(shop, lesson.start(shop, WHO, ANN, lesson="heights", seed=3), "intake")
    assert head.sheet.taught
    assert head.sheet.taught.seed == 3


def signed(head: Opened) -> Opened:
    act(head, lambda now: [Released(0, now.current.revision, 0, 0, "0" * 64, "Ann", (), "", ANN)])
    return head.anew()


def test_nothing_is_added_beneath_a_signature_that_came_in_between(head: Opened) -> None:
    signed(head)
    for by_an_old_page in (
        lambda: assembling.hold_tools(head, WEN, tools={}, rest_owned=True),
        lambda: ordering.order(
            head, WEN, part="Valve", places=["1I-a"], count=1, why="bent", supplier="", day="2026-03-01", due="",
            figure="", price=None,
        ),
    ):  # fmt: skip
        with pytest.raises(Frozen):
            by_an_old_page()
    assert [type(e) for e in head.anew().sheet.events] == [Released]
    # what happens to it out of the house is still written down
    book(head, WEN)
    receiving.receive(head, WEN, complaint="smoke", touched="", distance_km=None, hours=None, limiter_events=None)


@pytest.mark.parametrize(
    "nameless",
    [
        lambda head: book(head, NOBODY),
        lambda head: ordering.take_back(head, NOBODY, line=1, reason="wrong size"),
        lambda head: signing.sign_gate(head, NOBODY, gate="paper", sure=True),
        lambda head: receiving.receive(
            head, NOBODY, complaint="smoke", touched="", distance_km=None, hours=None, limiter_events=None
        ),
        lambda head: power.take_back(head, NOBODY, run=1, reason="wrong day"),
        lambda head: assembling.read_second(head, NOBODY, texts={}, system=System.MM),
    ],
)  # fmt: skip
def test_an_act_has_a_name(head: Opened, nameless: Callable[[Opened], None]) -> None:
    with pytest.raises(FieldError, match="name"):
        nameless(head)
    assert head.anew().sheet.events == ()


def test_what_is_short_of_a_step_keeps_what_was_typed(head: Opened) -> None:
    assembling.hold_tools(head, ANN, tools={}, rest_owned=True)
    assembling.finish(head.anew(), ANN, step="tools", typed={}, system=System.MM)
    before = len(head.anew().sheet.events)
    with pytest.raises(FieldError, match="Not yet"):
        assembling.finish(head.anew(), ANN, step="threads", typed={"plugs_wanted": "4"}, system=System.MM)
    assert len(head.anew().sheet.events) == before
    with pytest.raises(FieldError, match="by a tick"):
        assembling.finish(head.anew(), ANN, step="wash", typed={"seen": "all but one"}, system=System.MM)
    assert assembling.stays_open(head, "wash")
    kept = next(s for s in assembling.stood(head.anew()) if s.step.id == "wash")
    assert kept.fields == {"seen": "all but one"}


@pytest.mark.parametrize(
    ("said", "field"),
    [
        (lambda h: lash.name_cause(h, ANN, place="1I-a", cause="read wrong", note="x"), "cause"),
        (lambda h: lash.name_cause(h, ANN, place="1I-a", cause="bad luck", note="it closed"), "cause"),
        (lambda h: lash.name_cause(h, ANN, place="9I-a", cause="read wrong", note="it closed"), "place"),
        (lambda h: write_down(h, ANN, AT.date(), **WORK | {"worker": None}), "worker"),
        (lambda h: write_down(h, ANN, AT.date(), **WORK | {"known": None}), "worker"),
        (lambda h: write_down(h, ANN, AT.date(), **WORK | {"places": ["9I-a"]}), "place"),
        (lambda h: ordering.inspect(h, ANN, line=7, found="0.02", passes=True), "order"),
        (lambda h: signing.let_check_pass(
            h, ANN, check="lash.plunger", place="1I-a", reason="known", until="2026-12-01", settles="", ended=False
        ), "check"),
    ],
)  # fmt: skip
def test_an_act_names_the_field_that_is_at_fault_and_stores_nothing(
    head: Opened, said: Callable[[Opened], None], field: str
) -> None:
    with pytest.raises(FieldError) as told:
        said(head)
    assert told.value.path == field
    assert head.anew().sheet.events == ()


WORK: dict[str, Any] = {
    "day": "2026-02-01", "worker": Worker.OTHER, "name": "Marrow Springs", "done": "seats cut", "known": Known.PAPER,
    "touched": [], "places": ["1I-a"], "parts": "",
}  # fmt: skip


def test_work_that_was_done_is_written_down(head: Opened) -> None:
    write_down(head, ANN, AT.date(), **WORK)
    made = head.anew().sheet.events[0]
    assert isinstance(made, Worked)
    assert (made.worker, made.places, made.done) == (Worker.OTHER, ("1I-a",), "seats cut")


def test_lash_that_closed_stands_against_the_bench_at_its_side(head: Opened) -> None:
    bench, build = head.shop.bench, head.current.build
    for service, text in enumerate(("0.45 mm", "0.44 mm", "0.24 mm", "0.02 mm")):
        how = How(ANN, Phase.SERVICE if service else Phase.FINAL, service, sure=True)
        bench.read(head.current.id, build, "lash", "1I-a", text, how)
    against = signing.gates(opened(head.shop, head.current.id, "exhaust"))[1].against
    assert [(a.side, a.words.split(":")[0]) for a in against if a.at is signing.At.LASH] == [("intake", "Lash at 1I-a")]
    # a gate is signed with it said, once the hand is sure
    with pytest.raises(FieldError, match="things stand against it"):
        signing.sign_gate(head.anew(), ANN, gate="bench", sure=False)
    signing.sign_gate(head.anew(), ANN, gate="bench", sure=True)
    told = head.anew().sheet.signed("bench")
    assert told is not None
    assert any(words.startswith("Lash at 1I-a") for words in told.against)


def test_tools_are_said_of_once(head: Opened) -> None:
    assembling.hold_tools(head, ANN, tools={}, rest_owned=True)
    first = [e for e in head.anew().sheet.events if isinstance(e, Tooled)]
    assert set(tools_held(first).values()) == {Held.OWNED}
    assembling.hold_tools(head.anew(), ANN, tools={}, rest_owned=True)
    assert len(head.anew().sheet.events) == len(first)


def test_a_finding_is_of_the_head_that_was_received(head: Opened) -> None:
    def find() -> None:
        receiving.find(
            head, ANN, sign="tip_dents", places=["1i-A"], whole_head=False, absent=False, severity=Severity.NAIL,
            extent="", colour="", value="", note="",
        )  # fmt: skip

    with pytest.raises(FieldError, match="Receive the head first"):
        find()
    receiving.receive(head, ANN, complaint="ticks", touched="", distance_km=10.0, hours=None, limiter_events=None)
    find()
    assert findings(head.anew().sheet.events)[0].places == ("1I-a",)
