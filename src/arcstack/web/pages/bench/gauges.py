"""Instruments at the bench: named for a sitting, tried on their standard, asked and listened to."""

from dataclasses import replace

from flask import Response, abort, jsonify, request

from arcstack.errors import FieldError, LinkLost, NotFound, QuantityError
from arcstack.readings import Zero
from arcstack.readings.instruments import KINDS
from arcstack.settings import setting
from arcstack.units import parse, show
from arcstack.units.display import plain
from arcstack.web.kit.session import bench, current_system, instruments, remember, workshop
from arcstack.web.pages.bench import tester
from arcstack.web.pages.bench.readings import Said, back_to, page, spot_asked
from arcstack.web.pages.bench.readings import blueprint as blueprint
from arcstack.web.pages.bench.shown import Head, head
from arcstack.web.pages.bench.sitting import hand_with

MOST_CORRECTION = setting("bench.most_correction")


@blueprint.post("/with")
def sit_with(build_id: int, side: str) -> Response | tuple[str, int]:
    """Read with an instrument from now on: one of the workshop's, or a new one by its name and resolution."""
    form = request.form
    kind, name, hand = (
        form.get("kind", ""),
        " ".join(form.get("name", "").split()),
        " ".join(form.get("hand", "").split()),
    )
    if kind not in KINDS:
        abort(400)
    here = head(workshop().open(build_id), side)
    about = KINDS[kind]
    known_ones = {i.name: i for i in instruments().all()}
    try:
        if not hand or len(hand) > 80 or not hand.isprintable() or hand == "workshop":
            raise FieldError("hand", "Whose hand reads? A reading has an instrument and a name.")
        if name in known_ones and known_ones[name].kind != kind:
            raise FieldError("name", f"{name} is a {KINDS[known_ones[name].kind].title.lower()}.")
        if name not in known_ones:
            d = about.dimension
            resolution = parse(form.get("resolution") or plain(about.resolution, d), d, d.unit(current_system())).value
            instruments().put(
                {
                    "name": name,
                    "kind": kind,
                    "resolution": resolution,
                    "standard": about.standard,
                    "unit": d.canonical_word,
                }
            )
    except QuantityError as error:
        return _refused(here, f"Resolution: {error}")
    except FieldError as error:
        return _refused(here, error.message)
    remember("who", hand)
    remember(f"instrument {kind}", name)
    return back_to(build_id, side)


@blueprint.post("/zero")
def zero(build_id: int, side: str) -> Response | tuple[str, int]:
    """Try an instrument on its standard: off by more than twice its resolution it reads nothing until it is set."""
    form, current = request.form, workshop().open(build_id)
    here = head(current, side)
    instrument = instruments().get(form.get("name", ""))
    dimension = instrument.about.dimension
    unit = dimension.unit(current_system())
    try:
        read = parse(form.get("text", ""), dimension, unit).value
        standard = parse(form.get("standard") or plain(instrument.standard, dimension), dimension, unit).value
    except QuantityError as error:
        return _refused(here, f"Zero: {error}")
    by = hand_with(instrument)
    made = Zero(0, instrument.name, read, standard, instrument.resolution, by)
    if form.get("correct") == "1":
        if abs(made.off) > MOST_CORRECTION * instrument.resolution:
            off = show(made.off, dimension, current_system(), 1)
            words = f"{instrument.name} is off by {off}: set it or have it mended. So much is never corrected."
            return _refused(here, words)
        made = replace(made, correction=read - standard)
    bench().zero(build_id, made)
    if not made.good:
        off = show(made.off, dimension, current_system(), 1)
        words = f"{instrument.name} is off by {off}: past twice its resolution. Set it, or have it corrected by name."
        return _refused(head(current, side), words)
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
