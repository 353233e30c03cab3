"""The sheets there are."""

from collections.abc import Callable
from dataclasses import dataclass

from arcstack.formats.sheets import Printed
from arcstack.sheets.bench import bench_sheet
from arcstack.sheets.lists import assembly_sheet, order_sheet, springs_sheet, timing_sheet
from arcstack.sheets.report import customer_report
from arcstack.sheets.saying import Printing, Say
from arcstack.sheets.whole import build_sheet
from arcstack.units import System


@dataclass(frozen=True)
class Kind:
    """One kind of sheet: its address, its title, what it is for, how it is made, whether of every valve, and whether it
    says what the elastic train decides."""

    key: str
    title: str
    about: str
    make: Callable[[Printing], Printed]
    built: bool = False
    judged: bool = False


KINDS = {
    k.key: k
    for k in (
        Kind(
            "report",
            "Report",
            "For the customer, in plain words: asked, found, done, not checked.",
            customer_report,
            True,
            judged=True,
        ),
        Kind(
            "build",
            "Build sheet",
            "Everything entered, every verdict with its evidence, the section drawn.",
            build_sheet,
            judged=True,
        ),
        Kind("bench", "Bench sheet", "One row for every valve, as it was measured.", bench_sheet, True),
        Kind("springs", "Springs wanted", "For whoever makes or sells them.", springs_sheet),
        Kind("orders", "Order list", "Every line, and what it is measured against when it comes.", order_sheet),
        Kind("assembly", "Assembly list", "Steps and counts to tick by hand.", assembly_sheet),
        Kind("timing", "Timing sheet", "What the cams are timed to, and what was read.", timing_sheet),
    )
}

UNITS = {"mm": Say(System.MM), "in": Say(System.INCH), "both": Say(System.MM, True)}
