from dataclasses import dataclass, replace

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import Current
from arcstack.application.acts import limits
from arcstack.assess import Assessment, assess
from arcstack.assess.catalogue import limit_title
from arcstack.assess.context import Context
from arcstack.checks import Limit
from arcstack.document import Build
from arcstack.errors import FieldError, PracticeError
from arcstack.practice import practices
from arcstack.practice.matters import matters
from arcstack.store import Reason
from arcstack.units import System, plain
from arcstack.views.margins import limit_words
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import asked, links
from arcstack.web.kit.change import accept
from arcstack.web.kit.form import sent
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
    return assess(
        limits.judged_anew(current.build, current.build.practice, library()), sweeps().known, assessed(current)
    )


@blueprint.post("/choose")
def choose(build_id: int, side: str) -> Response | tuple[str, int]:
    """Judge the build by another practice, or by the newer version of its own; limits changed for this build stay."""
    chosen, base = request.form.get("practice", ""), asked.base(request.form)
    try:
        accept(build_id, lambda build: limits.choose_practice(build, chosen, library()))
    except PracticeError as error:
        return _page(build_id, side, str(error)), 422
    return redirect(links.at("practice.index", build_id, side) + f"?since={base}")


@blueprint.post("/decide")
def decide(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a side on a matter that the build decides, or leave it open again."""
    form, by = sent(), current_hand()
    key, choice, reason = form.text("matter"), form.text("choice"), " ".join(form.text("reason").split())
    try:
        accept(build_id, lambda build: limits.decide_matter(build, by, matter=key, choice=choice, reason=reason))
    except FieldError as error:
        return _page(build_id, side, error.message, error.path), 422
    return redirect(links.at("practice.index", build_id, side) + f"#decision-{key}")


@blueprint.post("/limit")
def limit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Change one limit for this build, or give it back to the practice."""
    form, by, base = sent(), current_hand(), asked.base(request.form)
    key, ends = form.text("key"), {end: form.text(end) for end in ("low", "high")}
    reason = " ".join(form.text("reason").split())

    def moved(build: Build) -> tuple[Build, Reason]:
        if "reset" in form.values:
            return limits.give_back_limit(build, key)
        return limits.change_limit(build, by, key=key, ends=ends, reason=reason, system=form.system)

    try:
        accept(build_id, moved)
    except FieldError as error:
        return _page(build_id, side, error.message, key), 422
    return redirect(links.at("practice.index", build_id, side) + f"?since={base}#limit-{key}")
