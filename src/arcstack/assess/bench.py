"""One valve as it was read on the bench: guide, seat, seal, margin, spring after service. As built only."""

from arcstack.assess import cam, stack
from arcstack.assess.check import Check, Named
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Figure, Limit
from arcstack.document.parts import Adjuster, Pack
from arcstack.mech import bench
from arcstack.settings import setting
from arcstack.units import FINE_LENGTH, GAUGE_PRESSURE, LENGTH, RATIO, show

HEIGHTS = ("top", "middle", "bottom")


def as_built(ctx: Context) -> bool:
    """Whether this is one valve with its readings laid over the design."""
    return bool(ctx.side.bench.place)


def _bores(ctx: Context, height: str) -> list[Figure]:
    paths = [f"bench.bore_{height}_{n}" for n in (1, 2)]
    return [ctx.entry(p, f"D_{height[0]}{n}") for n, p in enumerate(paths, 1) if ctx.given(p)]


@figure
def clearances(ctx: Context) -> tuple[Figure, ...]:
    """Bore less stem at each height that was read, each direction by itself. Raises ``MissingInput`` without any."""
    found = []
    for height in HEIGHTS:
        stem_path = f"bench.stem_{height}"
        for bore in _bores(ctx, height):
            if ctx.given(stem_path):
                stem = ctx.entry(stem_path, f"d_{height[0]}")
                words = f"Guide clearance, {height}"
                found.append(Figure.by(words, LENGTH, f"c = {bore.symbol} − {stem.symbol}", bore, stem))
    if not found:
        ctx.need("bench.bore_middle_1", "bench.stem_middle")
    return tuple(found)


@figure
def rocked(ctx: Context) -> Figure:
    """Clearance by the rock test."""
    ctx.need("bench.rock", "bench.rock_beyond", "bench.guide_length")
    rock, beyond = ctx.entry("bench.rock", "W"), ctx.entry("bench.rock_beyond", "a")
    guide = ctx.entry("bench.guide_length", "G")
    value = bench.rock_clearance_mm(rock.value, guide.value, beyond.value)
    note = "By the rock test, one figure for the whole bore: the weaker way."
    return length(
        "c", "Guide clearance, by rock", value, "c = W/(1 + 2·a/G)", rock, beyond, guide, note=note, of=FINE_LENGTH
    )


@figure
def guide_clearance(ctx: Context) -> Figure:
    """The clearance that lies furthest from the middle of what is allowed; by rock where no bore was read."""
    found = known(lambda: clearances(ctx))
    if found is None:
        if ctx.given("bench.rock"):
            return rocked(ctx)
        ctx.need("bench.bore_middle_1", "bench.stem_middle")
    assert found is not None
    limit = _clearance_limit(ctx)
    assert limit.low is not None
    assert limit.high is not None
    middle = (limit.low + limit.high) / 2.0
    worst = max(found, key=lambda f: abs(f.value - middle))
    least, most = (show(pick(f.value for f in found), FINE_LENGTH) for pick in (min, max))
    note = f"{worst.label}; from {least} to {most} over {len(found)} readings."
    return Figure.calculated(
        "c", "Guide clearance", worst.value, FINE_LENGTH, "c as read at that height", *found, note=note
    )


def _clearance_limit(ctx: Context) -> Limit:
    """By the school that this build decided for; tight and honed while nobody said."""
    decision = ctx.document.decisions.get("guides")
    return ctx.limit(
        "guide.clearance.loose" if decision is not None and decision.choice == "loose" else "guide.clearance"
    )


@figure
def guide_taper(ctx: Context) -> Figure:
    """The most of taper, top to bottom, and of ovality at any height."""
    ctx.need("bench.bore_top_1", "bench.bore_bottom_1")
    found = []
    top, bottom = ctx.entry("bench.bore_top_1", "D_t1"), ctx.entry("bench.bore_bottom_1", "D_b1")
    found.append(Figure.by("Taper of the bore", FINE_LENGTH, "t = |D_t1 − D_b1|", top, bottom))
    for height in HEIGHTS:
        pair = _bores(ctx, height)
        if len(pair) > 1:
            formula = f"o = |{pair[0].symbol} − {pair[1].symbol}|"
            found.append(Figure.by(f"Ovality, {height}", FINE_LENGTH, formula, *pair))
    worst = max(found, key=lambda f: f.value)
    return Figure.calculated(
        "t_g",
        "Guide taper or ovality",
        worst.value,
        LENGTH,
        "t_g = most of taper and ovality",
        *found,
        note=worst.label,
    )


