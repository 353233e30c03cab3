"""Whether parts go together: each rule is the gaps it looks at, each gap two figures and a limit."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from arcstack.assess import gaps, stack
from arcstack.assess.assessment import level
from arcstack.assess.check import Check, Says
from arcstack.assess.context import Context, figure
from arcstack.checks import Figure, Level, Limit, Missing
from arcstack.document.parts import (
    Located,
    RetainerMetal,
    ValveMetal,
)
from arcstack.errors import MissingInput, NotFitted, NotKnown


class Fits(StrEnum):
    """How two parts go together."""

    FITS = "fits"
    FORCED = "forced"
    NOT = "does not fit"
    UNKNOWN = "unknown"


_WORDS = {Level.CLEAR: Fits.FITS, Level.TIGHT: Fits.FORCED, Level.WAIVED: Fits.FORCED, Level.FAIL: Fits.NOT}


@dataclass(frozen=True)
class Gap:
    """What a rule looks at: ``words`` name the parts, ``limit`` is the practice's key.

    ``bare`` is the same figure without what is said beside it, where that rests on more than the gap does.
    """

    words: str
    work: Callable[[Context], Figure]
    limit: str
    bare: Callable[[Context], Figure] | None = None


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


RULES = (
    Rule(
        "fit.lock_stem", "Locks on stem", "Locks are made for the stem's own lock-end diameter.",
        ("valve", "locks"),
        (Gap("locks on the stem’s lock end", gaps.lock_stem, "fit.lock_stem"),),
    ),
    Rule(
        "fit.groove", "Groove", "Locks fill the groove that the stem has, bead for bead.",
        ("valve", "locks"),
        (Gap("locks in the groove", gaps.groove, "fit.groove"),),
    ),
    Rule(
        "fit.taper", "Taper", "Retainer and locks have one taper.",
        ("retainer", "locks"),
        (Gap("locks in the retainer", gaps.taper, "fit.taper"),),
    ),
    Rule(
        "fit.lock_depth", "Lock depth", "Locks sit as deep as the retainer is made for.",
        ("retainer", "locks"),
        (Gap("depth of the locks", gaps.lock_depth, "fit.lock_depth", stack.sinks),),
    ),
    Rule(
        "fit.spring_retainer", "Springs on retainer", "Each spring is centred by the retainer with room to breathe.",
        ("pack", "outer", "inner", "retainer"),
        (
            Gap("outer spring on the retainer", gaps.step("outer", "top", "stack.retainer.outer_step", "d_r"),
                "fit.spring_retainer"),
            Gap("inner spring on the retainer",
                gaps.inner(gaps.step("inner", "top", "stack.retainer.inner_step", "d_r_i")), "fit.spring_retainer"),
        ),
    ),
    Rule(
        "fit.spring_seat", "Springs on seat", "Each spring is centred at its lower end.",
        ("pack", "outer", "inner", "locator"),
        (
            Gap("outer spring on its spigot", gaps.below("outer"), "fit.spring_seat"),
            Gap("inner spring on its spigot", gaps.below("inner"), "fit.spring_seat"),
        ),
        lambda ctx: ctx.side.stack.locator.base is not Located.NOTHING,
    ),
    Rule(
        "fit.pocket", "Room round springs", "Springs, retainer and locator have room in pocket and bucket.",
        ("pack", "outer", "retainer", "locator", "bucket"),
        (
            Gap("outer spring in the pocket", gaps.gap("c_p", "Spring in the pocket",
                gaps.entry("stack.pocket.diameter", "D_p"), gaps.entry("stack.outer.outside", "D_o")), "fit.pocket"),
            Gap("outer spring in the bucket", gaps.bucket("stack.outer.outside", "D_o"), "fit.pocket.bucket"),
            Gap("retainer in the bucket", gaps.bucket("stack.retainer.outside", "D_a"), "fit.pocket.bucket"),
            Gap("locator in the pocket", gaps.with_locator(gaps.gap("c_l", "Locator in the pocket",
                gaps.entry("stack.pocket.diameter", "D_p"), gaps.entry("stack.locator.outside", "D_l"))),
                "fit.pocket.locator"),
        ),
    ),
    Rule(
        "fit.seal", "Seal", "The seal is made for this stem and guide, and clears the spring around it.",
        ("valve", "guide", "seal", "pack", "outer", "inner"),
        (
            Gap("seal on the stem", gaps.gap("δ_s", "Seal on the stem", gaps.entry("stack.seal.stem", "d_s"),
                gaps.entry("stack.valve.stem", "d_v")), "fit.seal.stem"),
            Gap("seal on the guide", gaps.gap("δ_g", "Seal on the guide", gaps.entry("stack.seal.guide", "d_g"),
                gaps.entry("stack.guide.outside", "D_g")), "fit.seal.guide"),
            Gap("seal inside the spring", gaps.seal_room, "fit.seal.inner"),
        ),
    ),
    Rule(
        "fit.locator", "Seat and locator", "Steel under the springs, over the guide, keeping them in place.",
        ("locator", "guide"),
        (
            Gap("locator over the guide", gaps.with_locator(gaps.gap("c_g", "Locator over the guide",
                gaps.entry("stack.locator.bore", "D_b"), gaps.entry("stack.guide.outside", "D_g"))), "fit.locator"),
            Gap("steel under the springs", gaps.steel, "fit.locator.steel"),
            Gap("springs located below", gaps.based, "fit.locator.base"),
        ),
    ),
    Rule(
        "fit.tip_proud", "Tip proud", "The tip stands above retainer and locks, so that the follower bears on it.",
        ("valve", "locks", "retainer", "cap"),
        (Gap("tip above retainer and locks", gaps.tip_proud, "fit.tip_proud"),),
    ),
    Rule(
        "fit.cap", "Cap", "The cap bears on the tip and goes over it with a little room.",
        ("cap", "valve", "locks"),
        (
            Gap("cap clear of the locks", gaps.gap("c_c", "Tip past the cap", gaps.tip_proud,
                gaps.entry("stack.cap.depth", "t_c")), "fit.cap.depth"),
            Gap("cap over the tip", gaps.gap("c_t", "Cap over the tip", gaps.entry("stack.cap.inside", "d_c"),
                gaps.entry("stack.valve.lock_end", "d_e")), "fit.cap.inside"),
        ),
        gaps.cap_there,
    ),
    Rule(
        "fit.shims", "Shims", "Few shims, hardened, flat in the pocket and free over the guide.",
        ("shim", "guide"),
        (
            Gap("how many shims", gaps.shims_count, "fit.shims.count"),
            Gap("shims in all", gaps.shims_total, "fit.shims.total"),
            Gap("shims over the guide", gaps.gap("c_i", "Shims over the guide", gaps.entry("stack.rings.inside", "D_i"),
                gaps.entry("stack.guide.outside", "D_g")), "fit.shims.guide"),
            Gap("shims in the pocket", gaps.gap("c_o", "Shims in the pocket",
                gaps.entry("stack.pocket.diameter", "D_p"), gaps.entry("stack.rings.outside", "D_a")),
                "fit.shims.pocket"),
            Gap("shims hardened", gaps.soft, "fit.shims.hardened"),
        ),
        gaps.shims_there,
    ),
)  # fmt: skip

BY_ID = {rule.id: rule for rule in RULES}


@figure
def met(ctx: Context, rule: str) -> tuple[Met, ...]:
    """Every gap of a rule as this side leaves it; what means nothing for its parts is left out."""
    found = (met_gap(ctx, gap, gap.work) for gap in BY_ID[rule].gaps)
    return tuple(m for m in found if m is not None)


def met_gap(ctx: Context, gap: Gap, work: Callable[[Context], Figure], held_to: Limit | None = None) -> Met | None:
    """One gap as this side leaves it; None where it means nothing for the parts that are fitted.

    ``held_to`` is the limit where it is at hand.
    """
    try:
        value, limit = work(ctx), held_to or ctx.limit(gap.limit)
    except NotFitted:
        return None
    except NotKnown as told:
        return Met(gap, None, None, Level.OPEN, told)
    return Met(gap, value, limit, level(value, limit))


@figure
def _governing(ctx: Context, rule: str) -> Met:
    return governing(met(ctx, rule))


def governing(rows: Sequence[Met]) -> Met:
    """The gap that a rule turns on: one that does not fit, else one that is not known, else the closest.

    Raises ``MissingInput`` where one is not known and none fails, ``NotFitted`` where there is none.
    """
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
        others = (other.figure for other in met(ctx, rule) if other.figure is not None)
        return replace(m.figure.among(*others), note=f"{first}. {m.figure.note}".strip())

    return work


def _held_to(rule: str) -> Callable[[Context], Limit]:
    def limit(ctx: Context) -> Limit:
        found = _governing(ctx, rule).limit
        assert found is not None
        return found

    return limit


def _there(rule: Rule) -> Callable[[Context], bool]:
    """Whether anything that a rule is about is fitted."""
    return lambda ctx: rule.applies(ctx) and bool(met(ctx, rule.id))


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
            applies=_there(rule),
            says=Says.ALWAYS,
        )
        for rule in RULES
    ),
    Check(
        "stack.height_reachable",
        "Height within reach",
        "stack",
        "Shims can bring these parts to the target height.",
        work=gaps.shims_needed,
        limit="stack.height_reachable",
    ),
)
