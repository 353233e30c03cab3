"""The step loop made ready: compiled once, kept on disk, loaded before anybody waits for it."""

import subprocess
import sys
import threading
import time

_ready = threading.Event()
_started = threading.Lock()
_loading = threading.Lock()


def ready() -> bool:
    """True once the compiled loop is in memory."""
    return _ready.is_set()


def load() -> None:
    """Compile both loops, or load them from disk; a second call costs nothing."""
    if _ready.is_set():
        return
    from arcstack.dynamics.model import Chain, Train
    from arcstack.dynamics.motion import at_speed, at_speeds
    from arcstack.mech.cam.law import SymmetricLobe

    lobe = SymmetricLobe.polynomial(9.0, 1.2, (2.0, 8.0, 14.0, 20.0))
    train = Train(lobe, 0.1, (Chain(300.0, 30.0, 12.0, 0.02),), 0.2, 28_000.0, 0.06)
    at_speed(train, 6000.0, 1)
    at_speeds(train, [6000.0], 1)
    _ready.set()


def wait() -> None:
    """Until the loop is ready; makes it so where nobody else does."""
    with _loading:
        load()


def in_background(after_s: float = 0.0) -> threading.Thread | None:
    """Start making the loop ready, in a process of its own first, so that the compiler keeps no page waiting.

    ``after_s`` leaves a page that is asked for at once its time. Gives the thread, or None where it is under way or
    done.
    """
    if ready() or not _started.acquire(blocking=False):
        return None

    def work() -> None:
        try:
            time.sleep(after_s)
            with _loading:
                subprocess.run([sys.executable, "-m", "arcstack.dynamics.warm"], check=False)
                load()
        finally:
            _started.release()

    thread = threading.Thread(target=work, name="warm", daemon=True)
    thread.start()
    return thread


if __name__ == "__main__":
    load()
