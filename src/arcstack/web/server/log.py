"""A log that cannot fill a disk: a line that comes again and again is written a few times, then counted."""

import logging
import sys
import time
from collections.abc import Callable

from arcstack.settings import setting

OF_ONE, OF_ALL = int(setting("log.of_one")), int(setting("log.of_all"))
WINDOW_S = 60.0


class Sparing(logging.Filter):
    """Lets so many lines of one kind through in a minute, and so many in all; the rest is told as a number.

    >>> now = [0.0]
    >>> sparing = Sparing(clock=lambda: now[0], of_one=2)
    >>> line = logging.LogRecord("web", logging.WARNING, "", 0, "not let in: %s", ("x",), None)
    >>> [sparing.filter(line) for _ in range(4)]
    [True, True, False, False]
    >>> now[0] = 61.0
    >>> again = logging.LogRecord("web", logging.WARNING, "", 0, "not let in: %s", ("y",), None)
    >>> sparing.filter(again), again.getMessage()
    (True, 'not let in: y (2 more lines were left out in the minute before)')
    """

    def __init__(self, clock: Callable[[], float] = time.monotonic, of_one: int = OF_ONE, of_all: int = OF_ALL) -> None:
        super().__init__()
        self._clock, self._of_one, self._of_all = clock, of_one, of_all
        self._since = clock()
        self._seen: dict[tuple[str, object], int] = {}
        self._written = self._left_out = self._owed = 0

    def filter(self, record: logging.LogRecord) -> bool:
        now = self._clock()
        if now - self._since >= WINDOW_S:
            self._since, self._owed = now, self._left_out
            self._seen.clear()
            self._written = self._left_out = 0
        kind = (record.name, record.msg if isinstance(record.msg, str) else type(record.msg))
        seen = self._seen[kind] = self._seen.get(kind, 0) + 1
        if seen > self._of_one or self._written >= self._of_all:
            self._left_out += 1
            return False
        self._written += 1
        if self._owed:
            record.msg = f"{record.getMessage()} ({self._owed} more lines were left out in the minute before)"
            record.args, self._owed = (), 0
        return True


def write_sparingly(root: logging.Logger) -> None:
    """Write warnings to the error stream, each kind a few times a minute; once for a program."""
    if any(isinstance(f, Sparing) for h in root.handlers for f in h.filters):
        return
    handler = logging.StreamHandler(sys.stderr)
    handler.setLevel(logging.WARNING)
    handler.setFormatter(logging.Formatter("%(asctime)s %(name)s: %(message)s"))
    handler.addFilter(Sparing())
    root.addHandler(handler)
