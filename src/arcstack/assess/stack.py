"""Heights on the valve's axis."""

from dataclasses import replace

from arcstack.assess import cam
from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Evidence, Figure, Limit
from arcstack.document.heights import MOVERS
from arcstack.document.parts import HeightBasis, SealHeld
from arcstack.mech import fit, stack
from arcstack.units import LENGTH


@figure
def open_height(ctx: Context) -> Figure:
    """Open height with the parts that are fitted."""
    taken = ctx.entry("stack.open_height", "H₀")
    if ctx.side.stack.height_basis is HeightBasis.AS_FITTED:
        return taken
    moved = [(m.sign, ctx.optional(m.path, m.symbol)) for m in MOVERS]
    up, down = ([f for sign, f in moved if sign == way] for way in (1.0, -1.0))
    deep = sits_deep(ctx)
    value = stack.open_height_as_fitted_mm(taken.value, [f.value for f in up], [f.value for f in down], deep.value)
    formula = f"H₀′ = {' + '.join(['H₀', *(f.symbol for f in up), 'δ_l'])} − {' − '.join(f.symbol for f in down)}"
    note = "Taken bare: a positive offset raises the retainer, a locator takes its thickness away."
    if deep.unsaid:
        note += " How deep the locks sit is not known: they are taken as home."
    return length("H₀′", "Open height, parts as fitted", value, formula, taken, *up, deep, *down, note=note)


@figure
def sinks(ctx: Context) -> Figure:
    """How much deeper the locks sit than the retainer is made for; it climbs by as much."""
    ctx.need("stack.retainer.locks_outside", "stack.locks.outside", "stack.retainer.taper")
    expected, locks = ctx.entry("stack.retainer.locks_outside", "D_r"), ctx.entry("stack.locks.outside", "D_l")
    taper = ctx.entry("stack.retainer.taper", "t")
    value = fit.lock_sinks_mm(expected.value, locks.value, taper.value)
    return length("δ_l", "Locks sit deep by", value, "δ_l = (D_r − D_l)/(2·tan(t/2))", expected, locks, taper)


@figure
def sits_deep(ctx: Context) -> Figure:
    """How deep the locks sit; where their diameters are not known, home on an assumption that says so."""
    deep = known(lambda: sinks(ctx))
    if deep is not None:
        return deep
    return Figure(
        "δ_l", "Locks sit deep by: diameters not known", 0.0, LENGTH, Evidence.ASSUMED, ctx.path("stack.locks.outside"),
        note="taken as home", unsaid=True,
    )  # fmt: skip


@figure
def under_spring(ctx: Context) -> Figure:
    """What lies in the pocket under the outer spring, shims left out: the pocket is so much deeper than the spring's
    seat."""
    parts = [ctx.optional(m.path, m.symbol) for m in MOVERS if m.sign < 0.0]
    if len(parts) == 1:
        return parts[0]
    formula = f"t_Σ = {' + '.join(p.symbol for p in parts)}"
    return Figure.by("Under the outer spring", LENGTH, formula, *parts)


@figure
def shims(ctx: Context) -> list[Figure]:
    """The shims that are fitted: those stated, or none on an assumption while nothing is said of any."""
    numbers = [i for i, shim in enumerate(ctx.side.stack.shims, 1) if shim is not None]
    return [ctx.entry(f"stack.shims.{i}", f"s{i}") for i in numbers] or [ctx.optional("stack.shims.1", "s1")]


@figure
def installed_height(ctx: Context) -> Figure:
    """Height of the outer spring with the valve closed."""
    height, fitted = open_height(ctx), shims(ctx)
    value = stack.installed_height_mm(height.value, [s.value for s in fitted])
    formula = " − ".join([f"H = {height.symbol}", *(s.symbol for s in fitted)])
    return length("H", "Installed height", value, formula, height, *fitted)


@figure
def inner_height(ctx: Context) -> Figure:
    outer = installed_height(ctx)
    retainer = ctx.entry("stack.retainer.step", "r_s")
    seat = ctx.optional("stack.locator.step", "l_s")
    value = stack.inner_height_mm(outer.value, retainer.value, seat.value)
    return length("H_i", "Installed height, inner", value, "H_i = H − r_s − l_s", outer, retainer, seat)


