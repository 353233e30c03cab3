"""A line of text over a serial port or a socket, listened to in the background; what it sends is asked for."""

import time
from collections import deque
from dataclasses import dataclass
from threading import Event, Lock, Thread

from arcstack.errors import LinkLost
from arcstack.readings.instruments.instrument import LONGEST_LINE, Instrument, read_line
from arcstack.settings import setting

KEPT, AT_MOST, JOINED_S = int(setting("link.kept")), setting("link.at_most"), setting("link.joined")
LATE_S = setting("link.late")


@dataclass(frozen=True)
class Heard:
    """One line of an instrument: ``number`` counts, ``text`` is the reading in it, ``trouble`` why there is none.

    ``asked`` is the place and the figure that it was asked for; empty where the instrument sent by itself.
    """

    number: int
    text: str
    trouble: str = ""
    asked: str = ""


class Link:
    """Listens to one instrument until it is closed. Only whole lines count; a flood of them is said to be one.

    Raises ``LinkLost`` where the address cannot be opened.
    """

    def __init__(self, instrument: Instrument) -> None:
        import serial  # loaded only where a link is wanted

        self.instrument = instrument
        self._lock, self._ended = Lock(), Event()
        self._heard: deque[Heard] = deque(maxlen=KEPT)
        self._count = 0
        self._lately: deque[float] = deque(maxlen=int(AT_MOST) + 1)
        self._lost, self._asked = "", False
        self._waiting: deque[tuple[float, str]] = deque(maxlen=KEPT)
        try:
            self._port = serial.serial_for_url(instrument.address, baudrate=instrument.speed, timeout=0.2)
        except (serial.SerialException, ValueError, OSError) as error:
            raise LinkLost(f"{instrument.name} does not answer at {instrument.address}.") from error
        self._opened = time.monotonic()
        Thread(target=self._listen, name=f"link {instrument.name}", daemon=True).start()

    @property
    def last(self) -> int:
        """The number of the last line."""
        with self._lock:
            return self._count

    def after(self, number: int) -> Heard | None:
        """The first line after a number; None while there is none. Raises ``LinkLost`` once the instrument has gone."""
        with self._lock:
            found = next((h for h in self._heard if h.number > number), None)
            if found is None and self._lost:
                raise LinkLost(self._lost)
            return found

    def ask(self, place: str = "", figure: str = "") -> None:
        """Send what asks for a reading. Raises ``LinkLost``."""
        if not self.instrument.asks:
            raise LinkLost(f"{self.instrument.name} sends by itself: press its own button.")
        text = self.instrument.asks.replace("{place}", place or "-").replace("{figure}", figure)
        if not text.isprintable():
            raise LinkLost(f"{self.instrument.name} is asked in one line of plain letters.")
        with self._lock:
            self._asked = True
            self._waiting.append((time.monotonic(), f"{place}|{figure}"))
        try:
            self._port.write(f"{text}\r\n".encode("ascii", "replace"))
        except Exception as error:
            raise LinkLost(f"{self.instrument.name} has gone: {self.instrument.address} takes nothing.") from error

    def close(self) -> None:
        self._ended.set()
        self._port.close()

    def _listen(self) -> None:
        held, first, tail = b"", True, False
        while not self._ended.is_set():
            try:
                some = self._port.read(max(1, min(self._port.in_waiting or 1, 4096)))
            except Exception:
                if not self._ended.is_set():
                    self._lose(held)
                return
            if some and first:
                first = False
                if not self._asked and time.monotonic() - self._opened < JOINED_S:
                    # whoever joins in the middle of a line would take its tail for a reading
                    self._hear("", f"{self.instrument.name} was sending as it was opened: send that reading again.")
                    tail = True
            if tail:
                _, end, some = some.partition(b"\n")
                tail = not end
            held += some
            *lines, held = held.replace(b"\r\n", b"\n").replace(b"\r", b"\n").split(b"\n")
            if len(held) > LONGEST_LINE:
                self._hear("", f"{self.instrument.name} sends without an end of line.")
                held = b""
            for line in lines:
                if line.strip():
                    self._take(line)

    def _lose(self, held: bytes) -> None:
        half = " in the middle of a line; that half was not taken" if held.strip() else ""
        with self._lock:
            self._lost = f"{self.instrument.name} has gone{half}. Look at its cable, then open it again."

    def _take(self, line: bytes) -> None:
        now = time.monotonic()
        self._lately.append(now)
        if len(self._lately) == self._lately.maxlen and now - self._lately[0] < 1.0:
            self._hear("", f"{self.instrument.name} sends more than {AT_MOST:.0f} lines a second: none is taken.")
            return
        try:
            self._hear(read_line(self.instrument, line.decode("utf-8", "replace")), "")
        except LinkLost as trouble:
            self._hear("", str(trouble))
        except Exception:  # whatever is wrong with one line, the next one is listened to
            self._hear("", f"{self.instrument.name} sent a line that could not be read.")

    def _hear(self, text: str, trouble: str) -> None:
        with self._lock:
            if trouble and self._heard and self._heard[-1].trouble == trouble:
                return
            self._count += 1
            # a line answers what was asked first: one that comes late belongs to its own place, or to nobody
            while self._waiting and time.monotonic() - self._waiting[0][0] > LATE_S:
                self._waiting.popleft()
            asked = self._waiting.popleft()[1] if self._waiting else ""
            self._heard.append(Heard(self._count, text, trouble, asked))