@figure
def seat_width(ctx: Context) -> Figure:
    return ctx.entry("bench.seat_width", "w_s")


CLOCKS = (12, 3, 6, 9)


def _banded(ctx: Context) -> bool:
    return as_built(ctx) and any(ctx.given(f"bench.band_{clock}") for clock in CLOCKS)


@figure
def band(ctx: Context) -> Figure:
    """Narrowest place of the lap band as a share of its widest, over four clocks: nought where it is broken."""
    ctx.need(*(f"bench.band_{clock}" for clock in CLOCKS))
    widths = [ctx.entry(f"bench.band_{clock}", f"b_{clock}") for clock in CLOCKS]
    least, most = min(widths, key=lambda f: f.value), max(widths, key=lambda f: f.value)
    if most.value <= 0.0:
        words = "no band at any clock: the valve does not meet its seat"
        return Figure.calculated("b", "Lap band, evenness", 0.0, RATIO, "b = 0", *widths, note=words)
    broken = [str(c) for c, f in zip(CLOCKS, widths, strict=True) if f.value == 0.0]
    note = f"broken at {', '.join(broken)} o’clock" if broken else f"narrowest: {least.label.lower()}"
    value = least.value / most.value
    return Figure.calculated(
        "b", "Lap band, evenness", value, RATIO, "b = least of b_i / most of b_i", *widths, note=note
    )


@figure
def margin(ctx: Context) -> Figure:
    return ctx.entry("stack.valve.margin", "m_v")


@figure
def runout(ctx: Context) -> Figure:
    return ctx.entry("bench.runout", "r_v")


STANDARD_BAR, INTERVAL_S = setting("bench.standard_ambient"), setting("bench.vacuum_interval")


def _at_one_bar(ctx: Context, path: str, symbol: str, label: str) -> Figure:
    """A vacuum as it would read with one bar around: a seal holds the same share of whatever there is."""
    read = ctx.entry(path, f"{symbol}′")
    around = ctx.entry("bench.ambient", "p_0", STANDARD_BAR, "not stated: taken as 1.00 bar")
    if not ctx.given("bench.ambient"):
        # the day's pressure moves it by a few per cent: the reading itself is what proves the seal
        return Figure(symbol, label, read.value, GAUGE_PRESSURE, read.evidence, read.path, note="At 1.00 bar around.")
    value = read.value * STANDARD_BAR / around.value
    return Figure.calculated(symbol, label, value, GAUGE_PRESSURE, f"{symbol} = {symbol}′·1.00/p_0", read, around)


@figure
def seat_vacuum(ctx: Context) -> Figure:
    return _at_one_bar(ctx, "bench.vacuum", "p_v", "Seat vacuum")


@figure
def vacuum_decay(ctx: Context) -> Figure:
    ctx.need("bench.vacuum", "bench.vacuum_later")
    first, later = seat_vacuum(ctx), _at_one_bar(ctx, "bench.vacuum_later", "p_10", "Vacuum, 10 s later")
    note = ""
    if 0.0 < later.value < first.value:
        tau = bench.vacuum_time_constant_s(first.value, later.value, INTERVAL_S)
        note = f"Half of it would be gone in {bench.half_life_s(tau):.0f} s."
    return Figure.by("Vacuum lost in 10 s", GAUGE_PRESSURE, "Δp = p_v − p_10", first, later, note=note)


def _names(ctx: Context) -> tuple[str, ...]:
    return ("outer",) if ctx.side.stack.pack is Pack.SINGLE else ("outer", "inner")


@figure
def loss(ctx: Context) -> Figure:
    """The greater loss of either spring, a share of its load before."""
    found = []
    for name in _names(ctx):
        before, after = f"bench.{name}_before", f"bench.{name}_after"
        if ctx.given(before) and ctx.given(after):
            f0, f1 = ctx.entry(before, "F_0"), ctx.entry(after, "F_1")
            found.append(Figure.by(f"Loss, {name}", RATIO, "s = (F_0 − F_1)/F_0", f0, f1, note=name))
    if not found:
        ctx.need("bench.outer_before", "bench.outer_after")
    return max(found, key=lambda f: f.value)


def _served(ctx: Context) -> bool:
    return as_built(ctx) and any(ctx.given(f"bench.{n}_after") for n in ("outer", "inner"))


