"""Readings as a table: out as CSV, and in, shown line by line before any is taken."""

from dataclasses import replace

from flask import Blueprint, Response, redirect, render_template, request

from arcstack.errors import DocumentError, Doubtful, FieldError
from arcstack.formats.readings_csv import Understood, read_readings, write_readings
from arcstack.formats.text_table import shown
from arcstack.readings import ASKED
from arcstack.readings.instruments import KINDS
from arcstack.readings.taking import How
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, instruments, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import good_for, hand_with, stage_now, stages_of

blueprint = Blueprint("bench_table", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/table")


def _counted(here: Head, rows: list[Understood], named: str) -> tuple[int, str]:
    """How many lines would count as measured, and in words why the others would not."""
    others = [r for r in rows if good_for(here, r.key, r.instrument or named) is None]
    if not others:
        return len(rows), ""
    kinds = dict.fromkeys(KINDS[ASKED[r.key].instrument].title.lower() for r in others)
    return len(rows) - len(
        others
    ), f"The others name no {' or '.join(kinds)} of this workshop that was on its zero today."


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "", rows: list[Understood] | None = None, text: str = "") -> str:
    """The form, or what was understood of a table."""
    here = head(workshop().open(build_id), side)
    good = [r for r in rows or () if not r.wrong]
    named = " ".join(request.form.get("instrument", "").split())[:80]
    measured, why = _counted(here, good, named)
    return render_template(
        "bench/table.html",
        **around_bench(here, "table", "Table"),
        wrong=wrong,
        rows=rows,
        good=len(good),
        text=text,
        phases=stages_of(here.sheet),
        phase=stage_now(here.sheet),
        count=len(here.sheet.standing),
        hand=current_who().name,
        instrument=named,
        measured=measured,
        why=why,
        names=[i.name for i in instruments().all()],
    )


@blueprint.get("/readings.csv")
def export(build_id: int, side: str) -> Response:
    """Every reading of the head."""
    here = head(workshop().open(build_id), side)
    made = Response(write_readings(here.sheet), mimetype="text/csv")
    made.headers["Content-Disposition"] = 'attachment; filename="readings.csv"'
    return made


@blueprint.post("")
def take(build_id: int, side: str) -> str | tuple[str, int] | Response:
    """Show what a table says; taken with ``take``, all of it that is right or nothing."""
    current, form = workshop().open(build_id), request.form
    upload = request.files.get("file")
    data: bytes | str = upload.stream.read() if upload and upload.filename else form.get("text", "")
    here = head(current, side)
    text = shown(data)
    try:
        rows = read_readings(data, here.sheet, current_system())
    except DocumentError as error:
        return index(build_id, side, wrong=f"{str(error)[0].upper()}{str(error)[1:]}.", text=text), 422
    if form.get("take") != "1":
        return index(build_id, side, rows=rows, text=text)
    if any(r.wrong for r in rows):
        return index(build_id, side, wrong="A line of it is wrong: nothing was taken.", rows=rows, text=text), 422
    now = stage_now(here.sheet)
    how = How(
        current_hand(),
        now.phase,
        now.service,
        system=current_system(),
        sure=form.get("sure") == "1",
        note="from a table",
        side=side,
    )
    named = " ".join(form.get("instrument", "").split())[:80]
    withs = [(r, replace(how, by=hand_with(good_for(here, r.key, r.instrument or named)))) for r in rows]
    try:
        bench().take_all(build_id, current.build, [(r.key, r.place, r.item, r.text, how) for r, how in withs])
    except Doubtful as question:
        return index(
            build_id,
            side,
            wrong=f"{question} Nothing was taken yet: tick that they are meant so.",
            rows=rows,
            text=text,
        ), 422
    except FieldError as error:
        return index(build_id, side, wrong=f"{error.message} Nothing was taken.", rows=rows, text=text), 422
    return redirect(links.at("bench.index", build_id, side))  # type: ignore[return-value]
