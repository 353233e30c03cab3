"""Where every part of a stack stands, from the core's figures. Millimetres, y up from the bare spring pocket."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import cam, coil, stack
from arcstack.assess.context import Context, known
from arcstack.checks import Figure
from arcstack.document import Entry, get
from arcstack.document.parts import FollowerKind, Meets, Pack, Shape
from arcstack.mech.cam.law import LiftLaw

CAP = 2.4
"""Thickness drawn for what lies between tip and follower."""

MOST_SUNK = 3.0
"""Locks that would sit deeper than this, or stand higher, are drawn so."""

WALL = 6.0
"""Metal drawn outside the bore."""

USUAL_ARM = {FollowerKind.FINGER: 38.0, FollowerKind.ROCKER: 36.0}
"""Pivot to valve tip, drawn while it is not given; the ratio then places the pad."""


@dataclass(frozen=True)
class Arm:
    """A finger or rocker with the valve closed: where its pivot and the lobe's contact stand from the valve's tip.

    ``x`` is across, away from the valve's axis; ``y`` up from the tip. A finger's pad lies between tip and pivot, its
    lobe above; a rocker's lies beyond its shaft, its lobe below. ``radius`` is the pad's or the roller's; of a roller
    the figures give its axle, of a pad its face.
    """

    pivot_x: float
    pivot_y: float
    pad_x: float
    pad_y: float
    radius: float
    roller: bool
    rocker: bool

    @property
    def contact_y(self) -> float:
        """Where the lobe runs."""
        out = self.radius if self.roller else 0.0
        return self.pad_y - out if self.rocker else self.pad_y + out

    @property
    def length(self) -> float:
        return math.hypot(self.pivot_x, self.pivot_y)

    def swing_deg(self, lift: NDArray[np.float64]) -> NDArray[np.float64]:
        """How far it has turned at each lift of the valve, as an SVG turns: the tip goes down."""
        rise = -self.pivot_y
        down = np.clip((rise - lift) / self.length, -1.0, 1.0)
        return -np.degrees(math.asin(np.clip(rise / self.length, -1.0, 1.0)) - np.arcsin(down))


@dataclass(frozen=True)
class Coil:
    """A spring in section: seat height, height when the valve is closed, mean radius, wire, coils, solid height.

    ``tapered`` is the share of its height, at the top, over which the radius falls evenly to ``top_radius``.
    """

    bottom: float
    height: float
    radius: float
    wire: float
    coils: float
    solid: float | None
    top_radius: float
    tapered: float = 0.0

    def radius_at(self, share: float) -> float:
        """Mean radius at a share of the height."""
        if self.tapered == 0.0 or share <= 1.0 - self.tapered:
            return self.radius
        return self.radius + (self.top_radius - self.radius) * (share - 1.0 + self.tapered) / self.tapered


@dataclass(frozen=True)
class Geometry:
    """A stack in section. ``assumed`` names the dimensions that were drawn from usual proportions."""

    head: float
    stem: float
    locator: float
    locator_step: float
    shims: tuple[float, ...]
    retainer_y: float
    retainer_step: float
    retainer_depth: float
    seal: float
    bucket: float
    base_radius: float
    lash: float
    gross_lift: float
    net_lift: float
    height: float
    outer: Coil
    inner: Coil | None
    law: LiftLaw | None
    ratio: float
    arm: Arm | None
    height_known: bool
    assumed: tuple[str, ...] = field(default=())
    sinks: float = 0.0
    """How much deeper the locks sit than the retainer is made for; nought while it is not known."""
    land: float | None = None
    """Radius of the retainer's step inside the outer spring, of that inside the inner, and of its rim, where known."""
    hub: float | None = None
    rim: float | None = None

    @property
    def lock_y(self) -> float:
        """What locks and groove are drawn from: level with the retainer's outer seat, or as deep as they sit."""
        return self.retainer_y - min(max(self.sinks, -MOST_SUNK), MOST_SUNK)

    @property
    def tip(self) -> float:
        """Stem tip with the valve closed; drawn a usual distance above the locks."""
        return self.lock_y + 7.0

    @property
    def crown(self) -> float:
        """Top of the bucket with the valve closed."""
        return self.tip + CAP + 2.6

    @property
    def wall(self) -> float:
        """Half width of the metal around the bore."""
        bore = self.bucket / 2.0 + 0.15 if self.is_bucket else self.outer.radius + self.outer.wire / 2 + 3.0
        return bore + WALL

    @property
    def is_bucket(self) -> bool:
        return self.arm is None

    @property
    def foot(self) -> float:
        """Where a finger or rocker meets the tip, or what lies on it."""
        return self.tip + CAP

    @property
    def cam_x(self) -> float:
        """The camshaft's distance from the valve's axis: nought over a bucket, at the pad of a finger or rocker."""
        return 0.0 if self.arm is None else self.arm.pad_x

    @property
    def cam_y(self) -> float:
        """Centre of the camshaft: above what it runs on, below a rocker's pad."""
        away = self.lash / self.ratio + self.base_radius
        if self.arm is None:
            return self.crown + away
        contact = self.foot + self.arm.contact_y
        return contact - away if self.arm.rocker else contact + away

    @property
    def top(self) -> float:
        """The highest thing drawn."""
        reach = self.cam_y + self.base_radius + self.gross_lift / self.ratio
        return reach if self.arm is None else max(reach, self.foot + self.arm.pivot_y + 12.0)


