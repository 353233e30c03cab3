"""Searches of a shelf: in the background, kept, counted, stopped."""

import logging
from collections.abc import Callable, Hashable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Event, Lock
from time import monotonic
from typing import Any

from arcstack.application.kept import Kept
from arcstack.errors import ArcStackError, BrokeOff, Stopped
from arcstack.settings import setting

KEPT = int(setting("searches.kept"))
PATIENCE_S = setting("searches.patience")

_log = logging.getLogger("arcstack.searches")

Count = Callable[[int, int], None]
Stop = Callable[[], bool]
Work = Callable[[Count, Stop], Any]


@dataclass
class Job:
    """One search: how far it is, and what it came to.

    ``told`` is why it could not be made, ``took_s`` how long it took once it is done.
    """

    stop: Event = field(default_factory=Event)
    ended: Event = field(default_factory=Event)
    behind: int = 0
    size: int = 0
    found: Any = None
    told: ArcStackError | None = None
    asked: float = 0.0
    took_s: float = 0.0

    @property
    def done(self) -> bool:
        return self.ended.is_set()

    @property
    def stopped(self) -> bool:
        return self.stop.is_set()


class Searches:
    """Searches by what they ask. What nobody asks for any more is stopped, the latest results are kept.

    One is made after another. What is made of many searches goes beside them, one at a time too: nobody who asks for
    a list waits until a hand that went away is given up.
    """

    def __init__(self) -> None:
        self._lock = Lock()
        self._jobs: Kept[Hashable, Job] = Kept(KEPT, gone=lambda job: job.stop.set())
        self._one, self._many = (ThreadPoolExecutor(1, thread_name_prefix=name) for name in ("search", "searches"))

    def start(self, key: Hashable, work: Work, again: bool = False, many: bool = False) -> Job:
        """Have a search made, or look how far it is; one that was stopped is begun anew where asked ``again``.

        ``many`` says that it is made of many searches.
        """
        with self._lock:
            job = self._jobs.get(key)
            if job is None or (again and job.stopped):
                job = self._jobs.put(key, Job())
                job.asked = monotonic()
                (self._many if many else self._one).submit(self._run, job, work)
            job.asked = monotonic()
        return job

    def known(self, key: Hashable) -> Any:
        """What a search came to; None where it is not at hand."""
        job = self._jobs.get(key)
        return job.found if job is not None and job.done else None

    def stop(self, key: Hashable) -> None:
        """End a search, which gives what it has."""
        job = self._jobs.get(key)
        if job is not None:
            job.stop.set()

    @staticmethod
    def _run(job: Job, work: Work) -> None:
        began = monotonic()

        def count(behind: int, size: int) -> None:
            job.behind, job.size = behind, size

        def stop() -> bool:
            if monotonic() - job.asked > PATIENCE_S:
                # what nobody waited for counts as stopped, so that it can be gone on with
                job.stop.set()
            return job.stop.is_set()

        try:
            job.found = work(count, stop)
        except Stopped:
            job.stop.set()
        except ArcStackError as told:
            job.told = told
        except Exception as error:
            # what nobody foresaw ends the search all the same, and says so
            _log.exception("a search broke off")
            job.told = BrokeOff(error)
        finally:
            job.took_s = monotonic() - began
            job.ended.set()
