"""Dispositions: remedies that tempt, what becomes of each part, and the head sent on into its next revision."""

from typing import Any

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import disposing
from arcstack.application.came_back import send_on
from arcstack.errors import FieldError
from arcstack.readings.returning import What, disposed, named, remedies_taken
from arcstack.wear.dispositions import asks, by_set, cautions, kinds
from arcstack.wear.report import reopens, report, summary, where
from arcstack.wear.signs import causes, remedies
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head

blueprint = Blueprint("dispositions", __name__, url_prefix="/builds/<int:build_id>/<side:side>/back/dispositions")


def _chosen() -> tuple[str, What | None]:
    kind = request.values.get("kind", "")
    kind = kind if kind in kinds() else next(iter(kinds()))
    what = next((w for w in kinds()[kind].choices if w.value == request.values.get("what")), None)
    return kind, what


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "", about: str = "") -> str:
    """What becomes of every part."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_work(here, "dispositions", "Dispositions"))
    kind, what = _chosen()
    found, said = disposed(here.sheet.events), named(here.sheet.events)
    costs = [d.cost for d in found if d.cost is not None]
    by_part = {(d.part, d.place): d for d in found}
    ctx = here.design.sides[side]
    shown: dict[str, Any] = {
        "kinds": kinds(), "kind": kinds()[kind],
        "by_set": by_set(kinds()[kind], here.current.build),
        "what": what, "asks": asks(kind, what) if what else (),
        "cautions": cautions(ctx, kind, what) if what else (), "found": found, "by_part": by_part,
        "own": [p for p in here.sheet.places if p.side == side], "total": sum(costs), "costed": len(costs),
        "sent": [d for d in found if d.what is What.SEND],
        "quarantined": [d for d in found if d.what is What.QUARANTINE],
        "wanted": [d for d in found if d.what in (What.REPLACE, What.REPLACE_SET)],
        "remedies": remedies(), "taken": {r.remedy: r for r in remedies_taken(here.sheet.events)}, "causes": causes(),
        "said": said, "where": where, "reopens": reopens(found),
        "lines": report(here.sheet), "summary": summary(found, said), "wrong": wrong, "about": about,
        "typed": request.form if wrong else {}, "chosen": set(request.form.getlist("places")) if wrong else set(),
        "hand": current_who().name,
    }  # fmt: skip
    return render_template("bench/dispositions.html", **around_work(here, "dispositions", "Dispositions") | shown)


@blueprint.post("")
def decide(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say what becomes of a part at one place or several: all of them or none."""
    here, form = head(workshop().open(build_id), side), request.form
    kind, what = _chosen()
    try:
        disposing.dispose(
            here, current_hand(), kind=kind, what=what, places=form.getlist("places"), answers=form.to_dict(),
            system=current_system(),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message, "what"), 422
    return redirect(f"{links.at('dispositions.index', build_id, side)}?kind={kind}")


@blueprint.post("/remedy")
def remedy(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a tempting remedy: its cause was found, or a name and a reason."""
    here, form = head(workshop().open(build_id), side), sent()
    try:
        disposing.take_remedy(here, current_hand(), remedy=form.text("remedy"), reason=form.text("reason"))
    except FieldError as error:
        return index(build_id, side, error.message, "remedy"), 422
    return redirect(f"{links.at('dispositions.index', build_id, side)}#remedies")


@blueprint.post("/next")
def next_revision(build_id: int, side: str) -> Response | tuple[str, int]:
    """Send the head on into its next revision, with what was found as its reason."""
    base = asked.whole(request.form, "base")
    try:
        send_on(workshop(), bench(), build_id, base or 0, current_who(), current_hand())
    except FieldError as error:
        return index(build_id, side, error.message, "next"), 422
    return redirect(links.revisions(build_id, side))
