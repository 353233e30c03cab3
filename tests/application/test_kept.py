"""What is kept at hand: the last used, so many or so much, and nobody's twice."""

from threading import Barrier, Thread

from arcstack.application.kept import Kept


def test_the_last_used_are_kept() -> None:
    kept: Kept[str, int] = Kept(2)
    kept.put("a", 1)
    kept.put("b", 2)
    assert kept.get("a") == 1
    kept.put("c", 3)
    assert ("a" in kept, "b" in kept, "c" in kept) == (True, False, True)
    assert kept.get("b") is None
    assert kept.latest == 3


def test_what_was_put_last_is_the_latest_only_while_it_is_kept() -> None:
    kept: Kept[str, int] = Kept(1)
    assert kept.latest is None
    kept.put("a", 1)
    kept.put("b", 2)
    kept.put("b", 4)
    assert kept.latest == 4


def test_by_size_the_oldest_go_and_one_that_is_too_large_stands_alone() -> None:
    gone: list[str] = []
    kept: Kept[int, str] = Kept(10, size=len, gone=gone.append)
    kept.put(1, "abcd")
    kept.put(2, "efgh")
    kept.put(3, "ij")
    assert gone == []
    kept.put(4, "k")
    assert gone == ["abcd"]
    kept.put(5, "x" * 40)
    assert gone == ["abcd", "efgh", "ij", "k"]
    assert kept.get(5) == "x" * 40
    kept.put(6, "y")
    assert kept.get(5) is None


def test_many_threads_put_and_get_at_once() -> None:
    kept: Kept[int, int] = Kept(8)
    start, wrong = Barrier(6), []

    def work(first: int) -> None:
        start.wait()
        for n in range(4_000):
            key = (first + n) % 24
            found = kept.get(key)
            if found not in (None, key):
                wrong.append((key, found))
            kept.put(key, key)

    threads = [Thread(target=work, args=(n * 4,)) for n in range(6)]
    [t.start() for t in threads]
    [t.join() for t in threads]
    assert wrong == []
    assert sum(n in kept for n in range(24)) == 8
