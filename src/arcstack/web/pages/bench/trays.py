"""Learning to read wear: three trays with a hidden cause, named before the answer is shown."""

from flask import Blueprint, abort, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.drawings.signs import sign_drawing
from arcstack.wear.signs import causes
from arcstack.wear.trays import READINGS, answered, lesson

blueprint = Blueprint("trays", __name__, url_prefix="/learning/trays")

MOST_SEED = 999_999


@blueprint.get("")
def start() -> Response:
    """The trays of the seed that was typed."""
    text = request.args.get("seed", "1").strip()
    seed = int(text) if text.isdigit() and int(text) <= MOST_SEED else 1
    return redirect(url_for("trays.show", seed=seed))


@blueprint.get("/<int:seed>")
def show(seed: int, wrong: str = "") -> str:
    """Three trays: what was the cause, and what would be measured next?"""
    if seed > MOST_SEED:
        abort(404)
    return _page(seed, None, wrong)


def _page(seed: int, answer: object, wrong: str) -> str:
    of = lesson(seed)
    return render_template(
        "bench/trays.html",
        title="Trays",
        of=of,
        seed=seed,
        drawings={s.id: sign_drawing(s.id, s.title) for tray in of.trays for s, _ in tray.shown},
        causes=causes(),
        readings=READINGS,
        answer=answer,
        wrong=wrong,
        typed=request.form,
        weighed=of.diagnosis.weighed,
    )


@blueprint.post("/<int:seed>")
def answer(seed: int) -> str | tuple[str, int]:
    """The answer beside the truth."""
    if seed > MOST_SEED:
        abort(404)
    cause, reading = request.form.get("cause", ""), request.form.get("reading", "")
    if cause not in causes() or reading not in READINGS:
        return show(seed, "Name a cause and what you would measure next; then the answer is shown."), 422
    return _page(seed, answered(lesson(seed), cause, reading), "")
