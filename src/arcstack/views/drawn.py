"""A part of a page that cannot be drawn leaves the rest of it whole."""

import logging
from collections.abc import Callable
from typing import TypeVar

from arcstack.assess.context import TROUBLE
from arcstack.errors import NotKnown

T = TypeVar("T")

_log = logging.getLogger("arcstack.web")


def drawn(work: Callable[[], T]) -> T | None:
    """``work()``; None where an input is missing, the card conflicts, or its figures are out of all reason."""
    try:
        return work()
    except NotKnown:
        return None
    except TROUBLE as error:
        _log.warning("a part of a page could not be drawn: %s", error, exc_info=True)
        return None
