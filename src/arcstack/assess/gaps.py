"""What parts leave between each other, as figures: one diameter less another, a depth, a count, a metal."""

from collections.abc import Callable
from dataclasses import replace

from arcstack.assess import spring, stack
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Evidence, Figure, Missing
from arcstack.document import Absent, Entry
from arcstack.document.parts import Groove, Hardened, HeadMetal, Located, Pack, SeatMetal, Shape
from arcstack.errors import MissingInput, NotFitted, NotKnown
from arcstack.mech import fit as model
from arcstack.units import COUNT, FORCE, LENGTH, show


def _choice(ctx: Context, path: str, symbol: str, value: float, words: str) -> Figure:
    """What a choice says, as a figure to hang a working on; it was looked at, not measured."""
    full = ctx.path(path)
    return Figure(symbol, words, value, COUNT, Evidence.PRINTED, full, note=words)


def _said(ctx: Context, path: str) -> str:
    """A choice that was made. Raises ``MissingInput`` while it is not stated."""
    found: object = ctx.side
    for name in path.split("."):
        found = getattr(found, name)
    if str(found) == Groove.UNSTATED.value:
        raise MissingInput(ctx.missing(path))
    return str(found)


def _inside(ctx: Context, name: str, end: str) -> Figure:
    """Inside diameter of a spring at one end: as given, or outside less two wires."""
    base, tail = f"stack.{name}.", "" if name == "outer" else "_i"
    if ctx.given(f"{base}inside_{end}"):
        return ctx.entry(f"{base}inside_{end}", f"D_{end[0]}{tail}")
    tapers = getattr(ctx.side.stack, name).shape is not Shape.CYLINDRICAL and end == "top"
    outside = ctx.entry(f"{base}outside_top" if tapers else f"{base}outside", f"D_o{tail}")
    wire = ctx.entry(f"{base}wire", f"d{tail}")
    symbol = f"D_{end[0]}{tail}"
    label = f"Inside of the {name} spring, {end}"
    return length(
        symbol,
        label,
        model.inside_mm(outside.value, wire.value),
        f"{symbol} = {outside.symbol} − 2·{wire.symbol}",
        outside,
        wire,
    )


def gap(
    symbol: str, label: str, one: Callable[[Context], Figure], other: Callable[[Context], Figure]
) -> Callable[[Context], Figure]:
    """One diameter less another, and every field that either lacks asked for at once."""

    def work(ctx: Context) -> Figure:
        a, b = _both(ctx, one, other)
        return Figure.by(label, LENGTH, f"{symbol} = {a.symbol} − {b.symbol}", a, b)

    return work


def _both(ctx: Context, *works: Callable[[Context], Figure]) -> list[Figure]:
    found: list[Figure] = []
    missing: list[NotKnown] = []
    for work in works:
        try:
            found.append(work(ctx))
        except NotFitted:
            raise
        except NotKnown as told:
            missing.append(told)
    if missing:
        raise MissingInput(*(m for told in missing for m in told.missing), why=missing[0].why)
    return found


def entry(path: str, symbol: str) -> Callable[[Context], Figure]:
    return lambda ctx: ctx.entry(path, symbol)


def _dual(ctx: Context) -> None:
    if ctx.side.stack.pack is Pack.SINGLE:
        raise NotFitted("no inner spring is fitted")


def _locator_there(ctx: Context) -> bool:
    return not isinstance(ctx.side.stack.locator.thickness, Absent)


# -- what each rule looks at


def lock_stem(ctx: Context) -> Figure:
    return gap("δ", "Locks on the stem", entry("stack.locks.stem", "d_l"), entry("stack.valve.lock_end", "d_e"))(ctx)


