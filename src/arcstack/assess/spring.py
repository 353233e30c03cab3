"""Spring loads, reserve and what moves with the valve."""

from dataclasses import dataclass

from arcstack.assess import cam, stack
from arcstack.assess.context import Context, MissingInput, figure, length
from arcstack.build import get
from arcstack.build.parts import Pack
from arcstack.checks import Figure, Missing
from arcstack.mech import mass as mass_model
from arcstack.mech import stack as heights
from arcstack.mech.spring.rate import LinearSpring, from_rate_and_load, from_two_loads
from arcstack.units import FORCE, LENGTH, MASS, RATE


@dataclass(frozen=True)
class SpringLine:
    """A spring's load as a straight line, with the figures it came from."""

    spring: LinearSpring
    rate: Figure
    free: Figure

    def load(self, symbol: str, label: str, height: Figure) -> Figure:
        value = self.spring.load_N(height.value)
        note = "The spring is loose at this height." if value < 0 else ""
        return Figure.calculated(
            symbol,
            label,
            value,
            FORCE,
            f"{symbol} = {self.rate.symbol} · ({self.free.symbol} − {height.symbol})",
            self.rate,
            self.free,
            height,
            note=note,
        )


def springs(ctx: Context) -> tuple[str, ...]:
    """The springs that carry load by their own figures."""
    return ("outer", "inner") if ctx.side.stack.pack is Pack.DUAL else ("outer",)


def _line(ctx: Context, name: str) -> SpringLine:
    base, tail = f"stack.{name}.", "" if name == "outer" else "_i"

    def take(field: str, symbol: str) -> Figure:
        return ctx.entry(base + field, symbol + tail)

    def has(*fields: str) -> bool:
        return all(get(ctx.build, ctx.path(base + f)) is not None for f in fields)

    k, free = f"k{tail}", f"f{tail}"
    if has("height_1", "load_1", "height_2", "load_2"):
        points = [take("height_1", "h₁"), take("load_1", "F₁"), take("height_2", "h₂"), take("load_2", "F₂")]
        line = from_two_loads(*(p.value for p in points))
        rate = Figure.calculated(k, f"Rate, {name}", line.rate_N_per_mm, RATE, f"{k} = (F₂ − F₁)/(h₁ − h₂)", *points)
        length_ = Figure.calculated(
            free, f"Free length, {name}", line.free_length_mm, LENGTH, f"{free} = h₁ + F₁/{k}", *points[:2], rate
        )
        return SpringLine(line, rate, length_)
    if has("rate", "free_length"):
        rate, length_ = take("rate", "k"), take("free_length", "f")
        return SpringLine(LinearSpring(rate.value, length_.value), rate, length_)
    if has("rate", "height_1", "load_1"):
        rate, h, f = take("rate", "k"), take("height_1", "h₁"), take("load_1", "F₁")
        line = from_rate_and_load(rate.value, h.value, f.value)
        length_ = Figure.calculated(
            free, f"Free length, {name}", line.free_length_mm, LENGTH, f"{free} = h₁ + F₁/{k}", h, f, rate
        )
        return SpringLine(line, rate, length_)
    raise MissingInput(
        *(
            Missing(ctx.path(base + f), f"{name} {f.replace('_', ' ')}")
            for f in ("height_1", "load_1", "height_2", "load_2")
            if not has(f)
        ),
        why="two loads at two heights, or rate and free length",
    )


@figure
def outer_line(ctx: Context) -> SpringLine:
    return _line(ctx, "outer")


@figure
def inner_line(ctx: Context) -> SpringLine:
    return _line(ctx, "inner")


def _open(ctx: Context, name: str) -> Figure:
    """A spring's height at full net lift."""
    closed, net = height(ctx, name), cam.net_lift(ctx)
    tail = "" if name == "outer" else "_i"
    return length(
        f"h{tail}",
        f"Height at full lift, {name}",
        closed.value - net.value,
        f"h{tail} = {closed.symbol} − L_n",
        closed,
        net,
    )


def height(ctx: Context, name: str) -> Figure:
    return stack.installed_height(ctx) if name == "outer" else stack.inner_height(ctx)


def line(ctx: Context, name: str) -> SpringLine:
    return outer_line(ctx) if name == "outer" else inner_line(ctx)


@figure
def seat_loads(ctx: Context) -> list[Figure]:
    """Load of each spring with the valve closed."""
    return [line(ctx, n).load("S" if n == "outer" else "S_i", f"Seat load, {n}", height(ctx, n)) for n in springs(ctx)]


@figure
def seat_load(ctx: Context) -> Figure:
    parts = seat_loads(ctx)
    formula = "S_Σ = " + " + ".join(p.symbol for p in parts)
    return Figure.calculated("S_Σ", "Seat load", sum(p.value for p in parts), FORCE, formula, *parts)


@figure
def open_loads(ctx: Context) -> list[Figure]:
    """Load of each spring at full net lift."""
    return [line(ctx, n).load("O" if n == "outer" else "O_i", f"Open load, {n}", _open(ctx, n)) for n in springs(ctx)]


@figure
def open_load(ctx: Context) -> Figure:
    parts = open_loads(ctx)
    formula = "O_Σ = " + " + ".join(p.symbol for p in parts)
    return Figure.calculated("O_Σ", "Open load", sum(p.value for p in parts), FORCE, formula, *parts)


@figure
def pack_rate(ctx: Context) -> Figure:
    parts = [line(ctx, n).rate for n in springs(ctx)]
    return Figure.calculated("k_Σ", "Rate of the pack", sum(p.value for p in parts), RATE, "k_Σ = Σ k", *parts)


def _reserve(ctx: Context, name: str) -> Figure:
    closed, gross = height(ctx, name), cam.gross_lift(ctx)
    tail = "" if name == "outer" else "_i"
    solid = ctx.entry(f"stack.{name}.solid", f"b{tail}")
    value = heights.reserve_mm(closed.value, gross.value, solid.value)
    return length(
        f"R{tail}",
        f"Reserve to solid, {name}",
        value,
        f"R{tail} = {closed.symbol} − L − b{tail}",
        closed,
        gross,
        solid,
        note="Judged at gross lift: lash can close to nothing as seats wear.",
    )


@figure
def reserve_outer(ctx: Context) -> Figure:
    return _reserve(ctx, "outer")


@figure
def reserve_inner(ctx: Context) -> Figure:
    return _reserve(ctx, "inner")


@figure
def moving_mass(ctx: Context) -> Figure:
    """Everything that moves with the valve, and a third of each spring."""
    wanted = ["stack.valve.mass", "stack.retainer.mass", "stack.locks.mass", "stack.bucket.mass"]
    packs = ["stack.outer.mass"] + (["stack.inner.mass"] if ctx.side.stack.pack is Pack.DUAL else [])
    ctx.need(*wanted, *packs)
    parts = [ctx.entry(p, f"m{i}") for i, p in enumerate(wanted, 1)]
    parts.append(ctx.absent("stack.bucket.shim_mass", f"m{len(parts) + 1}", "no lash shim or cap"))
    coils = [ctx.entry(p, f"m_s{i}") for i, p in enumerate(packs, 1)]
    value = mass_model.moving_mass_kg([p.value for p in parts], [c.value for c in coils])
    formula = "m = " + " + ".join(p.symbol for p in parts) + " + (" + " + ".join(c.symbol for c in coils) + ")/3"
    return Figure.calculated("m", "Moving mass", value, MASS, formula, *parts, *coils)
