"""Help: what each stage answers and needs, how a figure is taken, and a walk through the demo."""

from flask import Blueprint, abort, render_template, request

from arcstack.document import FIELDS, SIDES, spoken
from arcstack.drawings.sketches import SKETCHES, sketch
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import workshop
from arcstack.web.kit.stage import STAGES

blueprint = Blueprint("help", __name__, url_prefix="/help")


BENCH = {
    "readings": "bench.index", "tester": "springs_bench.index", "matching": "matching.index", "items": "items.index",
    "cuts": "cutting.index", "mock-up": "mock_up.index", "lash": "lash.index", "assembly": "assembly.index",
    "as built": "as_built.index", "to do": "left.index",
    "came back": "came_back.index", "diagnosis": "diagnosis.index", "dispositions": "dispositions.index",
    "photographs": "pictures.index", "provenance": "provenance.index", "orders": "orders.index",
    "power": "power.index", "costs": "costs.index", "sign-off": "sign_off.index", "sheets": "sheets.index",
}  # fmt: skip
"""Pages of the bench by the word that help is asked with."""


def _back() -> tuple[str, str]:
    """Where to go back to: the build's stage that help was asked on, else the workshop."""
    build, side, page = asked.whole(request.args, "build"), request.args.get("side", ""), request.args.get("page", "")
    if build and side in SIDES:
        if page in BENCH:
            return links.at(BENCH[page], build, side), "Back to the bench"
        return links.stage(build, page if STAGES.find(page) else "stack", side), "Back to the build"
    return links.workshop(), "Back to the workshop"


@blueprint.get("")
def index() -> str:
    chosen = request.args.get("page", "")
    back, back_words = _back()
    known = chosen if chosen in BENCH or STAGES.find(chosen) else ""
    return render_template(
        "guide/index.html", chosen=known, bench_chosen=known in BENCH, back=back, back_words=back_words
    )


@blueprint.get("/tour")
def tour() -> str:
    """Six steps through the builds that the demo has; with others, through the last one changed."""
    builds = workshop().builds().rows
    return render_template("guide/tour.html", builds=builds)


@blueprint.get("/field/<path>")
def field(path: str) -> str:
    """How a figure is taken, drawn: between which two faces."""
    tail = path.partition(".")[2] if path.split(".")[0] in SIDES else path
    if path not in FIELDS or tail not in SKETCHES:
        abort(404)
    label = spoken(path)
    return render_template(
        "guide/_field.html", title=label[:1].upper() + label[1:], drawing=sketch(tail), words=SKETCHES[tail].words
    )
