"""An act is done to the head that its page was drawn of, and to no other that bears its number: a page may stay open
while another workshop is restored beneath it."""

from flask import Flask, render_template, request

from arcstack.errors import NotFound
from arcstack.web.kit.session import workshop

HEADER, FIELD = "X-Head", "head"


def head_identity() -> str:
    """Identity of the head whose page is being drawn; empty on a page of no head."""
    build_id = (request.view_args or {}).get("build_id")
    if not isinstance(build_id, int):
        return ""
    try:
        return workshop().row(build_id).identity
    except NotFound:
        return ""


def hold_to_head(app: Flask) -> None:
    """Refuse what a page of one head sends to another. A request that says no head is let through: it is no page's."""

    def look() -> tuple[str, int] | None:
        if request.method != "POST" or "build_id" not in (request.view_args or {}):
            return None
        drawn_of = request.headers.get(HEADER) or request.form.get(FIELD, "")
        if not drawn_of or drawn_of == head_identity():
            return None
        message = (
            "This page was drawn of a head that no longer stands at this address. Nothing was stored. "
            "Look for it in the list of builds."
        )
        template = "parts/told.html" if request.headers.get("HX-Request") else "layout/error.html"
        return render_template(template, title="Another head", message=message), 409

    app.before_request(look)
