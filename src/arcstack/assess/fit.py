"""Whether parts go together: each rule is the gaps it looks at, each gap two figures and a limit."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from arcstack.assess import spring, stack
from arcstack.assess.assessment import level
from arcstack.assess.check import Check, Says
from arcstack.assess.context import Context, figure, known, length
from arcstack.checks import Evidence, Figure, Level, Limit, Missing
from arcstack.document import Absent, Entry
from arcstack.document.parts import (
    Groove,
    Hardened,
    HeadMetal,
    Located,
    Pack,
    RetainerMetal,
    SeatMetal,
    Shape,
    ValveMetal,
)
from arcstack.errors import MissingInput, NotFitted, NotKnown
from arcstack.mech import fit as model
from arcstack.units import COUNT, FORCE, LENGTH, show


class Fits(StrEnum):
    """How two parts go together."""

    FITS = "fits"
    FORCED = "forced"
    NOT = "does not fit"
    UNKNOWN = "unknown"


_WORDS = {Level.CLEAR: Fits.FITS, Level.TIGHT: Fits.FORCED, Level.WAIVED: Fits.FORCED, Level.FAIL: Fits.NOT}


@dataclass(frozen=True)
class Gap:
    """What a rule looks at: ``words`` name the parts, ``limit`` is the practice's key."""

    words: str
    work: Callable[[Context], Figure]
    limit: str


@dataclass(frozen=True)
class Rule:
    """One rule of fit: every one of its gaps must hold. ``applies`` tells whether its parts are there at all.

    ``parts`` are the places whose parts it is about.
    """

    id: str
    title: str
    about: str
    parts: tuple[str, ...]
    gaps: tuple[Gap, ...]
    applies: Callable[[Context], bool] = lambda _ctx: True


@dataclass(frozen=True)
class Met:
    """One gap of one build: its figure and limit, or why it cannot be told."""

    gap: Gap
    figure: Figure | None
    limit: Limit | None
    level: Level
    told: NotKnown | None = None

    @property
    def outcome(self) -> Fits:
        return _WORDS.get(self.level, Fits.UNKNOWN)

    @property
    def room(self) -> float:
        """Distance to the nearer end in units of the tight zone; sorts gaps that stand alike."""
        assert self.figure is not None
        assert self.limit is not None
        value, limit = self.figure.value, self.limit
        ends = [end for end in (limit.low, limit.high) if end is not None]
        inside = [value - limit.low] if limit.low is not None else []
        inside += [limit.high - value] if limit.high is not None else []
        span = limit.tight or (abs(ends[-1] - ends[0]) / 2.0 if len(ends) > 1 else 0.0) or 1.0
        return min(inside) / span


# -- figures of parts


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


def _gap(
    symbol: str, label: str, one: Callable[[Context], Figure], other: Callable[[Context], Figure]
) -> Callable[[Context], Figure]:
    """One diameter less another, and every field that either lacks asked for at once."""

    def work(ctx: Context) -> Figure:
        a, b = _both(ctx, one, other)
        return length(symbol, label, a.value - b.value, f"{symbol} = {a.symbol} − {b.symbol}", a, b)

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


def _entry(path: str, symbol: str) -> Callable[[Context], Figure]:
    return lambda ctx: ctx.entry(path, symbol)


def _dual(ctx: Context) -> None:
    if ctx.side.stack.pack is Pack.SINGLE:
        raise NotFitted("no inner spring is fitted")


def _locator_there(ctx: Context) -> bool:
    return not isinstance(ctx.side.stack.locator.thickness, Absent)


# -- what each rule looks at


def _lock_stem(ctx: Context) -> Figure:
    return _gap("δ", "Locks on the stem", _entry("stack.locks.stem", "d_l"), _entry("stack.valve.lock_end", "d_e"))(ctx)


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
    apart, formula = abs(figures[0].value - figures[1].value), "n = |g_v − g_l|"
    note = f"Valve {ways[0][2]}, locks {ways[1][2]}."
    if not apart and ways[0][2] == Groove.BEADS:
        beads = _both(ctx, _entry("stack.valve.beads", "b_v"), _entry("stack.locks.beads", "b_l"))
        figures += beads
        apart, formula = abs(beads[0].value - beads[1].value), "n = |g_v − g_l| + |b_v − b_l|"
        note = f"Valve {beads[0].value:g} beads, locks {beads[1].value:g}."
    return Figure.calculated("n", "Groove and locks apart", apart, COUNT, formula, *figures, note=note)


def _taper(ctx: Context) -> Figure:
    one, other = _both(ctx, _entry("stack.retainer.taper", "t_r"), _entry("stack.locks.taper", "t_l"))
    formula = "Δt = t_r − t_l"
    return Figure.calculated("Δt", "Tapers apart", one.value - other.value, one.dimension, formula, one, other)


