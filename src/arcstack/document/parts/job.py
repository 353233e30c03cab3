"""Which head this is, and for whom it is done."""

from typing import Annotated

from arcstack.document.parts.base import Part
from arcstack.document.words import Words, a_day


class Head(Part):
    """What tells this head from another."""

    marks: Annotated[str, Words("Marks", "As stamped or scribed.")] = ""
    casting: Annotated[str, Words("Casting", "Number in the casting.")] = ""
    bank: Annotated[str, Words("Bank", "Which of an engine’s heads this is.")] = ""


class Job(Part):
    """For whom, under which number."""

    customer: Annotated[str, Words("Customer")] = ""
    number: Annotated[str, Words("Job")] = ""
    received: Annotated[str, Words("Received", "The day the head came in.", check=a_day, longest=10, day=True)] = ""
    due: Annotated[str, Words("Due", check=a_day, longest=10, day=True)] = ""
