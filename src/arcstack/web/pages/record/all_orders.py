"""Everything that is on order for any head of the workshop, by supplier."""

from dataclasses import dataclass
from itertools import groupby

from flask import Blueprint, render_template

from arcstack.assess.built import today
from arcstack.record.orders import Line
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, workshop

blueprint = Blueprint("all_orders", __name__, url_prefix="/orders")


@dataclass(frozen=True)
class Row:
    """One open line, the head it is for, and where it is kept."""

    line: Line
    head: str
    link: str
    late: int


@blueprint.get("")
def index() -> str:
    """Open lines of every head that is not put away, the latest first within a supplier."""
    rows = []
    for build_id, own in bench().orders().items():
        here = workshop().row(build_id)
        if here.shelf.value != "open":
            continue
        link = links.at("orders.index", build_id, "intake")
        rows += [Row(x, here.name, link, x.late(today())) for x in own if x.open]
    rows.sort(key=lambda r: (r.line.order.supplier.casefold(), r.line.order.due or "9999", r.head))
    by_supplier = [(s, list(own)) for s, own in groupby(rows, key=lambda r: r.line.order.supplier)]
    return render_template("record/all_orders.html", suppliers=by_supplier, count=len(rows))