def _lock_depth(ctx: Context) -> Figure:
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
    below, above = _both(ctx, _entry("stack.valve.groove_below_tip", "z_g"), _entry("stack.locks.above_groove", "z_l"))
    deep = known(lambda: stack.sinks(ctx))
    value = model.tip_proud_mm(below.value, above.value, deep.value if deep is not None else 0.0)
    if deep is None:
        note = "How deep the locks sit is not known: they are taken as home."
        return length("p", "Tip proud of retainer and locks", value, "p = z_g − z_l", below, above, note=note)
    formula = "p = z_g − z_l − max(δ_l, 0)"
    return length("p", "Tip proud of retainer and locks", value, formula, below, above, deep)


def _step(name: str, end: str, path: str, symbol: str) -> Callable[[Context], Figure]:
    label = f"{name.capitalize()} spring over its {'step' if end == 'top' else 'spigot'}"
    tail = "" if name == "outer" else "_i"
    return _gap(f"c_{end[0]}{tail}", label, lambda ctx: _inside(ctx, name, end), _entry(path, symbol))


def _inner(work: Callable[[Context], Figure]) -> Callable[[Context], Figure]:
    def found(ctx: Context) -> Figure:
        _dual(ctx)
        return work(ctx)

    return found


def _below(name: str) -> Callable[[Context], Figure]:
    """A spring over its spigot; in a cup, or with nothing there, there is no such gap."""
    path = "stack.locator.spigot" if name == "outer" else "stack.locator.inner_spigot"
    work = _step(name, "bottom", path, "d_p" if name == "outer" else "d_p_i")

    def found(ctx: Context) -> Figure:
        if name == "inner":
            _dual(ctx)
        base = ctx.side.stack.locator.base
        if base is Located.NOTHING or (base is Located.CUP and name == "outer"):
            raise NotFitted("no spigot stands in this spring")
        return work(ctx)

    return found


def _bucket(path: str, symbol: str) -> Callable[[Context], Figure]:
    work = _gap("c_b", "Room inside the bucket", _entry("follower.inside", "D_b"), _entry(path, symbol))

    def found(ctx: Context) -> Figure:
        if not ctx.bucket:
            raise NotFitted("no bucket is fitted")
        return work(ctx)

    return found


def _with_locator(work: Callable[[Context], Figure]) -> Callable[[Context], Figure]:
    def found(ctx: Context) -> Figure:
        if not _locator_there(ctx):
            raise NotFitted("no locator is fitted")
        return work(ctx)

    return found


def _seal_room(ctx: Context) -> Figure:
    name = "outer" if ctx.side.stack.pack is Pack.SINGLE else "inner"
    label = f"Seal inside the {name} spring"
    return _gap("c_s", label, lambda c: _inside(c, name, "top"), _entry("stack.seal.outside", "D_s"))(ctx)


def _steel(ctx: Context) -> Figure:
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


def _based(ctx: Context) -> Figure:
    said = _said(ctx, "stack.locator.base")
    nowhere = float(said == Located.NOTHING)
    note = "Located at one end only." if nowhere else f"Located below by a {said}."
    what = _choice(ctx, "stack.locator.base", "u", nowhere, f"Below: {said}")
    return Figure.calculated("n", "Springs not located below", nowhere, COUNT, "n = u", what, note=note)


def _shims_there(ctx: Context) -> bool:
    return any(isinstance(s, Entry) and s.value > 0 for s in ctx.side.stack.shims)


def _shims_count(ctx: Context) -> Figure:
    there = [f for f in stack.shims(ctx) if f.value > 0]
    return Figure.calculated("n", "Shims under the spring", len(there), COUNT, "counted", *there)


def _shims_total(ctx: Context) -> Figure:
    there = [f for f in stack.shims(ctx) if f.value > 0]
    formula = "Σs = " + " + ".join(f.symbol for f in there)
    return length("Σs", "Shims in all", sum(f.value for f in there), formula, *there)


def _soft(ctx: Context) -> Figure:
    said = _said(ctx, "stack.rings.hardened")
    soft = float(said == Hardened.NO)
    what = _choice(ctx, "stack.rings.hardened", "w", soft, f"Shims: {said}")
    return Figure.calculated("n", "Soft shims", soft, COUNT, "n = w", what, note=f"Shims {said}.")


def _cap_there(ctx: Context) -> bool:
    cap = ctx.side.stack.cap
    return any(isinstance(said, Entry) for said in (cap.inside, cap.depth))


@figure
def shims_needed(ctx: Context) -> Figure:
    """Shims that the target height asks of the parts that are fitted; below zero no shim can reach it."""
    height, target = stack.open_height(ctx), ctx.entry("stack.target_height", "H_t")
    value = height.value - target.value
    note = "Too low already: no shim raises a spring." if value < 0 else ""
    label = "Shims that the target asks for"
    return length("s", label, value, f"s = {height.symbol} − H_t", height, target, note=note)


