"""Open formats in and out."""

from arcstack.formats.build_json import LARGEST, read_build, schema, write_build
from arcstack.formats.curve_csv import write_curve
from arcstack.formats.curve_table import (
    AngleUnit,
    Choices,
    Direction,
    Finding,
    LiftUnit,
    Reading,
    read_table,
)
from arcstack.formats.verdict_json import verdicts

__all__ = [
    "LARGEST",
    "AngleUnit",
    "Choices",
    "Direction",
    "Finding",
    "LiftUnit",
    "Reading",
    "read_build",
    "read_table",
    "schema",
    "verdicts",
    "write_build",
    "write_curve",
]
