"""Spring loads, reserve and what moves with the valve."""

from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from arcstack.assess import cam, coil, spring_lines, stack
from arcstack.assess.check import Check, Mover, Named, Says
from arcstack.assess.context import Context, figure, known, length
from arcstack.assess.half_width import unread
from arcstack.assess.spring_lines import SpringLine
from arcstack.checks import Figure, Limit, Missing, Sense
from arcstack.document import Absent
from arcstack.document.parts import Pack
from arcstack.errors import MissingInput, NotFitted, NotKnown
from arcstack.mech import mass as mass_model
from arcstack.mech import stack as heights
from arcstack.mech.spring.pack import Fitted, FittedPack
from arcstack.units import FORCE, LENGTH, MASS, RATE, RATIO, show


def springs(ctx: Context) -> tuple[str, ...]:
    """The springs that carry load by their own figures."""
    return ("outer", "inner") if ctx.side.stack.pack is Pack.DUAL else ("outer",)


def fitted(ctx: Context, name: str) -> None:
    """Raise ``NotFitted`` for an inner spring where there is none."""
    if name == "inner" and ctx.side.stack.pack is Pack.SINGLE:
        raise NotFitted("no inner spring is fitted")


@figure
def every_line(ctx: Context, name: str) -> list[SpringLine]:
    """Every form of a spring's figures, the one that governs first. Raises ``MissingInput``."""
    return spring_lines.spring_lines(ctx, name)


@figure
def _open(ctx: Context, name: str) -> Figure:
    """A spring's height at full net lift."""
    closed, net = height(ctx, name), cam.net_lift(ctx)
    tail = "" if name == "outer" else "_i"
    return Figure.by(f"Height at full lift, {name}", LENGTH, f"h{tail} = {closed.symbol} − L_n", closed, net)


def height(ctx: Context, name: str) -> Figure:
    return stack.installed_height(ctx) if name == "outer" else stack.inner_height(ctx)


def line(ctx: Context, name: str) -> SpringLine:
    return every_line(ctx, name)[0]


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
    """Rate of the pack: of its straight lines, or as an average over the lift where a table curves."""
    lines = [line(ctx, n) for n in springs(ctx)]
    if all(row.table is None for row in lines):
        parts = [row.rate for row in lines]
        formula = "k_Σ = " + " + ".join(p.symbol for p in parts)
        return Figure.by("Rate of the pack", RATE, formula, *parts)
    seat, open_, net = seat_load(ctx), open_load(ctx), cam.net_lift(ctx)
    note = "An average over the lift: the table curves."
    return Figure.by("Rate of the pack", RATE, "k_Σ = (O_Σ − S_Σ)/L_n", open_, seat, net, note=note)


def load_at(ctx: Context, lift: Figure, symbol: str = "F_s", label: str = "Spring load there") -> Figure:
    """Load of the pack at a net lift, spring by spring: of its line, or off its own table; slack carries nothing."""
    terms: list[str] = []
    inputs: list[Figure] = [lift]
    for name, fitted_spring in zip(springs(ctx), pack(ctx).springs, strict=True):
        row, closed = line(ctx, name), height(ctx, name)
        if row.table is not None:
            value = float(np.asarray(row.curve.load_N(closed.value - lift.value)))
            at_mm = closed.value - lift.value
            read = row.read(
                value, f"F_t{'' if name == 'outer' else '_i'}", f"Load there, {name}", closed, lift, at_mm=at_mm
            )
            terms.append(f"max({read.symbol}, 0)")
            inputs.append(read)
        else:
            terms.append(f"max({row.rate.symbol}·({row.free.symbol} − {closed.symbol} + {lift.symbol}), 0)")
            inputs += [row.rate, row.free, closed, *row.beyond(closed.value - lift.value)]
        if fitted_spring.settled != 1.0:
            raise ValueError("only fresh springs are put into a working")
    value = float(pack(ctx).load_N(lift.value))
    return Figure.calculated(symbol, label, value, FORCE, f"{symbol} = {' + '.join(terms)}", *inputs)


@figure
def pack(ctx: Context) -> FittedPack:
    """The springs at their heights, as the models take them."""
    return FittedPack(tuple(Fitted(line(ctx, n).curve, height(ctx, n).value) for n in springs(ctx)))


@figure
def load_loss(ctx: Context) -> Figure:
    return ctx.assumption("spring.load_loss", "ℓ", "Load a new spring loses")


def settled_load(ctx: Context, load: Figure) -> Figure:
    """A load after the first heat cycles."""
    loss = load_loss(ctx)
    return Figure.by(
        f"{load.label}, settled",
        FORCE,
        f"{load.symbol}′ = {load.symbol}·(1 − ℓ)",
        load,
        loss,
        note="New springs lose load in the first heat cycles; hold the tester's next reading against this.",
    )


