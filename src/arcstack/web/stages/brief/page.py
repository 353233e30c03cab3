"""Questions about what is not there: one answer settles several fields."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import Build
from arcstack.document.answers import QUESTIONS, Question, answer, answered, question
from arcstack.errors import FieldError, NotKnown
from arcstack.store import Kind, Reason
from arcstack.trials import room as trial
from arcstack.trials.room import BY_KEY, QUANTITIES
from arcstack.units import show
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_hand, current_system, workshop
from arcstack.web.kit.stage import On

blueprint = Blueprint("brief", __name__, url_prefix="/builds/<int:build_id>", template_folder="templates")


@dataclass(frozen=True)
class Asked:
    """One question as the page shows it, with the answer that stands."""

    question: Question
    answer: str


def content(on: On) -> dict[str, Any]:
    return {"asked": [Asked(q, answered(on.build, q)) for q in QUESTIONS], "quantities": QUANTITIES}


@blueprint.get("/room/<key>")
def room(build_id: int, key: str) -> str:
    """How far one figure could go, as a row; asked for once the page is seen."""
    quantity = BY_KEY.get(key)
    if quantity is None:
        abort(404)
    now, system = assessed(workshop().open(build_id)), current_system()
    try:
        found = trial.room(now, key)
    except NotKnown as told:
        return render_template("brief/_room.html", quantity=quantity, told=told.why or "not known yet", found=None)

    def share(value: float) -> float:
        return round(100.0 * (value - found.now) / ((found.tried_to - found.now) or 1.0), 1)

    return render_template(
        "brief/_room.html",
        quantity=quantity,
        found=found,
        now=str(show(found.now, quantity.dimension, system)),
        said=trial.words(found, system),
        free=share(found.first.value) if found.first else 100.0,
        more=share(found.next.value) if found.next else 100.0,
        told="",
    )


@blueprint.post("/answer", endpoint="answer")
def say(build_id: int) -> Response | tuple[str, int]:
    """Take one answer into every field it speaks of."""
    key, said = request.form.get("question", ""), request.form.get("answer", "")

    def settled(build: Build) -> tuple[Build, Reason]:
        return answer(build, question(key), said, current_hand()), Reason(Kind.ANSWER, key, after=said)

    try:
        accept(build_id, settled)
    except FieldError as error:
        return render_template("layout/error.html", title="Not taken", message=error.message), 422
    return redirect(links.stage(build_id, "brief", "intake") + "#there")