@figure
def groove(ctx: Context) -> Figure:
    """How far the forms of stem and locks, or their counts of beads, are apart; nought where they are one."""
    ways = []
    missing: list[Missing] = []
    for part, symbol in (("valve", "g_v"), ("locks", "g_l")):
        try:
            ways.append((part, symbol, _said(ctx, f"stack.{part}.groove")))
        except MissingInput as told:
            missing += told.missing
    if missing:
        raise MissingInput(*missing)
    forms = list(Groove)
    figures = [
        _choice(ctx, f"stack.{part}.groove", symbol, forms.index(Groove(said)), f"{part.capitalize()}: {said}")
        for part, symbol, said in ways
    ]
    formula = "n = |g_v − g_l|"
    note = f"Valve {ways[0][2]}, locks {ways[1][2]}."
    if ways[0][2] == ways[1][2] and ways[0][2] == Groove.BEADS:
        beads = _both(ctx, entry("stack.valve.beads", "b_v"), entry("stack.locks.beads", "b_l"))
        figures += beads
        formula = "n = |g_v − g_l| + |b_v − b_l|"
        note = f"Valve {beads[0].value:g} beads, locks {beads[1].value:g}."
    return Figure.by("Groove and locks apart", COUNT, formula, *figures, note=note)


def taper(ctx: Context) -> Figure:
    one, other = _both(ctx, entry("stack.retainer.taper", "t_r"), entry("stack.locks.taper", "t_l"))
    return Figure.by("Tapers apart", one.dimension, "Δt = t_r − t_l", one, other)


def lock_depth(ctx: Context) -> Figure:
    found, rate = stack.sinks(ctx), known(lambda: spring.pack_rate(ctx))
    if abs(found.value) < 5e-3:
        return replace(found, note="The locks sit home.")
    way = "deep: the retainer climbs" if found.value > 0 else "high: the retainer stands lower"
    note = f"{show(abs(found.value), LENGTH)} {way} by as much"
    if rate is not None:
        takes = "takes away" if found.value > 0 else "adds"
        note += f", which {takes} {show(abs(found.value) * rate.value, FORCE)} of seat load"
    return replace(found, note=f"{note}.")


@figure
def tip_proud(ctx: Context) -> Figure:
    """How far the tip stands above retainer and locks: as measured, or from groove and locks."""
    if ctx.given("stack.tip_proud"):
        return ctx.entry("stack.tip_proud", "p")
    below, above = _both(ctx, entry("stack.valve.groove_below_tip", "z_g"), entry("stack.locks.above_groove", "z_l"))
    deep = stack.sits_deep(ctx)
    value = model.tip_proud_mm(below.value, above.value, deep.value)
    note = "How deep the locks sit is not known: they are taken as home." if deep.unsaid else ""
    formula = "p = z_g − z_l − max(δ_l, 0)"
    return length("p", "Tip proud of retainer and locks", value, formula, below, above, deep, note=note)


def step(name: str, end: str, path: str, symbol: str) -> Callable[[Context], Figure]:
    label = f"{name.capitalize()} spring over its {'step' if end == 'top' else 'spigot'}"
    tail = "" if name == "outer" else "_i"
    return gap(f"c_{end[0]}{tail}", label, lambda ctx: _inside(ctx, name, end), entry(path, symbol))


def inner(work: Callable[[Context], Figure]) -> Callable[[Context], Figure]:
    def found(ctx: Context) -> Figure:
        _dual(ctx)
        return work(ctx)

    return found


def below(name: str) -> Callable[[Context], Figure]:
    """A spring over its spigot; in a cup, or with nothing there, there is no such gap."""
    path = "stack.locator.spigot" if name == "outer" else "stack.locator.inner_spigot"
    work = step(name, "bottom", path, "d_p" if name == "outer" else "d_p_i")

    def found(ctx: Context) -> Figure:
        if name == "inner":
            _dual(ctx)
        base = ctx.side.stack.locator.base
        if base is Located.NOTHING or (base is Located.CUP and name == "outer"):
            raise NotFitted("no spigot stands in this spring")
        return work(ctx)

    return found


