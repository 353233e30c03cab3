from threading import Event, Thread

from arcstack.cached import cached_property


class Slow:
    """Something that takes until it is let go."""

    def __init__(self, wait: Event | None = None) -> None:
        self.wait, self.begun, self.asked = wait, Event(), 0

    @cached_property
    def value(self) -> int:
        """How often it was worked."""
        self.asked += 1
        self.begun.set()
        if self.wait is not None:
            assert self.wait.wait(10)
        return self.asked


def test_it_is_worked_once_for_each_object() -> None:
    one, other = Slow(), Slow()
    assert [one.value, one.value, other.value] == [1, 1, 1]
    assert (one.asked, other.asked) == (1, 1)
    assert Slow.value.__doc__ == "How often it was worked."


def test_one_that_is_being_worked_holds_up_no_other() -> None:
    go = Event()
    held, free = Slow(go), Slow()
    thread = Thread(target=lambda: held.value)
    thread.start()
    assert held.begun.wait(10)
    found: list[int] = []
    other = Thread(target=lambda: found.append(free.value), daemon=True)
    other.start()
    other.join(5)
    go.set()
    thread.join()
    assert found == [1]