@figure
def settled_pack(ctx: Context) -> FittedPack:
    """The same springs after that loss."""
    share = 1.0 - load_loss(ctx).value
    return FittedPack(tuple(replace(s, settled=share) for s in pack(ctx).springs))


def _reference_heights(ctx: Context, name: str) -> tuple[float, ...]:
    """Heights at which a spring's forms are compared: closed and open where they are known, else as printed."""
    try:
        return height(ctx, name).value, _open(ctx, name).value
    except NotKnown:
        return reference_heights(ctx, name)


def reference_heights(ctx: Context, name: str) -> tuple[float, ...]:
    """Heights that a spring's loads are printed at; usual shares of its free length where none is."""
    part = getattr(ctx.side.stack, name)
    printed = tuple(h.value for h in (part.height_1, part.height_2) if h)
    free = line(ctx, name).free.value
    return printed or (0.8 * free, 0.6 * free)


@figure
def disagreements(ctx: Context) -> list[spring_lines.Disagreement]:
    """Where the figures given for the springs say different loads, widest first."""
    rows = [
        d for n in springs(ctx) for d in spring_lines.disagreements(every_line(ctx, n), n, _reference_heights(ctx, n))
    ]
    return sorted(rows, key=lambda d: -d.share)


@figure
def rate_consistency(ctx: Context) -> Figure:
    """The widest disagreement among the forms a spring is given in; as good as the weakest form that was compared."""
    held = [form for n in springs(ctx) for row in every_line(ctx, n) for form in (row.rate, row.free)]
    # where they are compared: closed and open, as far as these are known
    compared = [f for n in springs(ctx) for f in known(partial(_closed_and_open, ctx, n)) or ()]
    rows = disagreements(ctx)
    if not rows:
        note = "Each load stands on one form only; a second would check it."
        return Figure.calculated("ε", "Springs against themselves", 0.0, RATIO, "ε = 0", *held, note=note)
    worst = rows[0]
    loads = [
        Figure.calculated(symbol, f"Load by {form}", value, FORCE, f"by {form}, at {worst.height_mm:.2f} mm", *held)
        for symbol, form, value in (("F₂", worst.form, worst.load_N), ("F₁", worst.governs, worst.governing_N))
    ]
    return Figure.calculated(
        "ε", "Springs against themselves", worst.share, RATIO, "ε = |F₂ − F₁|/max(|F₁|, 1)", *loads,
        note=f"{worst.words}.", beside=tuple(compared),
    )  # fmt: skip


def _closed_and_open(ctx: Context, name: str) -> tuple[Figure, Figure]:
    return height(ctx, name), _open(ctx, name)


@figure
def stresses(ctx: Context, name: str) -> tuple[Figure, Figure]:
    """Wahl shear of a spring at seat and open load."""
    if ctx.side.stack.pack is Pack.ASSEMBLED:
        raise NotFitted("one figure stands for both springs: what each carries is not known")
    fitted(ctx, name)
    at = springs(ctx).index(name)
    tail = "" if name == "outer" else "_i"
    return (
        coil.shear(ctx, name, seat_loads(ctx)[at], f"τ_s{tail}", f"Shear at the seat, {name}"),
        coil.shear(ctx, name, open_loads(ctx)[at], f"τ_o{tail}", f"Shear at full lift, {name}"),
    )


@figure
def stress_outer(ctx: Context) -> Figure:
    return stresses(ctx, "outer")[1]


@figure
def stress_inner(ctx: Context) -> Figure:
    return stresses(ctx, "inner")[1]


@figure
def fatigue(ctx: Context) -> Figure:
    """The worse spring of the pack against its Goodman line."""
    rows = [factor(ctx, n) for n in springs(ctx)]
    return min(rows, key=lambda f: f.value).among(*rows)


@figure
def factor(ctx: Context, name: str) -> Figure:
    """A spring's safety against its Goodman line."""
    return coil.goodman(ctx, name, *stresses(ctx, name))


@dataclass(frozen=True)
class GoodmanPoint:
    """A spring's shear, mean and to either side of it, and the ends of its wire's line, MPa."""

    spring: str
    mean_MPa: float
    amplitude_MPa: float
    strength_MPa: float
    reversed_MPa: float

    @property
    def safety(self) -> float:
        """How far the shear can grow, in proportion, to where it meets the line."""
        return 1.0 / (self.amplitude_MPa / self.reversed_MPa + self.mean_MPa / self.strength_MPa)


