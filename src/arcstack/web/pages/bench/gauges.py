"""Instruments at the bench: named for a sitting, tried on their standard, asked and listened to."""

from flask import Response, abort, jsonify, request

from arcstack.application.acts import instruments as acts
from arcstack.errors import FieldError, LinkLost, NotFound
from arcstack.readings.instruments import KINDS
from arcstack.units.display import plain
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import instruments, remember, workshop
from arcstack.web.pages.bench import tester
from arcstack.web.pages.bench.readings import Said, back_to, page, spot_asked
from arcstack.web.pages.bench.readings import blueprint as blueprint
from arcstack.web.pages.bench.shown import Head, head
from arcstack.web.pages.bench.sitting import hand_with


@blueprint.post("/with")
def sit_with(build_id: int, side: str) -> Response | tuple[str, int]:
    """Read with an instrument from now on: one of the workshop's, or a new one by its name and resolution."""
    form, here = sent(), head(workshop().open(build_id), side)
    kind, name, hand = form.text("kind"), " ".join(form.text("name").split()), " ".join(form.text("hand").split())
    if kind not in KINDS:
        abort(400)
    try:
        resolution = form.figure_or_none("resolution", "Resolution", KINDS[kind].dimension)
        acts.sit_with(instruments(), hand, kind=kind, name=name, resolution=resolution)
    except FieldError as error:
        return _refused(here, error.message)
    remember("who", hand)
    remember(f"instrument {kind}", name)
    return back_to(build_id, side)


@blueprint.post("/zero")
def zero(build_id: int, side: str) -> Response | tuple[str, int]:
    """Try an instrument on its standard: off by more than twice its resolution it reads nothing until it is set."""
    form, current = sent(), workshop().open(build_id)
    here, instrument = head(current, side), instruments().get(form.text("name"))
    dimension = instrument.about.dimension
    try:
        acts.try_zero(
            here, hand_with(instrument), instrument,
            read=form.figure("text", "Zero", dimension),
            standard=form.figure("standard", "Zero", dimension, plain(instrument.standard, dimension)),
            correct=form.ticked("correct"),
            system=form.system,
        )  # fmt: skip
    except FieldError as error:
        return _refused(head(current, side), error.message)
    return back_to(build_id, side)


def _refused(here: Head, words: str) -> tuple[str, int]:
    """Said on the page from which it was asked, with what was typed."""
    if request.form.get("to") == "tester":
        return tester.page(here.current.id, here.side, wrong=words, keep=True), 422
    return page(here, spot_asked(here), Said(wrong=words), request.form.get("text", "")), 422


@blueprint.post("/ask")
def ask(build_id: int, side: str) -> tuple[Response, int] | Response:
    """Ask the instrument of a figure for a reading."""
    name = request.form.get("name", "")
    try:
        number = instruments().ask(name, request.form.get("place", "")[:20], request.form.get("key", "")[:40])
    except (LinkLost, NotFound) as trouble:
        return jsonify(trouble=str(trouble)), 200
    return jsonify(after=number)


@blueprint.get("/heard")
def heard(build_id: int, side: str) -> Response:
    """The first line of an instrument after a number: its reading, or why there is none."""
    name, after = request.args.get("name", ""), request.args.get("after", "")
    try:
        if not after.isdigit():
            return jsonify(after=instruments().link(name).last)
        found = instruments().after(name, int(after))
    except (LinkLost, NotFound) as trouble:
        return jsonify(trouble=str(trouble))
    if found is None:
        return jsonify(after=int(after))
    meant = f"{request.args.get('place', '')[:20]}|{request.args.get('key', '')[:40]}"
    if found.text and found.asked and found.asked != meant:
        where = found.asked.partition("|")[0] or "another figure"
        late = f"{name} answered late, for {where}: {found.text}. It was taken nowhere; read it there again."
        return jsonify(after=found.number, text="", trouble=late)
    return jsonify(after=found.number, text=found.text, trouble=found.trouble)
