"""Backups: when the last good one was, what is kept, one more now, and the whole workshop to take along."""

from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from flask import (
    Blueprint,
    Response,
    after_this_request,
    redirect,
    render_template,
    request,
    send_file,
    url_for,
)
from werkzeug.wrappers import Response as Answer

from arcstack.application.backups import EVERY, Backups, sealed_along
from arcstack.application.backups.keeping import KEEP_DAYS, KEEP_MONTHS, KEEP_WEEKS
from arcstack.application.backups.second import KEEPS
from arcstack.application.open_files import export
from arcstack.application.people import LEAST
from arcstack.web.kit.session import current_who, picture_store, shop, workshop

blueprint = Blueprint("backups", __name__, url_prefix="/backups")


def backups() -> Backups:
    return shop().backups


@blueprint.get("")
def index(wrong: str = "") -> str:
    """Every backup, and how the last good one stands."""
    found, last = backups().all(), backups().last_good()
    now = datetime.now(UTC)
    return render_template(
        "backups/index.html", found=found, last=last, hours=(now - last.at).total_seconds() / 3600.0 if last else None,
        late=last is None or now - last.at > 2 * EVERY, work=backups().work, place=backups().place,
        every=EVERY.total_seconds() / 3600.0, trouble=backups().trouble(), second=backups().second.named(),
        there=backups().second.files(), days=KEEP_DAYS, weeks=KEEP_WEEKS, months=KEEP_MONTHS, most=KEEPS, wrong=wrong,
    )  # fmt: skip


@blueprint.post("")
def take() -> Answer:
    """Take one now; it goes on while other pages are looked at."""
    backups().start(f"by {current_who().name}")
    return redirect(url_for("backups.index"))


@blueprint.post("/<any(whole, open):form>")
def along(form: str) -> Response | tuple[str, int]:
    """The whole workshop as one file: to restore elsewhere, sealed where a passphrase is given, or as open files."""
    passphrase, again = request.form.get("passphrase", ""), request.form.get("again", "")
    if form == "whole" and (passphrase or again) and (wrong := _wrong(passphrase, again)):
        return index(wrong), 422
    folder = TemporaryDirectory(prefix="arc-stack-")
    stamp = datetime.now(UTC).strftime("%Y-%m-%d")
    name = f"arc-stack-{stamp}{'-open' if form == 'open' else ''}.zip"
    target = Path(folder.name) / name

    @after_this_request
    def sent(response: Response) -> Response:
        response.call_on_close(folder.cleanup)
        return response

    if form == "open":
        export(workshop().database, picture_store().folder, target, datetime.now(UTC))
    else:
        backups().portable(target)
        if passphrase:
            target = sealed_along(target, passphrase)
    return send_file(target, mimetype="application/zip", as_attachment=True, download_name=target.name)


def _wrong(passphrase: str, again: str) -> str:
    if passphrase != again:
        return "The two passphrases differ. Nothing was sent: what a mistyped one seals, nobody opens."
    if len(passphrase) < LEAST:
        return f"A passphrase has at least {LEAST} characters: whoever finds the file may try as often as they like."
    return ""