class _Reader:
    """Takes figures from a context, falling back to usual proportions and remembering that it did."""

    def __init__(self, ctx: Context) -> None:
        self.ctx = ctx
        self.assumed: list[str] = []

    def entry(self, path: str, usual: float, words: str) -> float:
        value = get(self.ctx.build, self.ctx.path(path))
        if isinstance(value, Entry):
            return value.value
        if words:
            self.assumed.append(words)
        return usual

    def figure(self, work: Callable[[Context], Figure], usual: float, words: str) -> float:
        found = known(lambda: work(self.ctx))
        if found is None:
            self.assumed.append(words)
            return usual
        return found.value


def geometry(ctx: Context) -> Geometry:
    """The section of one side; what is not given yet stands in usual proportions and is named."""
    read = _Reader(ctx)
    open_height = read.figure(stack.open_height, 36.0, "open height")
    height = read.figure(stack.installed_height, open_height, "installed height")
    gross = read.figure(cam.gross_lift, 10.0, "lift")
    locator = read.entry("stack.locator.thickness", 0.0, "")
    step = read.entry("stack.locator.step", 0.0, "")
    retainer_step = read.entry("stack.retainer.step", 1.5, "retainer step")
    shims = tuple(s.value for s in stack.shims(ctx))
    bottom = sum(shims) + locator
    retainer_y = open_height + locator
    lash = read.entry("cam.lash", 0.0, "")
    outer = _coil(read, "outer", bottom, height, (28.0, 3.7, 6.0))
    inner = None
    if ctx.side.stack.pack is not Pack.SINGLE:
        inner = _coil(read, "inner", bottom + step, height - retainer_step - step, (20.0, 2.8, 7.2))
    curve = known(lambda: cam.curve(ctx))
    law = None if curve is None else curve.valve
    if law is None:
        read.assumed.append("lift curve")
    return Geometry(
        head=read.entry("stack.valve.head", 33.0, "valve head"),
        stem=read.entry("stack.valve.stem", 6.0, "stem"),
        locator=locator,
        locator_step=step,
        shims=shims,
        retainer_y=retainer_y,
        retainer_step=retainer_step,
        retainer_depth=read.figure(stack.retainer_depth, 3.0, "retainer depth"),
        seal=read.figure(stack.seal_top, 0.55 * retainer_y, "seal height"),
        bucket=read.entry(
            "follower.bucket.diameter", max(33.0, 2.0 * outer.radius + outer.wire + 3.5), "bucket diameter"
        )
        if ctx.bucket
        else 0.0,
        base_radius=read.entry("cam.base_circle", 35.0, "base circle") / 2.0,
        lash=lash,
        gross_lift=gross,
        net_lift=gross - lash,
        height=height,
        outer=outer,
        inner=inner,
        law=law,
        ratio=_ratio(ctx),
        arm=None if ctx.bucket else _arm(read),
        height_known="installed height" not in read.assumed,
        assumed=tuple(dict.fromkeys(read.assumed)),
        sinks=found.value if (found := known(lambda: stack.sinks(ctx))) is not None else 0.0,
        land=_radius(ctx, "stack.retainer.outer_step"),
        hub=_radius(ctx, "stack.retainer.inner_step"),
        rim=_radius(ctx, "stack.retainer.outside"),
    )


def _radius(ctx: Context, path: str) -> float | None:
    """Half a diameter, where it is known."""
    value = get(ctx.build, ctx.path(path))
    return value.value / 2.0 if isinstance(value, Entry) else None


def _arm(read: _Reader) -> Arm:
    """The lever as its figures have it; one that is given by its ratio alone stands in usual proportions."""
    ctx = read.ctx
    kind = ctx.build.engine.follower
    rocker = kind is FollowerKind.ROCKER
    length = read.entry("follower.arm", USUAL_ARM[kind], f"{kind.value}’s arm")
    rise = read.entry("follower.arm_height", 0.0, "")
    pad = read.entry("follower.pad_arm", length / max(_ratio(ctx), 1.0), f"{kind.value}’s pad arm")
    pad_rise = read.entry("follower.pad_height", 0.0, "")
    part = ctx.side.follower.of(kind)
    roller = getattr(part, "meets", None) is Meets.ROLLER
    radius = read.entry("follower.pad_radius", 9.0 if roller else 25.0, "roller radius" if roller else "pad radius")
    across = math.sqrt(max(length**2 - rise**2, 1.0))
    along = math.sqrt(max(pad**2 - pad_rise**2, 1.0))
    pivot_y = -rise
    # a rocker's pad comes up as its tip goes down
    pad_y = pivot_y - pad_rise if rocker else pivot_y + pad_rise
    return Arm(across, pivot_y, across + along if rocker else across - along, pad_y, radius, roller, rocker)


def _ratio(ctx: Context) -> float:
    found = known(lambda: cam.ratio(ctx))
    return 1.0 if found is None else found.value


def _coil(read: _Reader, name: str, bottom: float, height: float, usual: tuple[float, float, float]) -> Coil:
    base = f"stack.{name}"
    outside = read.entry(f"{base}.outside", usual[0], f"{name} spring diameter")
    wire = read.entry(f"{base}.wire", usual[1], f"{name} spring wire")
    coils = read.entry(f"{base}.coils", usual[2], f"{name} spring coils")
    solid = get(read.ctx.build, read.ctx.path(f"{base}.solid"))
    shape: Shape = getattr(read.ctx.side.stack, name).shape
    top = outside
    if shape is not Shape.CYLINDRICAL:
        top = read.entry(f"{base}.outside_top", 0.82 * outside, f"{name} spring’s top diameter")
    return Coil(
        bottom,
        height,
        (outside - wire) / 2.0,
        wire,
        coils,
        solid.value if isinstance(solid, Entry) else None,
        (top - wire) / 2.0,
        coil.TAPERED[shape],
    )
