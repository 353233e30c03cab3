"""What the bench reads: each figure once, where it stands in the document, what it is read with and rests on."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from arcstack.document import FIELDS, Absent, Build, belongs, get
from arcstack.document.entry import Quantity
from arcstack.document.parts import Adjuster, FollowerKind, Lever, Pack
from arcstack.units import LENGTH


class Step(StrEnum):
    """Steps of the bench, in their order."""

    GUIDES = "Guides"
    SEATS = "Seats and stems"
    FITTINGS = "Fittings"
    MASSES = "Masses"
    VACUUM = "Vacuum"
    TIPS = "Tip heights"
    OPEN = "Open heights"
    SHIMS = "Shims"
    SPRINGS = "Springs"
    INSTALLED = "Installed heights"
    LASH = "Lobes and lash"


SPRINGS = ("outer", "inner")
ITEMS = ("valve", "follower", *SPRINGS)
"""What stands in a place by its serial and can be moved."""


class Per(StrEnum):
    """What a figure stands for: one for the engine, for a side, for a valve's place, for a spring, for a cam."""

    ENGINE = "engine"
    SIDE = "side"
    CYLINDER = "cylinder"
    VALVE = "valve"
    SPRING = "spring"
    CAM = "cam"


def stands_per(path: str) -> Per:
    """Per what a field of the document stands, by its full path.

    >>> [stands_per(p).value for p in ("brief.boost", "intake.stack.open_height", "exhaust.stack.inner.solid")]
    ['engine', 'valve', 'spring']
    >>> stands_per("intake.cam.lash").value, stands_per("intake.clearance.recess").value
    ('cam', 'cylinder')
    """
    side, _, tail = path.partition(".")
    if side not in ("intake", "exhaust"):
        return Per.ENGINE
    if tail.startswith("cam."):
        return Per.CAM
    if tail.startswith("clearance."):
        return Per.CYLINDER
    if tail.startswith(("stack.outer.", "stack.inner.")):
        return Per.SPRING
    return Per.VALVE if FIELDS[path].each else Per.SIDE


_HEIGHT = (*belongs.LOCKED, *belongs.UNDER_SPRING)
_VALVE = belongs.VALVE


def _always(_build: Build, _side: str) -> bool:
    return True


def _lever(build: Build, _side: str) -> bool:
    return build.engine.follower is not FollowerKind.BUCKET


def _dual(build: Build, side: str) -> bool:
    return build.side(side).stack.pack is not Pack.SINGLE


@dataclass(frozen=True)
class Asked:
    """One figure that the bench reads.

    ``path`` is within a side; an empty one stands over none by itself. ``instrument`` is a kind, ``seconds`` what one
    reading usually takes. ``times`` are so many readings for one figure, kept as their mean, which agree within
    ``agree`` (canonical) or ask for one more. ``rests_on`` are the document's fields, and ``cuts`` says whether a cut
    at the place too, that make it stale when they change. Of an ``item`` it is read of a spring, wherever it stands;
    read at a place it ``goes_with`` the item that stood there, or is of ``ITEMS`` there and stale without them. What is
    set between two readings stands by its ``latest`` alone: what was found before is its history.
    """

    key: str
    path: str
    step: Step
    instrument: str
    seconds: int
    rests_on: tuple[str, ...] = ()
    cuts: bool = False
    times: int = 1
    agree: float = 0.0
    optional: bool = False
    item: str = ""
    goes_with: str = ""
    latest: bool = False
    applies: Callable[[Build, str], bool] = _always
    own: Quantity | None = None
    help: str = ""

    @property
    def stood_with(self) -> str:
        """The sort of item at its place without which it no longer holds; empty for none."""
        return self.goes_with or ("valve" if "stack.valve.code" in self.rests_on else "")

    def of(self, build: Build, side: str) -> str:
        """The full path in a build's document; empty where it stands over no field by itself."""
        if self.path == "follower.mass":
            return f"{side}.follower.{build.engine.follower.value}.mass"
        return f"{side}.{self.path}" if self.path else ""

    def quantity(self, build: Build, side: str) -> Quantity:
        """Its words, dimension and range."""
        if self.own is not None:
            return self.own
        found = FIELDS[self.of(build, side)].quantity
        assert found is not None
        return found


