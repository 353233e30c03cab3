"""A few pages at a time, in turn: what waits for an instrument takes no turn, and what breaks gives its own back."""

import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Lock, Semaphore, Thread

import pytest
from flask import Flask, abort

from arcstack.web import create_app
from arcstack.web.turns import HALF_S, HANDS, LONG_S, WAITS, Lanes, Turns, set_aside, take_turns


class Counted:
    """How many requests are being worked, and the most that ever were."""

    def __init__(self) -> None:
        self.lock, self.now, self.most = Lock(), 0, 0
        self.go = Semaphore(0)

    def work(self) -> str:
        with self.lock:
            self.now += 1
            self.most = max(self.most, self.now)
        assert self.go.acquire(timeout=10)
        with self.lock:
            self.now -= 1
        return "done"


@pytest.fixture
def counted() -> Counted:
    return Counted()


@pytest.fixture
def app(counted: Counted) -> Flask:
    app = Flask(__name__)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    take_turns(app, 2)
    app.add_url_rule("/page", "page", counted.work)
    app.add_url_rule("/mark", "watching.index", lambda: "mark")
    app.add_url_rule("/none", "none", lambda: abort(404))
    app.add_url_rule("/broken", "broken", lambda: [][1])
    return app


def test_two_are_worked_at_once_and_the_rest_wait(app: Flask, counted: Counted) -> None:
    with ThreadPoolExecutor(6) as pool:
        pages = [pool.submit(lambda: app.test_client().get("/page").text) for _ in range(6)]
        # what takes no turn is answered while both are taken
        assert app.test_client().get("/mark").text == "mark"
        for _ in range(500):
            if counted.now == 2:
                break
            time.sleep(0.01)
        for _ in pages:
            counted.go.release()
        assert [p.result(10) for p in pages] == ["done"] * 6
    assert counted.most == 2


def test_who_came_first_is_next() -> None:
    turns, order = Turns(1), []
    turns.take()

    def come(n: int) -> None:
        turns.take()
        order.append(n)
        turns.give()

    threads = []
    for n in range(8):
        threads.append(Thread(target=come, args=(n,)))
        threads[-1].start()
        while turns.waiting() <= n:
            time.sleep(0.001)
    turns.give()
    for thread in threads:
        thread.join(10)
    assert order == list(range(8))


def test_a_page_that_waits_for_work_elsewhere_lets_others_have_its_turn(app: Flask, counted: Counted) -> None:
    came, go = Semaphore(0), Semaphore(0)

    def waits() -> str:
        with set_aside():
            came.release()
            assert go.acquire(timeout=10)
        return counted.work()

    app.add_url_rule("/waits", "waits", waits)
    with ThreadPoolExecutor(8) as pool:
        waiting = [pool.submit(lambda: app.test_client().get("/waits").text) for _ in range(4)]
        for _ in waiting:
            assert came.acquire(timeout=10)
        # all four have begun, and a page is worked beside them
        counted.go.release()
        assert app.test_client().get("/page").text == "done"
        for _ in waiting:
            go.release()
        for _ in waiting:
            counted.go.release()
        assert [p.result(10) for p in waiting] == ["done"] * 4
        # and each took a turn again before it went on, and gave it back
        assert counted.most <= 2
        counted.go.release()
        assert app.test_client().get("/page").text == "done"


def test_without_turns_nothing_is_set_aside() -> None:
    bare = Flask(__name__)
    with bare.test_request_context("/"), set_aside():
        pass


def test_what_breaks_or_is_refused_gives_its_turn_back(app: Flask, counted: Counted) -> None:
    codes = [app.test_client().get(path).status_code for path in ("/none", "/broken", "/nowhere") * 3]
    assert codes == [404, 500, 404] * 3
    counted.go.release()
    assert app.test_client().get("/page").text == "done"


def test_what_waits_is_there(tmp_path: Path) -> None:
    assert {r.endpoint for r in create_app(tmp_path).url_map.iter_rules()} >= WAITS | HANDS


def test_who_asks_for_many_pages_holds_up_nobody_else() -> None:
    turns, order = Turns(1), []
    turns.take("greedy")

    def come(client: str) -> None:
        turns.take(client)
        order.append(client)
        turns.give()

    threads = []
    for client in ("greedy", "greedy", "greedy", "wen", "ada", "wen"):
        waiting = turns.waiting()
        threads.append(Thread(target=come, args=(client,)))
        threads[-1].start()
        while turns.waiting() <= waiting:
            time.sleep(0.001)
    turns.give()
    for thread in threads:
        thread.join(10)
    assert order == ["greedy", "wen", "ada", "greedy", "wen", "greedy"]
    turns.take()