def bucket(path: str, symbol: str) -> Callable[[Context], Figure]:
    work = gap("c_b", "Room inside the bucket", entry("follower.inside", "D_b"), entry(path, symbol))

    def found(ctx: Context) -> Figure:
        if not ctx.bucket:
            raise NotFitted("no bucket is fitted")
        return work(ctx)

    return found


def with_locator(work: Callable[[Context], Figure]) -> Callable[[Context], Figure]:
    def found(ctx: Context) -> Figure:
        if not _locator_there(ctx):
            raise NotFitted("no locator is fitted")
        return work(ctx)

    return found


def seal_room(ctx: Context) -> Figure:
    name = "outer" if ctx.side.stack.pack is Pack.SINGLE else "inner"
    label = f"Seal inside the {name} spring"
    return gap("c_s", label, lambda c: _inside(c, name, "top"), entry("stack.seal.outside", "D_s"))(ctx)


def steel(ctx: Context) -> Figure:
    missing: list[Missing] = []
    for path in ("stack.pocket.metal", "stack.locator.material"):
        try:
            _said(ctx, path)
        except MissingInput as told:
            missing += told.missing
    metal, seat = ctx.side.stack.pocket.metal, ctx.side.stack.locator.material
    if metal is HeadMetal.IRON:
        missing.clear()
    if missing:
        raise MissingInput(*missing)
    bare = metal is HeadMetal.ALUMINIUM and seat is not SeatMetal.HARDENED
    figures = (
        _choice(ctx, "stack.pocket.metal", "h", float(metal is HeadMetal.ALUMINIUM), f"Head: {metal.value}"),
        _choice(ctx, "stack.locator.material", "k", float(seat is SeatMetal.HARDENED), f"Seat: {seat.value}"),
    )
    note = f"{metal.value.capitalize()} head, {seat.value} under the springs."
    formula = "n = h·(1 − k)"
    return Figure.calculated("n", "No hardened steel on aluminium", float(bare), COUNT, formula, *figures, note=note)


def based(ctx: Context) -> Figure:
    said = _said(ctx, "stack.locator.base")
    nowhere = float(said == Located.NOTHING)
    note = "Located at one end only." if nowhere else f"Located below by a {said}."
    what = _choice(ctx, "stack.locator.base", "u", nowhere, f"Below: {said}")
    return Figure.calculated("n", "Springs not located below", nowhere, COUNT, "n = u", what, note=note)


def shims_there(ctx: Context) -> bool:
    return any(isinstance(s, Entry) and s.value > 0 for s in ctx.side.stack.shims)


def shims_count(ctx: Context) -> Figure:
    there = [f for f in stack.shims(ctx) if f.value > 0]
    return Figure.calculated("n", "Shims under the spring", len(there), COUNT, "counted", *there)


def shims_total(ctx: Context) -> Figure:
    there = [f for f in stack.shims(ctx) if f.value > 0]
    formula = "Σs = " + " + ".join(f.symbol for f in there)
    return length("Σs", "Shims in all", sum(f.value for f in there), formula, *there)


def soft(ctx: Context) -> Figure:
    said = _said(ctx, "stack.rings.hardened")
    soft = float(said == Hardened.NO)
    what = _choice(ctx, "stack.rings.hardened", "w", soft, f"Shims: {said}")
    return Figure.calculated("n", "Soft shims", soft, COUNT, "n = w", what, note=f"Shims {said}.")


def cap_there(ctx: Context) -> bool:
    cap = ctx.side.stack.cap
    return any(isinstance(said, Entry) for said in (cap.inside, cap.depth))


@figure
def shims_needed(ctx: Context) -> Figure:
    """Shims that the target height asks of the parts that are fitted; below zero no shim can reach it."""
    height, target = stack.open_height(ctx), ctx.entry("stack.target_height", "H_t")
    needed = Figure.by("Shims that the target asks for", LENGTH, f"s = {height.symbol} − H_t", height, target)
    return replace(needed, note="Too low already: no shim raises a spring.") if needed.value < 0.0 else needed
