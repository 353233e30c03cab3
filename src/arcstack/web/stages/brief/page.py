"""Questions about what is not there: one answer settles several fields."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import Build
from arcstack.document.answers import QUESTIONS, Question, answer, answered, question
from arcstack.errors import FieldError
from arcstack.store import Kind, Reason
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import current_hand
from arcstack.web.kit.stage import On

blueprint = Blueprint("brief", __name__, url_prefix="/builds/<int:build_id>", template_folder="templates")


@dataclass(frozen=True)
class Asked:
    """One question as the page shows it, with the answer that stands."""

    question: Question
    answer: str


def content(on: On) -> dict[str, Any]:
    return {"asked": [Asked(q, answered(on.build, q)) for q in QUESTIONS]}


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