def _stands(path: str) -> Callable[[Build, str], bool]:
    """Read wherever nobody has said that there is none of it."""
    return lambda build, side: not isinstance(get(build, f"{side}.{path}"), Absent)


def _fitting(key: str, path: str, rests: tuple[str, ...], help: str = "") -> Asked:
    """A figure of a part that is fitted there: where the design comes to say another, another part is fitted."""
    return Asked(key, path, Step.FITTINGS, "depth", 20, (*rests, path), applies=_stands(path), help=help)


def _guide(name: str, *, stem: bool = False) -> Asked:
    rests = (*_VALVE,) if stem else ("stack.guide.code",)
    kind, seconds = ("micrometer", 25) if stem else ("bore", 40)
    return Asked(name, f"bench.{name}", Step.GUIDES, kind, seconds, rests, goes_with="valve" if stem else "")


def _spring(name: str, field: str, seconds: int, *, optional: bool = False, applies: object = _always) -> Asked:
    return Asked(
        f"{name}.{field}", f"stack.{name}.{field}", Step.SPRINGS, "scale" if field == "mass" else "tester", seconds,
        (f"stack.{name}.code",), optional=optional, item=name, applies=applies,  # type: ignore[arg-type]
    )  # fmt: skip


_INSTALLED = Quantity("Installed height", LENGTH, 15, 80, "Spring seat, shims on it, to the retainer's outer step.")
_SHIMS = Quantity("Shims fitted", LENGTH, 0, 12, "Each by its thickness, as 0.50 + 0.25; none where there is none.")

_LASH_SHIM = Quantity("Lash shim fitted", LENGTH, 0.5, 8, "Thickness of the shim or of the cap’s top.")


def _shimmed(build: Build, side: str) -> bool:
    """Lash set by a shim or a cap: where nobody said that there is none, nor that something else sets it."""
    follower = build.side(side).follower.of(build.engine.follower)
    other = isinstance(follower, Lever) and follower.adjuster is not Adjuster.SHIM
    return not other and not isinstance(get(build, f"{side}.follower.shim_mass"), Absent)


def hydraulic(build: Build, side: str) -> bool:
    """Whether there is no lash to set: a plunger takes it up."""
    follower = build.side(side).follower.of(build.engine.follower)
    return isinstance(follower, Lever) and follower.adjuster is Adjuster.HYDRAULIC


def _lashed(build: Build, side: str) -> bool:
    return not hydraulic(build, side) and _stands("cam.lash")(build, side)


