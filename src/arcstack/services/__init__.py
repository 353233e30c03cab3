"""Use cases: they take who, when and a database as arguments, and know no page."""

from arcstack.services.difference import Change, differences
from arcstack.services.workshop import Current, Who, Workshop

__all__ = ["Change", "Current", "Who", "Workshop", "differences"]
