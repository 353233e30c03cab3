from dataclasses import dataclass

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import checks
from arcstack.assess.context import Context
from arcstack.checks import Evidence, Limit
from arcstack.document import Build, Entry, Override
from arcstack.document.entry import Quantity, enter
from arcstack.errors import FieldError, PracticeError, QuantityError
from arcstack.practice import practice, practices
from arcstack.store import Kind, Reason
from arcstack.units import System, plain
from arcstack.web.frame.around import around
from arcstack.web.frame.margins import limit_words
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_hand, current_system, workshop

blueprint = Blueprint("practice", __name__, url_prefix="/builds/<int:build_id>/<side:side>/practice")

_OTHERS = {
    "cam.card.angle": "Cam card, angles",
    "cam.card.lift": "Cam card, lifts",
    "gas.usual_seat_load": "Usual seat load, no boost",
    "gas.opening_pressure": "Assumed cylinder as exhaust opens",
    "gas.pulse_ratio": "Assumed pulse peak ÷ mean",
    "gas.back_pressure_ratio": "Assumed back pressure ÷ boost",
    "piston.rod_allowance": "Added for aluminium rods",
    "stack.installed_height": "Installed height, off target",
    "lift.net": "Net lift ÷ head diameter",
    "control.separation": "Separation ÷ limiter",
    "control.elastic_separation": "Elastic separation ÷ limiter",
    "control.parting_gap": "Gap that counts as parted",
    "control.nose_pressure": "Nose, usual speed ÷ materials’ limit",
    "control.friction_coefficient": "Assumed friction of follower on lobe, sliding",
    "control.friction_coefficient.roller": "Assumed friction of roller on lobe",
    "spring.nest_gap.interference": "Between springs, interference fit",
    "spring.load_loss": "Assumed load loss of new springs",
}


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


def title_of(key: str) -> str:
    bare = key.split("@")[0]
    if bare.startswith("follower.contact_pressure."):
        check, _, pair = bare.rpartition(".")
        return f"{checks()[check].title}, {pair}"
    return _OTHERS.get(bare) or checks()[bare].title


def _rows(ctx: Context, build: Build, system: System) -> list[LimitRow]:
    keys = dict.fromkeys(k.split("@")[0] for k in ctx.practice.limits)
    found = []
    for bare in keys:
        limit = ctx.limit(bare)
        key = f"{bare}@{ctx.side_name}" if f"{bare}@{ctx.side_name}" in ctx.practice.limits else bare
        low, high = (plain(x, limit.dimension, system) if x is not None else "" for x in (limit.low, limit.high))
        found.append(LimitRow(key, title_of(key), limit, limit_words(limit, system), low, high, key in build.overrides))
    return found


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, error: str = "", at: str = "") -> str:
    current = workshop().open(build_id)
    assessment = assessed(current)
    system = current_system()
    return render_template(
        "practice/index.html",
        **around(current, side, assessment, system),
        practices=practices(),
        rows=_rows(assessment.sides[side], current.build, system),
        error=error,
        at=at,
        title="Practice",
    )


@blueprint.post("/choose")
def choose(build_id: int, side: str) -> Response | tuple[str, int]:
    """Judge the build by another practice; limits changed for this build stay."""
    try:
        chosen = practice(request.form.get("practice", ""))
    except PracticeError as error:
        return _page(build_id, side, str(error)), 422
    why = Reason(Kind.PRACTICE, after=chosen.id)
    accept(build_id, lambda build: (build.model_copy(update={"practice": chosen.id}), why))
    return redirect(links.at("practice.index", build_id, side))


@blueprint.post("/limit")
def limit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Change one limit for this build, or give it back to the practice."""
    key, reset = request.form.get("key", ""), "reset" in request.form

    def moved(build: Build) -> tuple[Build, Reason]:
        if key not in practice(build.practice).limits:
            abort(400)
        overrides = dict(build.overrides)
        if reset:
            overrides.pop(key, None)
            why = Reason(Kind.LIMIT_BACK, key)
        else:
            overrides[key] = _override(build, key)
            why = Reason(Kind.LIMIT, key, after=overrides[key].reason)
        return build.model_copy(update={"overrides": overrides}), why

    try:
        accept(build_id, moved)
    except FieldError as error:
        return _page(build_id, side, error.message, key), 422
    return redirect(links.at("practice.index", build_id, side) + f"#limit-{key}")


def _override(build: Build, key: str) -> Override:
    spec = practice(build.practice).limits[key]
    quantity = Quantity(title_of(key), spec.dimension, -1e5, 1e5)
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
