"""Where a valve stands in a head: its cylinder, its side, and which of that side's it is."""

from dataclasses import dataclass

from arcstack.cached import cached_property
from arcstack.document.firing import read_cylinders
from arcstack.document.model import SIDES, Build
from arcstack.document.parts import Engine


@dataclass(frozen=True)
class Place:
    """One valve's place. Cylinders count from 1, valves of one side of a cylinder from ``a``.

    ``bank`` is empty on an engine of one head.

    >>> Place(3, "intake", 2).label, Place(1, "exhaust", 1, "L").label
    ('3I-b', 'L1E-a')
    """

    cylinder: int
    side: str
    index: int
    bank: str = ""

    @cached_property
    def label(self) -> str:
        return f"{self.bank}{self.cylinder}{self.side[0].upper()}-{chr(ord('a') + self.index - 1)}"


def valves_of(per_cylinder: int, intake: bool) -> int:
    """Valves of one side of a cylinder: an odd one more is an intake's.

    >>> [valves_of(5, intake) for intake in (True, False)]
    [3, 2]
    """
    return (per_cylinder + 1) // 2 if intake else per_cylinder // 2


def cylinders_of(engine: Engine) -> int:
    """Cylinders under this head: of an engine with several banks, its share; 0 while not known."""
    if engine.cylinders is None:
        return 0
    banks = int(engine.banks.value) if engine.banks is not None else 1
    return -(-int(engine.cylinders.value) // banks)


def numbers_of(build: Build) -> tuple[int, ...]:
    """Cylinders under this head by their numbers: as its bank's were said, else counted from the end that drives the
    cams; none while not known."""
    own = cylinders_of(build.engine)
    banks = build.engine.banks
    said = read_cylinders(build.head.cylinders) if banks is not None and banks.value > 1 else ()
    return said if len(said) == own else tuple(range(1, own + 1))


def count(build: Build, side: str) -> int:
    """Valves of one side of the head; 0 while cylinders and valves are not known."""
    engine = build.engine
    if engine.valves_per_cylinder is None:
        return 0
    return cylinders_of(engine) * valves_of(int(engine.valves_per_cylinder.value), side == "intake")


def places(build: Build) -> tuple[Place, ...]:
    """Every place of the head, side by side and along it; none while cylinders and valves are not known."""
    engine = build.engine
    if engine.valves_per_cylinder is None:
        return ()
    bank, numbers = _bank(build), numbers_of(build)
    return tuple(
        Place(cylinder, side, index, bank)
        for side in SIDES
        for cylinder in numbers
        for index in range(1, valves_of(int(engine.valves_per_cylinder.value), side == "intake") + 1)
    )


def _bank(build: Build) -> str:
    """The letter of this head's bank where the engine has several; none while nobody said which it is."""
    banks = build.engine.banks
    named = build.head.bank.strip()
    return named[0].upper() if banks is not None and banks.value > 1 and named else ""


def in_order_of_work(found: tuple[Place, ...]) -> tuple[Place, ...]:
    """Places as a hand goes along the head: up one side and down the other, so that no step is a long one."""
    first, second = SIDES
    up = [p for p in found if p.side == first]
    down = [p for p in found if p.side == second]
    return (*up, *reversed(down))