RULES = (
    Rule(
        "fit.lock_stem", "Locks on stem", "Locks are made for the stem's own lock-end diameter.",
        ("valve", "locks"),
        (Gap("locks on the stem’s lock end", _lock_stem, "fit.lock_stem"),),
    ),
    Rule(
        "fit.groove", "Groove", "Locks fill the groove that the stem has, bead for bead.",
        ("valve", "locks"),
        (Gap("locks in the groove", groove, "fit.groove"),),
    ),
    Rule(
        "fit.taper", "Taper", "Retainer and locks have one taper.",
        ("retainer", "locks"),
        (Gap("locks in the retainer", _taper, "fit.taper"),),
    ),
    Rule(
        "fit.lock_depth", "Lock depth", "Locks sit as deep as the retainer is made for.",
        ("retainer", "locks"),
        (Gap("depth of the locks", _lock_depth, "fit.lock_depth"),),
    ),
    Rule(
        "fit.spring_retainer", "Springs on retainer", "Each spring is centred by the retainer with room to breathe.",
        ("pack", "outer", "inner", "retainer"),
        (
            Gap("outer spring on the retainer", _step("outer", "top", "stack.retainer.outer_step", "d_r"),
                "fit.spring_retainer"),
            Gap("inner spring on the retainer", _inner(_step("inner", "top", "stack.retainer.inner_step", "d_r_i")),
                "fit.spring_retainer"),
        ),
    ),
    Rule(
        "fit.spring_seat", "Springs on seat", "Each spring is centred at its lower end.",
        ("pack", "outer", "inner", "locator"),
        (
            Gap("outer spring on its spigot", _below("outer"), "fit.spring_seat"),
            Gap("inner spring on its spigot", _below("inner"), "fit.spring_seat"),
        ),
        lambda ctx: ctx.side.stack.locator.base is not Located.NOTHING,
    ),
    Rule(
        "fit.pocket", "Room round springs", "Springs, retainer and locator have room in pocket and bucket.",
        ("pack", "outer", "retainer", "locator", "bucket"),
        (
            Gap("outer spring in the pocket", _gap("c_p", "Spring in the pocket",
                _entry("stack.pocket.diameter", "D_p"), _entry("stack.outer.outside", "D_o")), "fit.pocket"),
            Gap("outer spring in the bucket", _bucket("stack.outer.outside", "D_o"), "fit.pocket.bucket"),
            Gap("retainer in the bucket", _bucket("stack.retainer.outside", "D_a"), "fit.pocket.bucket"),
            Gap("locator in the pocket", _with_locator(_gap("c_l", "Locator in the pocket",
                _entry("stack.pocket.diameter", "D_p"), _entry("stack.locator.outside", "D_l"))),
                "fit.pocket.locator"),
        ),
    ),
    Rule(
        "fit.seal", "Seal", "The seal is made for this stem and guide, and clears the spring around it.",
        ("valve", "guide", "seal", "pack", "outer", "inner"),
        (
            Gap("seal on the stem", _gap("δ_s", "Seal on the stem", _entry("stack.seal.stem", "d_s"),
                _entry("stack.valve.stem", "d_v")), "fit.seal.stem"),
            Gap("seal on the guide", _gap("δ_g", "Seal on the guide", _entry("stack.seal.guide", "d_g"),
                _entry("stack.guide.outside", "D_g")), "fit.seal.guide"),
            Gap("seal inside the spring", _seal_room, "fit.seal.inner"),
        ),
    ),
    Rule(
        "fit.locator", "Seat and locator", "Steel under the springs, over the guide, keeping them in place.",
        ("locator", "guide"),
        (
            Gap("locator over the guide", _with_locator(_gap("c_g", "Locator over the guide",
                _entry("stack.locator.bore", "D_b"), _entry("stack.guide.outside", "D_g"))), "fit.locator"),
            Gap("steel under the springs", _steel, "fit.locator.steel"),
            Gap("springs located below", _based, "fit.locator.base"),
        ),
    ),
    Rule(
        "fit.tip_proud", "Tip proud", "The tip stands above retainer and locks, so that the follower bears on it.",
        ("valve", "locks", "retainer", "cap"),
        (Gap("tip above retainer and locks", tip_proud, "fit.tip_proud"),),
    ),
    Rule(
        "fit.cap", "Cap", "The cap bears on the tip and goes over it with a little room.",
        ("cap", "valve", "locks"),
        (
            Gap("cap clear of the locks", _gap("c_c", "Tip past the cap", tip_proud,
                _entry("stack.cap.depth", "t_c")), "fit.cap.depth"),
            Gap("cap over the tip", _gap("c_t", "Cap over the tip", _entry("stack.cap.inside", "d_c"),
                _entry("stack.valve.lock_end", "d_e")), "fit.cap.inside"),
        ),
        _cap_there,
    ),
    Rule(
        "fit.shims", "Shims", "Few shims, hardened, flat in the pocket and free over the guide.",
        ("shim", "guide"),
        (
            Gap("how many shims", _shims_count, "fit.shims.count"),
            Gap("shims in all", _shims_total, "fit.shims.total"),
            Gap("shims over the guide", _gap("c_i", "Shims over the guide", _entry("stack.rings.inside", "D_i"),
                _entry("stack.guide.outside", "D_g")), "fit.shims.guide"),
            Gap("shims in the pocket", _gap("c_o", "Shims in the pocket", _entry("stack.pocket.diameter", "D_p"),
                _entry("stack.rings.outside", "D_a")), "fit.shims.pocket"),
            Gap("shims hardened", _soft, "fit.shims.hardened"),
        ),
        _shims_there,
    ),
)  # fmt: skip


