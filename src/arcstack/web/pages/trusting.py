"""How a tablet comes to trust this machine: the shop's own authority, and what to do with it."""

from flask import Blueprint, Response, abort, current_app, render_template

from arcstack.application.certificates import authority

blueprint = Blueprint("trusting", __name__, url_prefix="/trust")


@blueprint.get("")
def index() -> str:
    """What to do on this tablet, and by what the authority is known."""
    found = authority(current_app.config["DATA"])
    return render_template("people/trust.html", mark_=found[1] if found else "")


@blueprint.get("/authority.crt")
def file() -> Response:
    """The authority itself: public, as it is meant to be."""
    found = authority(current_app.config["DATA"])
    if found is None:
        abort(404)
    headers = {"Content-Disposition": "attachment; filename=arc-stack-authority.crt"}
    return Response(found[0], mimetype="application/x-x509-ca-cert", headers=headers)
