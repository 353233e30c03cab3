"""The one error tree.

``ArcStackError``
    ``QuantityError``    text that is no quantity, a wrong dimension, or a magnitude out of range
    ``FieldError``       an edit that a field cannot accept; names the field by its path
    ``CurveConflict``    card figures that no smooth lift curve can meet together
    ``DocumentError``    a build document that cannot be read; names the line or the field
    ``PracticeError``    a practice file that is incomplete or contradicts itself
    ``NotFound``         a build or a revision that does not exist
    ``StoreError``       the workshop's file that cannot be opened, read or written
    ``NameTaken``        a name that another hand gave in the same moment
    ``StaleRevision``    an edit made on a revision that is no longer the newest

Every message is written for the builder: what is wrong, where, and what would be right.
"""


class ArcStackError(Exception):
    """Base of every error the application raises on purpose."""


class QuantityError(ArcStackError):
    """Text that is no quantity, a wrong dimension, or a magnitude out of range."""


class FieldError(ArcStackError):
    """An edit that a field cannot accept.

    ``path`` names the field in the build document, ``message`` says what would be right.
    """

    def __init__(self, path: str, message: str) -> None:
        super().__init__(message)
        self.path = path
        self.message = message


class CurveConflict(ArcStackError):
    """Card figures that no smooth lift curve can meet together; the message names them."""


class DocumentError(ArcStackError):
    """A build document that cannot be read; ``where`` is a line or a field."""

    def __init__(self, message: str, where: str = "") -> None:
        super().__init__(f"{where}: {message}" if where else message)
        self.where = where
        self.message = message


class PracticeError(ArcStackError):
    """A practice file that is incomplete or contradicts itself."""


class NotFound(ArcStackError):
    """A build or a revision that does not exist."""


class StoreError(ArcStackError):
    """The workshop's file that cannot be opened, read or written; the message says what would help."""


class NameTaken(ArcStackError):
    """A name that another hand gave in the same moment."""


class StaleRevision(ArcStackError):
    """An edit made on a revision that is no longer the newest."""

    def __init__(self, base: int, head: int) -> None:
        super().__init__(f"made on revision {base}, but revision {head} has been saved since")
        self.base = base
        self.head = head
