"""A change that a form asks for: made on the revision it was asked on, accepted whole or told to be too late."""

from collections.abc import Callable

from flask import request

from arcstack.application import Current
from arcstack.document import Build
from arcstack.store import Reason
from arcstack.web.kit import asked
from arcstack.web.kit.session import current_who, workshop


def accept(build_id: int, make: Callable[[Build], tuple[Build, Reason]], beside: bool = False) -> Current:
    """Accept what ``make`` makes of the revision that the form stands on, and why.

    One that may stand ``beside`` others is taken also where another hand changed other fields meanwhile. 400 for a form
    without one. Raises ``StaleRevision``, which the application tells, and whatever ``make`` raises.
    """
    return workshop().edit(build_id, asked.base(request.form), make, current_who(), beside)