_TABLE = (
    *(_guide(f"bore_{h}_{n}") for h in ("top", "middle", "bottom") for n in (1, 2)),
    *(_guide(f"stem_{h}", stem=True) for h in ("top", "middle", "bottom")),
    Asked("rock", "bench.rock", Step.GUIDES, "dial", 60, ("stack.guide.code", *_VALVE), optional=True),
    Asked("rock_beyond", "bench.rock_beyond", Step.GUIDES, "ruler", 15, optional=True),
    Asked("guide_length", "bench.guide_length", Step.GUIDES, "ruler", 15, ("stack.guide.code",), optional=True),
    Asked("seat_width", "bench.seat_width", Step.SEATS, "ruler", 20, cuts=True),
    Asked("margin", "stack.valve.margin", Step.SEATS, "ruler", 20, _VALVE, cuts=True, goes_with="valve"),
    *(
        Asked(f"angle_{name}", f"bench.angle_{name}", Step.SEATS, "protractor", 20, cuts=True, optional=True)
        for name in ("top", "seat", "throat")
    ),
    Asked("insert_below", "bench.insert_below", Step.SEATS, "ruler", 20, cuts=True, optional=True),
    Asked("band_edge", "bench.band_edge", Step.SEATS, "ruler", 20, _VALVE, cuts=True, optional=True),
    *(
        Asked(f"band_{clock}", f"bench.band_{clock}", Step.SEATS, "ruler", 15, _VALVE, cuts=True, optional=True)
        for clock in (12, 3, 6, 9)
    ),
    Asked("runout", "bench.runout", Step.SEATS, "dial", 30, _VALVE, cuts=True),
    Asked("side_play_closed", "bench.side_play_closed", Step.SEATS, "dial", 25, optional=True, applies=_lever),
    Asked("side_play_open", "bench.side_play_open", Step.SEATS, "dial", 25, optional=True, applies=_lever),
    _fitting("retainer_step", "stack.retainer.step", ("stack.retainer.code",)),
    _fitting("retainer_depth", "stack.retainer.depth", ("stack.retainer.code",)),
    _fitting("locator_thickness", "stack.locator.thickness", ("stack.locator.code",)),
    _fitting("locator_step", "stack.locator.step", ("stack.locator.code",)),
    _fitting(
        "seal_height", "stack.seal_height",
        (*belongs.SEAL, "stack.guide.seal_groove", "stack.guide.height", *belongs.UNDER_SPRING),
        "A seal of the set pressed home there.",
    ),
    Asked("valve_mass", "stack.valve.mass", Step.MASSES, "scale", 12, _VALVE, cuts=True, goes_with="valve"),
    Asked("retainer_mass", "stack.retainer.mass", Step.MASSES, "scale", 12, ("stack.retainer.code",)),
    Asked("locks_mass", "stack.locks.mass", Step.MASSES, "scale", 12, ("stack.locks.code",)),
    Asked("follower_mass", "follower.mass", Step.MASSES, "scale", 12, goes_with="follower"),
    Asked(
        "shim_mass", "follower.shim_mass", Step.MASSES, "scale", 12, goes_with="follower",
        applies=_stands("follower.shim_mass"),
    ),
    Asked(
        "vacuum", "bench.vacuum", Step.VACUUM, "vacuum", 15, _VALVE, cuts=True,
        help="No spring, no grease: with a spring fitted it does not count.",
    ),
    Asked(
        "ambient", "bench.ambient", Step.VACUUM, "barometer", 10, optional=True,
        help="Of the day: the same seal reads less where there is less around it.",
    ),
    Asked("vacuum_later", "bench.vacuum_later", Step.VACUUM, "vacuum", 12, _VALVE, cuts=True, help="Ten seconds on."),
    Asked("tip_height", "bench.tip_height", Step.TIPS, "height", 20, _VALVE, cuts=True),
    Asked(
        "open_height", "stack.open_height", Step.OPEN, "height", 20, _HEIGHT, cuts=True, times=2, agree=0.03,
        help="Locator and the very locks of that place, retainer pulled up hard; twice.",
    ),
    Asked("shims", "", Step.SHIMS, "micrometer", 15, own=_SHIMS, help="As they lie there: 0.50 + 0.25."),
    *(
        _spring(name, field, seconds, optional=optional, applies=_always if name == "outer" else _dual)
        for name in ("outer", "inner")
        for field, seconds, optional in (
            ("free_length", 15, True), ("load_1", 20, False), ("load_2", 20, False), ("solid", 30, False),
            ("mass", 12, False),
        )
    ),
    Asked(
        "installed_height", "", Step.INSTALLED, "height", 20, _HEIGHT, cuts=True,
        own=_INSTALLED,
        help="On assembly, before the seals go on: read again.",
    ),
    Asked(
        "lobe_lift", "cam.lobe_lift", Step.LASH, "micrometer", 30, ("cam.code", "cam.lobe_lift"),
        applies=_stands("cam.lobe_lift"),
        help="Across nose and base circle, less across the base circle.",
    ),
    Asked(
        "lash_shim", "", Step.LASH, "micrometer", 15, own=_LASH_SHIM, optional=True, goes_with="", applies=_shimmed,
        help="The lash shim or cap that is fitted there.",
    ),
    Asked(
        "lash", "bench.lash", Step.LASH, "feeler", 40, ("cam.code", "stack.valve.code"), cuts=True, latest=True,
        applies=_lashed, help="Cold, its lobe turned away: a figure, or the blade that goes and the one that does not, "
        "as 0.20/0.22.",
    ),
    Asked(
        "plunger", "bench.plunger", Step.LASH, "dial", 40, ("cam.code", "stack.valve.code"), cuts=True, latest=True,
        applies=hydraulic, help="Primed and bled, lobe away: what the plunger can still go down.",
    ),
)  # fmt: skip

ASKED: Mapping[str, Asked] = MappingProxyType({a.key: a for a in _TABLE})
"""Every figure of the bench by its key, in the order of the work."""


def of_step(step: Step, build: Build, side: str) -> tuple[Asked, ...]:
    """What a step reads at every place of a side."""
    return tuple(a for a in ASKED.values() if a.step is step and a.applies(build, side))
