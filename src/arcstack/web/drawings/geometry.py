"""Where every part of a stack stands, from the core's figures. Millimetres, y up from the bare spring pocket."""

from collections.abc import Callable
from dataclasses import dataclass, field

from arcstack.assess import cam, coil, stack
from arcstack.assess.context import Context, known
from arcstack.checks import Figure
from arcstack.document import Entry, get
from arcstack.document.parts import Pack, Shape
from arcstack.mech.cam.law import LiftLaw

WALL = 6.0
"""Metal drawn outside the bore."""

ARM = 30.0
"""Length drawn for a finger, pivot to valve tip; the ratio then places the lobe along it."""


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
    is_bucket: bool
    height_known: bool
    assumed: tuple[str, ...] = field(default=())

    @property
    def tip(self) -> float:
        """Stem tip with the valve closed; drawn a usual distance above the retainer."""
        return self.retainer_y + 7.0

    @property
    def crown(self) -> float:
        """Top of the bucket with the valve closed."""
        return self.tip + 2.4 + 2.6

    @property
    def wall(self) -> float:
        """Half width of the metal around the bore."""
        bore = self.bucket / 2.0 + 0.15 if self.is_bucket else self.outer.radius + self.outer.wire / 2 + 3.0
        return bore + WALL

    @property
    def cam_x(self) -> float:
        """The camshaft's distance from the valve's axis: nought over a bucket, along the arm over a finger."""
        return 0.0 if self.is_bucket else ARM * (1.0 - 1.0 / max(self.ratio, 1.0))

    @property
    def cam_y(self) -> float:
        """Centre of the camshaft."""
        return self.crown + self.lash / self.ratio + self.base_radius


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
        seal=read.entry("stack.seal_height", 0.55 * retainer_y, "seal height"),
        bucket=read.entry(
            "follower.bucket.diameter", max(33.0, 2.0 * outer.radius + outer.wire + 3.5), "bucket diameter"
        ),
        base_radius=read.entry("cam.base_circle", 35.0, "base circle") / 2.0,
        lash=lash,
        gross_lift=gross,
        net_lift=gross - lash,
        height=height,
        outer=outer,
        inner=inner,
        law=law,
        ratio=_ratio(ctx),
        is_bucket=ctx.bucket,
        height_known="installed height" not in read.assumed,
        assumed=tuple(dict.fromkeys(read.assumed)),
    )


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