def goodman_points(ctx: Context) -> list[GoodmanPoint]:
    """Of each spring whose stresses are known."""
    found = []
    for name in springs(ctx):
        pair, wound = known(partial(stresses, ctx, name)), known(partial(coil.wound, ctx, name))
        if pair is not None and wound is not None:
            seat, open_ = (f.value for f in pair)
            strength, reversed_ = coil.line_MPa(wound.coil.wire_mm)
            found.append(GoodmanPoint(name, (open_ + seat) / 2.0, (open_ - seat) / 2.0, strength, reversed_))
    return found


@figure
def greatest_reserve(ctx: Context) -> Figure:
    """The longer reserve of the pack, which a ceiling is held against."""
    rows = [reserve_outer(ctx)] + ([reserve_inner(ctx)] if "inner" in springs(ctx) else [])
    most = max(rows, key=lambda f: f.value)
    named = ", ".join(r.symbol for r in rows)
    formula = f"R_m = max({named})" if len(rows) > 1 else f"R_m = {named}"
    found = length("R_m", "Most reserve of the pack", most.value, formula, *rows, note=f"{most.label}.")
    return replace(found, band=most.band)


def _reserve(ctx: Context, name: str) -> Figure:
    fitted(ctx, name)
    closed, gross = height(ctx, name), cam.gross_lift(ctx)
    tail = "" if name == "outer" else "_i"
    solid = ctx.entry(f"stack.{name}.solid", f"b{tail}")
    value = heights.reserve_mm(closed.value, gross.value, solid.value)
    off = unread(solid)
    found = length(
        f"R{tail}",
        f"Reserve to solid, {name}",
        value,
        f"R{tail} = {closed.symbol} − L − b{tail}",
        closed,
        gross,
        solid,
        note=(f"Goes solid {_early(value)}. " if value < 0 else "")
        + "Judged at gross lift: lash can close to nothing as seats wear."
        + (f" A solid height that nobody measured may be off by {show(off, LENGTH)}." if off else ""),
    )
    return replace(found, band=(value - off, value + off)) if off else found


def travel(ctx: Context, name: str) -> Figure:
    """Travel from closed until a spring is solid."""
    fitted(ctx, name)
    closed, tail = height(ctx, name), "" if name == "outer" else "_i"
    solid = ctx.entry(f"stack.{name}.solid", f"b{tail}")
    label, formula = f"Travel to solid, {name}", f"T{tail} = {closed.symbol} − b{tail}"
    return Figure.by(label, LENGTH, formula, closed, solid)


def _early(reserve_mm: float) -> str:
    return f"{show(-reserve_mm, LENGTH)} before full lift"


def gone_solid(ctx: Context) -> list[str]:
    """Springs of this side that are solid before the valve is fully open, in words; no speed is safe with one."""
    said = []
    for name, take in (("outer", reserve_outer), ("inner", reserve_inner)):
        reserve = known(partial(take, ctx))
        if reserve is not None and reserve.value < 0:
            said.append(f"The {ctx.side_name} {name} spring goes solid {_early(reserve.value)}.")
    return said


@figure
def reserve_outer(ctx: Context) -> Figure:
    return _reserve(ctx, "outer")


@figure
def reserve_inner(ctx: Context) -> Figure:
    return _reserve(ctx, "inner")


@figure
def moving_mass(ctx: Context) -> Figure:
    """Everything that moves with the valve, and a third of each spring, of a pair also where one figure stands for its
    load."""
    wanted = ["stack.valve.mass", "stack.retainer.mass", "stack.locks.mass", "follower.mass"]
    pair = ctx.side.stack.pack is not Pack.SINGLE
    packs = ["stack.outer.mass"] + (["stack.inner.mass"] if pair else [])
    ctx.need(*wanted, *packs)
    _weighed(ctx)
    parts = [ctx.entry(p, f"m{i}") for i, p in enumerate(wanted, 1)]
    parts.append(ctx.optional("follower.shim_mass", f"m{len(parts) + 1}"))
    coils = [ctx.entry(p, f"m_s{i}") for i, p in enumerate(packs, 1)]
    value = mass_model.moving_mass_kg([p.value for p in parts], [c.value for c in coils])
    formula = "m = " + " + ".join(p.symbol for p in parts) + " + (" + " + ".join(c.symbol for c in coils) + ")/3"
    return Figure.calculated("m", "Moving mass", value, MASS, formula, *parts, *coils)


def _weighed(ctx: Context) -> None:
    """Raise ``MissingInput`` where a spring that has a mass of its own is said to have none."""
    stack = ctx.side.stack
    if isinstance(stack.outer.mass, Absent):
        raise MissingInput(Missing(ctx.path("stack.outer.mass"), "Spring mass, outer"))
    if stack.pack is Pack.DUAL and isinstance(stack.inner.mass, Absent):
        raise MissingInput(Missing(ctx.path("stack.inner.mass"), "Spring mass, inner"))


def price(ctx: Context) -> Figure:
    """What the set of springs costs, in the builder's own money."""
    return ctx.entry("stack.price", "€")


