"""A part from the shelf for a place of one side: what goes together, what it would change and turn, then fitted."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import Newer, differences
from arcstack.application.difference import Change
from arcstack.assess import Assessment, assess
from arcstack.assess.fit import Fits, outcome
from arcstack.checks import Verdict
from arcstack.document import Build
from arcstack.errors import FieldError, NotFound
from arcstack.shelf import KINDS, ShelfPart, found, read_query, summary
from arcstack.shelf.fitting import PLACES, fitted, places_of
from arcstack.store import Kind, Reason
from arcstack.units import System
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_system, part_shelf, sweeps, workshop

blueprint = Blueprint("choosing", __name__, url_prefix="/builds/<int:build_id>/<side:side>/parts")


@dataclass(frozen=True)
class Offered:
    """A part as it would go into a place."""

    part: ShelfPart
    summary: str
    fits: Fits
    why: str
    here: bool


@dataclass(frozen=True)
class Shown:
    """What fitting a part would change and turn; ``error`` where it cannot be fitted."""

    part: ShelfPart
    changes: list[Change]
    turned: list[tuple[Verdict, Verdict]]
    error: str = ""


def _offered(now: Assessment, side: str, place: str, parts: list[ShelfPart], system: System) -> list[Offered]:
    ctx, held = now.sides[side], now.build.side(side).from_shelf.get(place)
    rows = []
    for part in parts:
        try:
            stands, gaps = outcome(ctx.of(fitted(now.build, side, part, place)), place)
            why = "; ".join(dict.fromkeys(g.gap.words for g in gaps))
        except FieldError as error:
            stands, why = Fits.NOT, error.message
        rows.append(Offered(part, summary(part, system), stands, why, held is not None and held.key == part.key))
    order = list(Fits)
    return sorted(rows, key=lambda r: (order.index(r.fits), r.part.on_hand == 0, r.part.name.casefold()))


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, error: str = "") -> str:
    current, system = workshop().open(build_id), current_system()
    now, build = assessed(current), current.build
    here = places_of(build, side)
    place = request.values.get("place", "")
    place = place if place in here else "retainer"
    kind = PLACES[place]
    text, key = request.values.get("q", "")[:200], request.values.get("key", "")
    parts = found(part_shelf().offered(kind), read_query(text), system)
    offered = _offered(now, side, place, parts, system)
    chosen = next((o.part for o in offered if o.part.key == key), None)
    return render_template(
        "choosing/index.html",
        **around(current, side, now, system),
        place=place,
        places=here,
        kind=KINDS[kind],
        offered=offered,
        q=text,
        chosen=key if chosen else "",
        shown=_shown(now, side, place, chosen) if chosen else None,
        newer=[(n, _newer_words(now, n)) for n in part_shelf().newer(build)],
        error=error,
        title="Parts",
        level_of={Fits.FITS: "clear", Fits.FORCED: "tight", Fits.NOT: "fail", Fits.UNKNOWN: "open"},
    )


def _shown(now: Assessment, side: str, place: str, part: ShelfPart) -> Shown:
    try:
        then = fitted(now.build, side, part, place)
    except FieldError as error:
        return Shown(part, [], [], error.message)
    return Shown(part, differences(now.build, then), turned(now, assess(then, sweeps().known, now)))


def _newer_words(now: Assessment, newer: Newer) -> Shown | None:
    """What taking the shelf's newer part would change; None where it is gone from there."""
    return _shown(now, newer.side, newer.place, newer.part) if newer.part is not None else None


@blueprint.post("")
def fit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Fit what was shown."""
    key, place = request.form.get("key", ""), request.form.get("place", "")
    newer = request.form.get("newer") == "1"

    def made(here: Build) -> tuple[Build, Reason]:
        changed, part = part_shelf().fit(here, side, key, place)
        return changed, Reason(Kind.PART_NEWER if newer else Kind.PART_FITTED, f"{side}.{place}", after=part.name)

    try:
        accept(build_id, made)
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    except NotFound as error:
        return _page(build_id, side, str(error)), 404
    return redirect(links.at("choosing.index", build_id, side) + f"?place={place.replace(' ', '+')}")


@blueprint.post("/keep")
def keep(build_id: int, side: str) -> Response:
    """Keep a part as it was fitted, whatever the shelf says of it now."""
    place = request.form.get("place", "")

    def made(here: Build) -> tuple[Build, Reason]:
        held = here.side(side).from_shelf.get(place)
        name = held.name if held else ""
        return part_shelf().keep(here, side, place), Reason(Kind.PART_KEPT, f"{side}.{place}", after=name)

    accept(build_id, made)
    return redirect(links.at("choosing.index", build_id, side) + f"?place={place.replace(' ', '+')}")
