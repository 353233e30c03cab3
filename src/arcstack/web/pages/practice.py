from dataclasses import dataclass, replace

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import Current
from arcstack.assess import Assessment, assess
from arcstack.assess.catalogue import limit_title
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Limit
from arcstack.document import Build, Decision, Entry, Override, judged_by
from arcstack.document.entry import Quantity, enter
from arcstack.errors import FieldError, PracticeError, QuantityError
from arcstack.practice import practice, practices
from arcstack.practice.matters import matters
from arcstack.store import Kind, Reason
from arcstack.units import System, plain
from arcstack.views.margins import limit_words
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import asked, links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_hand, current_system, sweeps, workshop
from arcstack.web.pages.practices import library

blueprint = Blueprint("practice", __name__, url_prefix="/builds/<int:build_id>/<side:side>/practice")


@dataclass(frozen=True)
class LimitRow:
    """One limit as the page shows it."""

    key: str
    title: str
    limit: Limit
    words: str
    low: str
    high: str
    changed: bool
    reason: str = ""


def _rows(ctx: Context, build: Build, system: System, at: str, typed: dict[str, str]) -> list[LimitRow]:
    """Every limit of this side; what was typed for the one called ``at`` stays as it was typed."""
    keys = dict.fromkeys(k.split("@")[0] for k in ctx.practice.limits)
    found = []
    for bare in keys:
        limit = ctx.limit(bare)
        key = f"{bare}@{ctx.side_name}" if f"{bare}@{ctx.side_name}" in ctx.practice.limits else bare
        low, high = (plain(x, limit.dimension, system) if x is not None else "" for x in (limit.low, limit.high))
        changed = key in build.overrides
        row = LimitRow(
            key,
            limit_title(key),
            limit,
            limit_words(limit, system),
            low,
            high,
            changed,
            limit.reason if changed else "",
        )
        if key == at:
            row = replace(row, **{name: typed.get(name, getattr(row, name)) for name in ("low", "high", "reason")})
        found.append(row)
    return found


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


@dataclass(frozen=True)
class Offered:
    """A practice that a build may be judged by."""

    id: str
    name: str
    about: str
    version: int
    own: bool


def _offered(build: Build) -> list[Offered]:
    """The shipped ones, the workshop's own, and the one that the build carries though it is kept here no more."""
    found = [Offered(p.id, p.name, p.about, p.version, False) for p in practices()]
    found += [Offered(p.id, p.name, p.whole().about, p.version, True) for p in library().all()]
    carried = build.own_practice
    if carried is not None and all(p.id != carried.id for p in found):
        found.append(Offered(carried.id, carried.name, carried.whole().about, carried.version, True))
    return found


def _page(build_id: int, side: str, error: str = "", at: str = "") -> str:
    current = workshop().open(build_id)
    assessment, system, build = assessed(current), current_system(), current.build
    newer = library().newer(build.practice, build.practice_version)
    since = asked.whole(request.args, "since")
    before = assessed(workshop().open(build_id, since)) if since and since < current.revision else None
    return render_template(
        "practice/index.html",
        **around(current, side, assessment, system),
        practices=_offered(build),
        rows=_rows(assessment.sides[side], build, system, at, request.form.to_dict()),
        matters=matters().values(),
        newer=newer,
        would_turn=turned(assessment, _judged_anew(current)) if newer else [],
        turned=turned(before, assessment) if before else None,
        error=error,
        at=at,
        title="Practice",
    )


def _judged_anew(current: Current) -> Assessment:
    """The build as the version of its practice that is here judges it."""
    return assess(_by(current.build, current.build.practice), sweeps().known, assessed(current))


def _by(build: Build, chosen: str) -> Build:
    """The build judged by a practice in the version that is here. Raises ``PracticeError`` for an unknown one."""
    own = library().find(chosen)
    if own is not None:
        return build.model_copy(update={"practice": own.id, "practice_version": own.version, "own_practice": own})
    if build.own_practice is not None and build.own_practice.id == chosen:
        return build
    version = practice(chosen).version
    return build.model_copy(update={"practice": chosen, "practice_version": version, "own_practice": None})


@blueprint.post("/choose")
def choose(build_id: int, side: str) -> Response | tuple[str, int]:
    """Judge the build by another practice, or by the newer version of its own; limits changed for this build stay."""
    chosen = request.form.get("practice", "")

    def judged(build: Build) -> tuple[Build, Reason]:
        changed = _by(build, chosen)
        name = judged_by(changed).name
        if chosen == build.practice:
            return changed, Reason(Kind.PRACTICE_NEWER, before=name, after=str(changed.practice_version))
        return changed, Reason(Kind.PRACTICE, before=name, after=chosen)

    base = asked.base(request.form)
    try:
        accept(build_id, judged)
    except PracticeError as error:
        return _page(build_id, side, str(error)), 422
    return redirect(links.at("practice.index", build_id, side) + f"?since={base}")


@blueprint.post("/decide")
def decide(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a side on a matter that the build decides, or leave it open again."""
    key, choice = request.form.get("matter", ""), request.form.get("choice", "")
    matter = matters().get(key)
    if matter is None or choice not in ("", *matter.sides):
        abort(400)
    reason = " ".join(request.form.get("reason", "").split())
    if len(reason) > 200 or not reason.isprintable():
        return _page(build_id, side, "A reason has at most 200 characters.", f"decision-{key}"), 422

    def decided(build: Build) -> tuple[Build, Reason]:
        decisions = {k: d for k, d in build.decisions.items() if k != key}
        if choice:
            decisions[key] = Decision(choice=choice, reason=reason, by=current_hand())
        why = Reason(Kind.DECISION, key, after=matter.said(choice))
        return build.model_copy(update={"decisions": decisions}), why

    accept(build_id, decided)
    return redirect(links.at("practice.index", build_id, side) + f"#decision-{key}")


@blueprint.post("/limit")
def limit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Change one limit for this build, or give it back to the practice."""
    key, reset = request.form.get("key", ""), "reset" in request.form

    def moved(build: Build) -> tuple[Build, Reason]:
        if key not in judged_by(build).limits:
            abort(400)
        overrides = dict(build.overrides)
        if reset:
            overrides.pop(key, None)
            why = Reason(Kind.LIMIT_BACK, key)
        else:
            overrides[key] = _override(build, key)
            why = Reason(Kind.LIMIT, key, after=overrides[key].reason)
        return build.model_copy(update={"overrides": overrides}), why

    base = asked.base(request.form)
    try:
        accept(build_id, moved)
    except FieldError as error:
        return _page(build_id, side, error.message, key), 422
    return redirect(links.at("practice.index", build_id, side) + f"?since={base}#limit-{key}")


def _override(build: Build, key: str) -> Override:
    spec = judged_by(build).limits[key]
    quantity = Quantity(limit_title(key), spec.dimension, -1e5, 1e5)
    unit = spec.dimension.unit(current_system())
    reason = " ".join(request.form.get("reason", "").split())
    if len(reason) < 3 or len(reason) > 200 or not reason.isprintable():
        raise FieldError(key, "Say in a few words why this build has its own limit.")
    try:
        ends = {
            end: enter(request.form.get(end, ""), quantity, Evidence.ASSUMED, unit)
            for end in ("low", "high")
            if getattr(spec, end) is not None
        }
    except QuantityError as error:
        raise FieldError(key, str(error)) from error
    low, high = (e if isinstance(e := ends.get(end), Entry) else None for end in ("low", "high"))
    if low and high and low.value >= high.value:
        raise FieldError(key, "The low end must be below the high end.")
    return Override(low=low, high=high, reason=reason, by=current_hand())
