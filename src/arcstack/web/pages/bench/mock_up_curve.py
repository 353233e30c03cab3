"""A lift curve that was taken by dial at the valve, made the side's measured table."""

from flask import redirect
from werkzeug.wrappers import Response

from arcstack.application.acts.lift_curve import make_table, table_of
from arcstack.errors import FieldError
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import current_hand, workshop
from arcstack.web.pages.bench.mock_up import blueprint as blueprint
from arcstack.web.pages.bench.mock_up import page
from arcstack.web.pages.bench.shown import head


@blueprint.post("/curve")
def take_curve(build_id: int, side: str) -> Response | tuple[str, int]:
    """Make what was taken the side's measured table, with the lash it was read with."""
    here, by = head(workshop().open(build_id), side), current_hand()
    try:
        curve, lash = table_of(here.sheet.mock_up(side))
    except FieldError as error:
        return page(build_id, side, error.message, "lift"), 422
    accept(build_id, lambda build: make_table(build, by, side, curve, lash))
    return redirect(links.stage(build_id, "cam", side))