@figure
def height_error(ctx: Context) -> Figure:
    """Installed height less its target."""
    height, target = installed_height(ctx), ctx.entry("stack.target_height", "H_t")
    return Figure.by("Installed height off target", LENGTH, "ΔH = H − H_t", height, target)


@figure
def retainer_depth(ctx: Context) -> Figure:
    """How far the retainer's lower face hangs below its outer step."""
    if ctx.given("stack.retainer.depth") or not ctx.given("stack.retainer.step"):
        return ctx.entry("stack.retainer.depth", "d_r")
    step = ctx.entry("stack.retainer.step", "r_s")
    return Figure(
        "d_r",
        "Underside below outer seat",
        step.value,
        LENGTH,
        Evidence.ASSUMED,
        ctx.path("stack.retainer.depth"),
        unsaid=True,
        note="not given: taken as the step; a hub may hang lower",
    )


_SEAL_ON = {SealHeld.GROOVE: ("stack.guide.seal_groove", "z_g"), SealHeld.END: ("stack.guide.height", "z_e")}


@figure
def seal_top(ctx: Context) -> Figure:
    """Top of the seal above the bare pocket: as taken, or from what holds it and its own height.

    Held by the guide's groove it does not move when the guide's end is cut; held by the end it does.
    """
    if ctx.given("stack.seal_height") or not ctx.given("stack.seal.height"):
        return ctx.entry("stack.seal_height", "z_s")
    held = ctx.side.stack.seal.held
    if held is SealHeld.UNSTATED:
        return ctx.entry("stack.seal_height", "z_s")
    own = ctx.entry("stack.seal.height", "h_s")
    on = under_spring(ctx) if held is SealHeld.LOCATOR else ctx.entry(*_SEAL_ON[held])
    formula = f"z_s = {on.symbol} + h_s"
    return Figure.by("Seal top above pocket", LENGTH, formula, on, own, note=f"Held by {held.value}.")


@figure
def retainer_seal_closed(ctx: Context) -> Figure:
    height, under, depth = open_height(ctx), under_spring(ctx), retainer_depth(ctx)
    seal = seal_top(ctx)
    value = stack.retainer_to_seal_closed_mm(height.value, under.value, depth.value, seal.value)
    return length(
        "g₀",
        "Retainer to seal, valve closed",
        value,
        f"g₀ = {height.symbol} + {under.symbol} − d_r − z_s",
        height,
        under,
        depth,
        seal,
        note="Both heights from the bare pocket; shims lie under the spring and do not move the retainer.",
    )


@figure
def retainer_seal(ctx: Context) -> Figure:
    """Retainer to seal at full lift with the lash closed to nothing."""
    closed, gross = retainer_seal_closed(ctx), cam.gross_lift(ctx)
    return Figure.by(
        "Retainer to seal at full lift",
        LENGTH,
        "g = g₀ − L",
        closed,
        gross,
        note="Judged at gross lift: lash can close to nothing as seats wear.",
    )


def _height_with_target(ctx: Context) -> Figure:
    """Installed height, once it has a target to be held against."""
    height_error(ctx)
    return installed_height(ctx)


def _about_target(ctx: Context) -> Limit:
    """The practice's window about the target height."""
    window, target = ctx.limit("stack.installed_height"), ctx.entry("stack.target_height", "H_t")
    assert window.low is not None
    assert window.high is not None
    return replace(window, low=target.value + window.low, high=target.value + window.high)


CHECKS = (
    Check(
        "stack.installed_height",
        "Installed height",
        "stack",
        "The outer spring stands at its target height.",
        work=_height_with_target,
        limit=_about_target,
    ),
    Check(
        "stack.retainer_seal",
        "Retainer to seal",
        "stack",
        "Gap between retainer and seal at full lift.",
        work=retainer_seal,
        limit="stack.retainer_seal",
    ),
)

FIGURES = (
    Named("stack.open_height", "Open height", open_height),
    Named("stack.installed_height", "Installed height", installed_height),
    Named("stack.inner_height", "Installed height, inner", inner_height),
    Named("stack.retainer_seal_closed", "Retainer to seal, closed", retainer_seal_closed),
    Named("stack.retainer_seal", "Retainer to seal", retainer_seal),
)