@figure
def tallest_solid(ctx: Context, name: str) -> Figure:
    """The tallest solid height that leaves what is wanted: H − gross lift − reserve."""
    height = stack.installed_height(ctx) if name == "outer" else stack.inner_height(ctx)
    lift, wanted = cam.gross_lift(ctx), _wanted(ctx, name)
    label = f"Tallest solid allowed, {name}"
    return Figure.by(label, LENGTH, f"c_max = {height.symbol} − L − r_w", height, lift, wanted)


def _wanted(ctx: Context, name: str) -> Figure:
    return ctx.assumption(f"spring.reserve.{name}", "r_w", f"Travel to solid wanted, {name}")


@figure
def solid_sorted(ctx: Context) -> Figure:
    """What the tallest spring of a place leaves below the tallest allowed."""
    found = []
    for name in _names(ctx):
        allowed, solid = tallest_solid(ctx, name), ctx.entry(f"stack.{name}.solid", "c")
        found.append(Figure.by(f"Below tallest allowed, {name}", LENGTH, "Δc = c_max − c", allowed, solid, note=name))
    return min(found, key=lambda f: f.value)


def _hydraulic(ctx: Context) -> bool:
    return not ctx.bucket and ctx.lever.adjuster is Adjuster.HYDRAULIC


@figure
def lash_off(ctx: Context) -> Figure:
    """How far lash as read lies off its target."""
    ctx.need("bench.lash", "cam.lash")
    read, target = ctx.entry("bench.lash", "λ"), ctx.entry("cam.lash", "λ_t")
    return Figure.by("Lash, off its target", LENGTH, "Δλ = λ − λ_t", read, target)


@figure
def plunger_left(ctx: Context) -> Figure:
    """What a hydraulic plunger has left, of its whole travel."""
    ctx.need("bench.plunger", "follower.plunger_travel")
    left, whole = ctx.entry("bench.plunger", "u"), ctx.entry("follower.plunger_travel", "u_w")
    return Figure.by("Plunger left", RATIO, "q_u = u/u_w", left, whole)


def _check(check: str, title: str, about: str, work: object, **more: object) -> Check:
    return Check(check, title, "bench", about, work=work, limit=check, applies=as_built, **more)  # type: ignore[arg-type]


CHECKS = (
    Check(
        "guide.clearance", "Guide clearance", "bench", "Room of the stem in its guide.", work=guide_clearance,
        limit=_clearance_limit, applies=as_built,
    ),
    _check("guide.taper", "Guide taper, ovality", "The bore is round, and as wide below as above.", guide_taper),
    _check("seat.width", "Seat width", "The seat carries heat and still seals.", seat_width),
    Check(
        "seat.band", "Lap band, evenness", "bench", "The dull ring is unbroken and of one width all round.", work=band,
        limit="seat.band", applies=_banded,
    ),
    _check("valve.margin", "Valve margin", "Edge of the head that is left above the face.", margin),
    _check("valve.runout", "Face runout", "The face runs true to its stem.", runout),
    _check("seat.vacuum", "Seat vacuum", "The seat holds a vacuum without a spring.", seat_vacuum),
    _check("seat.vacuum_decay", "Vacuum lost in 10 s", "What leaks with the pump shut.", vacuum_decay),
    _check("spring.solid_sorted", "Below tallest solid", "Each spring sorted by its own solid height.", solid_sorted),
    Check(
        "lash.band", "Lash, off target", "bench", "Lash as it was read, against what it is set to.", work=lash_off,
        limit="lash.band", applies=lambda ctx: as_built(ctx) and not _hydraulic(ctx),
    ),
    Check(
        "lash.plunger", "Plunger left", "bench", "A hydraulic adjuster works in the middle third of its travel.",
        work=plunger_left, limit="lash.plunger", applies=lambda ctx: as_built(ctx) and _hydraulic(ctx),
    ),
    Check(
        "spring.loss", "Load lost in service", "bench", "A used spring against itself at one height.", work=loss,
        limit="spring.loss", applies=_served,
    ),
)  # fmt: skip

FIGURES = (
    Named("bench.tallest_solid.outer", "Tallest solid allowed, outer", lambda ctx: tallest_solid(ctx, "outer")),
    Named("bench.tallest_solid.inner", "Tallest solid allowed, inner", lambda ctx: tallest_solid(ctx, "inner")),
)
