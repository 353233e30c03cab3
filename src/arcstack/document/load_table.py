"""A tester's table of height and load as a builder writes it."""

import re

from arcstack.errors import QuantityError
from arcstack.mech.spring.table import TableSpring
from arcstack.units import FORCE, LENGTH, parse

LONGEST_TABLE = 600

_CELL = re.compile(r"^\s*([-+]?[\d.,]+)\s*([^\s\d,;+-]*)[\s,]+([-+]?[\d.,]+)\s*([^\s\d]*)\s*$")
_UNITS = re.compile(r"^\s*([^\s\d,;]+)[\s,]+([^\s\d,;]+)\s*$")


def read_load_table(text: str) -> TableSpring:
    """Rows of height and load, parted by ``;`` or new lines, as ``36 334; 31 490; 26 662``.

    Bare numbers are mm and N; a first row of two units (``in lbf``) changes that, and any number may carry its own.
    Raises ``ValueError``, worded for the field.

    >>> read_load_table("in lbf; 1.40 75; 1.20 110; 1.00 150").heights_mm
    (25.4, 30.48, 35.56)
    """
    units, points = ("mm", "N"), []
    rows = [r for r in re.split(r"[;\n]", text) if r.strip()]
    for number, row in enumerate(rows):
        header = _UNITS.match(row)
        if number == 0 and header:
            units = (header[1], header[2])
            continue
        cells = _CELL.match(row)
        if cells is None:
            raise ValueError(f"“{row.strip()[:24]}” is no height and load; write 36 334; 31 490; 26 662")
        try:
            height = parse(f"{cells[1]} {cells[2] or units[0]}", LENGTH).value
            load = parse(f"{cells[3]} {cells[4] or units[1]}", FORCE).value
        except QuantityError as error:
            raise ValueError(f"row {number + 1}, “{row.strip()[:24]}”: {error}") from error
        if not (5.0 <= height <= 120.0 and 0.0 <= load <= 6000.0):
            raise ValueError(f"row {number + 1}, “{row.strip()[:24]}”, is no valve spring's height and load")
        points.append((height, load))
    return TableSpring.of(points)
