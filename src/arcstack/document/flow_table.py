"""A flow table as a builder writes it."""

import re

from arcstack.errors import QuantityError
from arcstack.mech.airflow import FlowTable
from arcstack.units import LENGTH, parse

LONGEST_FLOW_TABLE = 400

_ROW = re.compile(r"^\s*([-+]?[\d.,]+)\s*(mm|in|\"|thou)?[\s,]+([\d.,]+)\s*$")


def read_flow_table(text: str) -> FlowTable:
    """Rows of lift and flow, parted by ``;`` or new lines, as ``2 62; 4 118; 6 151``.

    Bare lifts are mm, or ``in`` where a first row says so; flows are of whatever unit the bench has. Raises
    ``ValueError``, worded for the field.

    >>> read_flow_table("in; 0.1 80; 0.2 140; 0.3 190").lift_mm
    (2.54, 5.08, 7.62)
    """
    unit, rows = "mm", [r.strip() for r in re.split(r"[;\n]", text) if r.strip()]
    if rows and rows[0].lower() in ("mm", "in"):
        unit, rows = rows[0].lower(), rows[1:]
    lifts, flows = [], []
    for number, row in enumerate(rows, 1):
        cells = _ROW.match(row)
        if cells is None:
            raise ValueError(f"“{row[:24]}” is no lift and flow; write 2 62; 4 118; 6 151")
        try:
            lift = parse(f"{cells[1]} {cells[2] or unit}", LENGTH).value
        except QuantityError as error:
            raise ValueError(f"row {number}, “{row[:24]}”: {error}") from error
        if not 0.0 <= lift <= 25.0:
            raise ValueError(f"row {number}, “{row[:24]}”, is no valve's lift")
        lifts.append(round(lift, 9))
        flows.append(float(cells[3].replace(",", ".")))
    return FlowTable(tuple(lifts), tuple(flows))