@figure
def met(ctx: Context, rule: str) -> tuple[Met, ...]:
    """Every gap of a rule as this side leaves it; what means nothing for its parts is left out."""
    found = []
    for gap in next(r for r in RULES if r.id == rule).gaps:
        try:
            value, limit = gap.work(ctx), ctx.limit(gap.limit)
        except NotFitted:
            continue
        except NotKnown as told:
            found.append(Met(gap, None, None, Level.OPEN, told))
        else:
            found.append(Met(gap, value, limit, level(value, limit)))
    return tuple(found)


@figure
def _governing(ctx: Context, rule: str) -> Met:
    """The gap that a rule turns on: one that does not fit, else one that is not known, else the closest."""
    rows = met(ctx, rule)
    if not rows:
        raise NotFitted("nothing of this is fitted")
    told = [m for m in rows if m.figure is not None]
    failing = [m for m in told if m.level is Level.FAIL]
    if failing:
        return min(failing, key=lambda m: m.room)
    missing: dict[str, Missing] = {}
    whys = []
    for m in rows:
        if m.told is not None:
            missing |= {one.path: one for one in m.told.missing}
            whys += [m.told.why] if m.told.why else []
    if missing or whys:
        raise MissingInput(*missing.values(), why=whys[0] if whys else "")
    return min(told, key=lambda m: (-m.level.severity, m.room))


def _worked(rule: str) -> Callable[[Context], Figure]:
    def work(ctx: Context) -> Figure:
        m = _governing(ctx, rule)
        assert m.figure is not None
        first = m.gap.words[0].upper() + m.gap.words[1:]
        return replace(m.figure, note=f"{first}. {m.figure.note}".strip())

    return work


def _held_to(rule: str) -> Callable[[Context], Limit]:
    def limit(ctx: Context) -> Limit:
        found = _governing(ctx, rule).limit
        assert found is not None
        return found

    return limit


_ORDER = (Fits.FITS, Fits.FORCED, Fits.UNKNOWN, Fits.NOT)


def outcome(ctx: Context, place: str) -> tuple[Fits, tuple[Met, ...]]:
    """How the part in a place goes together with those around it, and the gaps that say no better."""
    rules = [r for r in RULES if place.split(" ")[0] in r.parts and r.applies(ctx)]
    rows = [m for rule in rules for m in met(ctx, rule.id)]
    worst = max((m.outcome for m in rows), key=_ORDER.index, default=Fits.FITS)
    return worst, tuple(m for m in rows if m.outcome is worst and worst is not Fits.FITS)


def cautions(ctx: Context) -> list[str]:
    """What a metal asks for, whatever the gaps are."""
    said, parts = [], ctx.side.stack
    if parts.retainer.material is RetainerMetal.TITANIUM:
        said.append(
            "Titanium retainer: notch- and scratch-sensitive. Never a sharp-edged steel shim or tool on it; look at it "
            "under a glass at each teardown."
        )
    if parts.valve.material is ValveMetal.TITANIUM:
        said.append("Titanium valve: a scratch on the stem or a nick at the groove starts a crack; wants its own seat.")
    if parts.retainer.material is RetainerMetal.ALUMINIUM:
        said.append("Aluminium retainer: counted in hours. Springs eat its steps, and heat takes its strength.")
    return said


CHECKS = (
    *(
        Check(
            rule.id,
            rule.title,
            "fit",
            rule.about,
            work=_worked(rule.id),
            limit=_held_to(rule.id),
            applies=rule.applies,
            says=Says.ALWAYS,
        )
        for rule in RULES
    ),
    Check(
        "stack.height_reachable",
        "Height within reach",
        "stack",
        "Shims can bring these parts to the target height.",
        work=shims_needed,
        limit="stack.height_reachable",
    ),
)
