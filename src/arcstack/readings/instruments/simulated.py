"""Stand-ins for the instruments of the bench: the same lines over a socket, with the faults that real ones have."""

import math
import random
import re
import socketserver
import zlib
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock

from arcstack.readings.instruments.instrument import KINDS, Instrument
from arcstack.units import ANGLE, FORCE, GAUGE_PRESSURE, MASS

Truth = Callable[[str, str], float | None]
"""What a figure really is at a place or of a spring, canonical; None where it is not known to the stand-in."""

ASKS = "R {place} {figure}"
"""What a stand-in is asked with; a real gauge is told what its maker says."""

_FIGURE = re.compile(r"[a-z0-9_.]*(@\d{1,3}(\.\d{1,4})?)?")

_UNITS = {
    ANGLE.name: ("deg", 180.0 / math.pi),
    FORCE.name: ("N", 1.0),
    MASS.name: ("g", 1000.0),
    GAUGE_PRESSURE.name: ("bar", 1.0),
}

_NEAR: dict[str, tuple[float, float]] = {
    "height": (36.8, 0.04), "tester": (270.0, 5.0), "vacuum": (0.82, 0.02), "dial": (0.012, 0.004),
    "scale": (0.052, 0.0002), "bore": (6.0, 0.004), "barometer": (0.985, 0.0),
    "micrometer": (5.97, 0.003), "ruler": (1.2, 0.05),
    "depth": (1.0, 0.01), "feeler": (0.2, 0.01), "protractor": (math.radians(45.0), math.radians(0.3)),
    "wheel": (math.radians(33.0), math.radians(0.4)),
}  # fmt: skip


SOLID_STIFFER = 40.0
"""Coil on coil a spring is about so many times as stiff as before."""


def pressed_n(height_mm: float, first: tuple[float, float], second: tuple[float, float], solid_mm: float) -> float:
    """The load of a spring pressed to a height, from two of its heights and loads (mm, N) and its solid height.

    >>> pressed_n(35.0, (36.0, 300.0), (26.0, 700.0), 22.0), pressed_n(21.9, (36.0, 300.0), (26.0, 700.0), 22.0)
    (340.0, 1020.0)
    """
    (h1, f1), (h2, f2) = first, second
    rate = (f2 - f1) / (h1 - h2)
    load = f1 + rate * (h1 - max(height_mm, solid_mm))
    beyond = max(0.0, solid_mm - height_mm)
    return round(load + SOLID_STIFFER * rate * beyond, 6)


@dataclass
class Faults:
    """How an instrument errs: standard deviation of a reading, zero error and drift a reading, in resolutions, and how
    often a reading is wild."""

    noise: float = 0.5
    zero: float = 0.0
    drift: float = 0.002
    wild: float = 1.0 / 60.0


EVERY_HEAD = ("dial", "micrometer", "height")
"""What every head is read with: of these one at least is off, or nobody would learn to try a zero."""


def zero_of(kind: str, seed: int) -> float:
    """By how many of its resolutions a stand-in is off by its zero, by the seed of its lesson.

    >>> [max(abs(zero_of(kind, seed)) for kind in EVERY_HEAD) for seed in range(1, 6)]
    [4.0, 4.0, 4.0, 4.0, 4.0]
    """
    drawn = random.Random(f"{kind} {seed}").choice((0.0, 0.0, 1.0, -1.0, 4.0))
    return 4.0 if random.Random(f"off {seed}").choice(EVERY_HEAD) == kind else drawn


@dataclass
class StandIn:
    """One simulated instrument. The same seed and the same questions give the same lines."""

    kind: str
    seed: int = 1
    truth: Truth | None = None
    faults: Faults = field(default_factory=Faults)

    def __post_init__(self) -> None:
        self._random = random.Random(f"{self.kind} {self.seed}")
        self._read = 0
        self._lock = Lock()

    def instrument(self, port: int) -> Instrument:
        """How the workshop is told of it: as it is told of a real one."""
        about = KINDS[self.kind]
        unit = _UNITS.get(about.dimension.name, ("mm", 1.0))[0]
        return Instrument.model_validate(
            {
                "name": f"{about.title}, stand-in", "kind": self.kind, "resolution": about.resolution,
                "standard": about.standard, "unit": unit, "address": f"socket://127.0.0.1:{port}", "asks": ASKS,
            }
        )  # fmt: skip

    def real(self, place: str, figure: str) -> float:
        """What it really is, in the kind's canonical unit."""
        if figure == "zero":
            return KINDS[self.kind].standard
        known = self.truth(place, figure) if self.truth is not None else None
        if known is not None:
            return known
        sort, _, height = figure.partition("@")
        own = random.Random(zlib.crc32(f"{self.seed} {self.kind} {place} {sort if height else figure}".encode()))
        if height:
            # a spring of its own for every serial
            load, solid = own.gauss(270.0, 5.0), own.gauss(21.5, 0.1)
            return pressed_n(float(height), (36.5, load), (26.5, 2.5 * load), solid)
        middle, spread = _NEAR[self.kind]
        return middle + own.gauss(0.0, spread)

    def line(self, place: str = "", figure: str = "") -> str:
        """One line, as the instrument sends it."""
        about = KINDS[self.kind]
        with self._lock:
            self._read += 1
            off = self.faults.zero + self.faults.drift * self._read + self._random.gauss(0.0, self.faults.noise)
            value = self.real(place, figure) + off * about.resolution
            if figure != "zero" and self._random.random() < self.faults.wild:
                value += self._random.choice((-1.0, 1.0)) * max(abs(value) * 0.1, 100.0 * about.resolution)
        unit, times = _UNITS.get(about.dimension.name, ("mm", 1.0))
        decimals = max(0, -math.floor(math.log10(about.resolution * times) + 1e-9))
        rounded = round(value / about.resolution) * about.resolution * times
        return f"{rounded + 0.0:.{decimals}f} {unit}"


class _Answers(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        server = self.server
        assert isinstance(server, StandInServer)
        for raw in self.rfile:
            words = raw.decode("ascii", "replace").split()
            if not words or words[0] != "R":
                continue
            place, figure = (*words[1:], "", "")[:2]
            if not _FIGURE.fullmatch(figure):
                continue
            self.wfile.write(f"{server.stand_in.line(place, figure)}\r\n".encode())


class StandInServer(socketserver.ThreadingTCPServer):
    """Serves one stand-in on the loopback; port 0 takes any that is free."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, stand_in: StandIn, port: int = 0) -> None:
        self.stand_in = stand_in
        super().__init__(("127.0.0.1", port), _Answers)

    @property
    def port(self) -> int:
        return int(self.server_address[1])