def test_who_took_least_of_the_processor_lately_is_next() -> None:
    now = [5_000.0]
    turns, order = Turns(1, lambda: now[0]), []
    for client, seconds in (("greedy", 4.0), ("wen", 0.5)):
        turns.take(client)
        turns.give(client, seconds)
    turns.take("other")

    def come(client: str) -> None:
        turns.take(client)
        order.append(client)
        turns.give(client, 0.0)

    def all_come() -> None:
        order.clear()
        threads = []
        for client in ("greedy", "wen", "new"):
            waiting = turns.waiting()
            threads.append(Thread(target=come, args=(client,)))
            threads[-1].start()
            while turns.waiting() <= waiting:
                time.sleep(0.001)
        turns.give("other", 0.0)
        for thread in threads:
            thread.join(10)

    all_come()
    assert order == ["new", "wen", "greedy"]
    # what was long ago is forgotten: then who came first is next
    now[0] = 6_000.0
    turns.take("other")
    all_come()
    assert order == ["greedy", "wen", "new"]
    # a little while ago is not: half of it is left after so long
    turns.take("greedy")
    turns.give("greedy", 4.0)
    now[0] += HALF_S
    turns.take("wen")
    turns.give("wen", 1.5)
    turns.take("other")
    all_come()
    assert order == ["new", "wen", "greedy"]


def test_a_page_that_took_long_waits_apart_until_it_is_quick_again() -> None:
    lanes = Lanes()
    assert lanes.of("sheet.pdf") is lanes.pages
    lanes.took("sheet.pdf", 4 * LONG_S)
    assert lanes.of("sheet.pdf") is lanes.long
    assert lanes.of("stage.show") is lanes.pages
    for _ in range(3):
        lanes.took("sheet.pdf", 0.01)
    assert lanes.of("sheet.pdf") is lanes.pages
    # a hand never stands behind a page, however long its own took
    lanes.took("bench.take", 4 * LONG_S)
    assert lanes.of("bench.take") is lanes.hands


def come(turns: Turns, name: str, order: list[str]) -> Thread:
    """One that waits for its turn, has it and gives it back."""

    def take() -> None:
        turns.take(name)
        order.append(name)
        turns.give(name)

    waiting = turns.waiting()
    thread = Thread(target=take)
    thread.start()
    for _ in range(5_000):
        if turns.waiting() > waiting or name in order:
            break
        time.sleep(0.001)
    return thread


def test_a_long_page_begins_while_no_hand_and_no_page_is_worked_or_waits() -> None:
    lanes, order = Lanes(1), list[str]()
    lanes.hands.take("hand")
    lanes.pages.take("page")
    threads = [come(lanes.long, "long", order), come(lanes.pages, "next page", order)]
    lanes.hands.give("hand")
    assert order == []
    # the page that waits is before it, though it came later
    lanes.pages.give("page")
    for thread in threads:
        thread.join(10)
    assert order == ["next page", "long"]
    # and every turn was given back
    for turns in (lanes.hands, lanes.pages, lanes.long):
        come(turns, "again", order).join(10)
    assert order.count("again") == 3


def test_a_long_page_does_not_wait_for_ever_behind_others() -> None:
    now, lock, order = [0.0], Lock(), list[str]()
    pages = Turns(2, lambda: now[0], lock=lock)
    long = Turns(1, lambda: now[0], behind=(pages,), patience=2.0, lock=lock)
    pages.take("one")
    pages.take("other")
    waits = come(long, "long", order)
    now[0] = 1.9
    pages.give("one")
    pages.take("one")
    assert order == []
    now[0] = 2.0
    pages.give("one")
    waits.join(10)
    assert order == ["long"]


def test_a_page_is_remembered_by_its_address_and_its_client_by_the_session(app: Flask) -> None:
    def burns() -> str:
        until = time.thread_time() + 1.5 * LONG_S
        while time.thread_time() < until:
            pass
        return "done"

    app.add_url_rule("/burns", "burns", burns)
    lanes: Lanes = app.extensions["turns"]
    client = app.test_client()
    assert client.get("/burns", environ_overrides={"arcstack.client": "greedy"}).text == "done"
    assert client.get("/burns", environ_overrides={"REMOTE_ADDR": "10.0.0.7"}).text == "done"
    assert lanes.of("burns") is lanes.long
    assert lanes.of("page") is lanes.pages
    used = {c: lanes.pages._lately(c, time.monotonic()) + lanes.long._lately(c, time.monotonic()) for c in CLIENTS}
    assert used["greedy"] > LONG_S
    assert used["10.0.0.7"] > LONG_S
    # whoever else stands at the address of one who is signed in took nothing
    assert used["127.0.0.1"] == used[""] == 0.0


CLIENTS = ("greedy", "10.0.0.7", "127.0.0.1", "")
