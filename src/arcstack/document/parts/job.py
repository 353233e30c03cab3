"""Which head this is, and for whom it is done."""

from typing import Annotated

from arcstack.document.firing import read_cylinders
from arcstack.document.parts.base import Part
from arcstack.document.words import Words, a_day


class Head(Part):
    """What tells this head from another."""

    number: Annotated[str, Words("Head number", "The shop’s own, which no other head ever has.")] = ""
    stamped: Annotated[str, Words("Stamped where", "Where the number stands on the head.")] = ""
    marks: Annotated[str, Words("Marks", "As stamped or scribed.")] = ""
    casting: Annotated[str, Words("Casting", "Number in the casting.")] = ""
    date_code: Annotated[str, Words("Date code", "As it is cast or stamped.")] = ""
    bank: Annotated[str, Words("Bank", "Which of an engine’s heads this is.")] = ""
    cylinders: Annotated[
        str, Words("Cylinders of this bank", "By the engine’s own numbers, as 1-3-5.", read_cylinders, longest=40)
    ] = ""
    owner: Annotated[str, Words("Owner", "Whose head it is, where that is not the customer.")] = ""


class Job(Part):
    """For whom, under which number."""

    customer: Annotated[str, Words("Customer")] = ""
    number: Annotated[str, Words("Job")] = ""
    received: Annotated[str, Words("Received", "The day the head came in.", check=a_day, longest=10, day=True)] = ""
    due: Annotated[str, Words("Due", check=a_day, longest=10, day=True)] = ""