def has_inner(ctx: Context) -> bool:
    return ctx.side.stack.pack is not Pack.SINGLE


def each_load_known(ctx: Context) -> bool:
    """Whether each spring's own load is known, which one figure for the pair does not tell."""
    return ctx.side.stack.pack is not Pack.ASSEMBLED


def _load_limit(ctx: Context, key: str) -> Limit:
    """The band of load, or the end of it that the practice judges."""
    band = ctx.limit(key)
    if ctx.practice.schools.load == "light":
        return replace(band, sense=Sense.AT_MOST, low=None)
    if ctx.practice.schools.load == "heavy":
        return replace(band, sense=Sense.AT_LEAST, high=None)
    return band


CHECKS = (
    Check(
        "spring.seat_load",
        "Seat load",
        "stack",
        "Load of the pack with the valve closed lies in the practice's band.",
        work=seat_load,
        limit=lambda ctx: _load_limit(ctx, "spring.seat_load"),
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "spring.open_load",
        "Open load",
        "stack",
        "Load of the pack at full net lift lies in the practice's band.",
        work=open_load,
        limit=lambda ctx: _load_limit(ctx, "spring.open_load"),
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "spring.reserve.outer",
        "Outer reserve",
        "stack",
        "Travel the outer spring has left before it goes solid.",
        work=reserve_outer,
        limit="spring.reserve.outer",
        moved_by=(Mover.HEIGHT,),
        says=Says.BELOW_NOUGHT,
    ),
    Check(
        "spring.reserve.inner",
        "Inner reserve",
        "stack",
        "Travel the inner spring has left before it goes solid.",
        work=reserve_inner,
        limit="spring.reserve.inner",
        applies=has_inner,
        moved_by=(Mover.HEIGHT,),
        says=Says.BELOW_NOUGHT,
    ),
    Check(
        "spring.reserve_ceiling",
        "Reserve ceiling",
        "springs",
        "Reserve past which a spring is long for its lift and free to surge.",
        work=greatest_reserve,
        limit="spring.reserve_ceiling",
        judges=lambda ctx: ctx.practice.schools.reserve == "band",
    ),
    Check(
        "spring.rate_consistency",
        "Spring figures agree",
        "springs",
        "Loads, rate, free length, table and wire of a spring agree with each other.",
        work=rate_consistency,
        limit="spring.rate_consistency",
    ),
    Check(
        "spring.stress.outer",
        "Stress, outer",
        "springs",
        "Wahl shear of the outer spring's wire at full lift.",
        work=stress_outer,
        limit="spring.stress.outer",
        applies=each_load_known,
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "spring.stress.inner",
        "Stress, inner",
        "springs",
        "Wahl shear of the inner spring's wire at full lift.",
        work=stress_inner,
        limit="spring.stress.inner",
        applies=lambda ctx: each_load_known(ctx) and has_inner(ctx),
        moved_by=(Mover.HEIGHT,),
    ),
    Check(
        "spring.fatigue",
        "Fatigue",
        "springs",
        "The worse spring's safety against the Goodman line of its wire.",
        work=fatigue,
        limit="spring.fatigue",
        applies=each_load_known,
        moved_by=(Mover.HEIGHT,),
        says=Says.ALWAYS,
    ),
)

FIGURES = (
    Named("spring.seat_load", "Seat load", seat_load),
    Named("spring.open_load", "Open load", open_load),
    Named("spring.rate", "Rate of the pack", pack_rate),
    Named("spring.moving_mass", "Moving mass", moving_mass),
    Named("spring.reserve.outer", "Reserve, outer", reserve_outer),
    Named("spring.reserve.inner", "Reserve, inner", reserve_inner),
    Named("spring.seat_settled", "Seat load, settled", lambda ctx: settled_load(ctx, seat_load(ctx))),
    Named("spring.open_settled", "Open load, settled", lambda ctx: settled_load(ctx, open_load(ctx))),
    Named("spring.stress.seat_outer", "Shear at the seat, outer", lambda ctx: stresses(ctx, "outer")[0]),
    Named("spring.stress.outer", "Shear at full lift, outer", stress_outer),
    Named("spring.stress.seat_inner", "Shear at the seat, inner", lambda ctx: stresses(ctx, "inner")[0]),
    Named("spring.stress.inner", "Shear at full lift, inner", stress_inner),
    Named(
        "spring.fatigue.outer", "Fatigue factor, outer", lambda ctx: coil.goodman(ctx, "outer", *stresses(ctx, "outer"))
    ),
    Named(
        "spring.fatigue.inner", "Fatigue factor, inner", lambda ctx: coil.goodman(ctx, "inner", *stresses(ctx, "inner"))
    ),
)
