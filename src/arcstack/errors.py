"""The whole error tree.

``ArcStackError``
    ``QuantityError``    text that is no quantity, a wrong dimension, or a magnitude out of range
        ``UnitDoubt``        a bare number that would be usual only in the other unit
    ``FieldError``       an edit that a field cannot accept; names the field by its path
        ``Frozen``           a change to a head that is signed off
    ``NotKnown``         a figure that cannot be told yet
        ``MissingInput``     inputs are still empty
        ``NotFitted``        it is of a part that this side does not have
        ``Waiting``          long work behind it has not ended
        ``OutOfReason``      the arithmetic ends nowhere with such figures
        ``CurveConflict``    card figures that no smooth lift curve can meet together
    ``DocumentError``    a build document that cannot be read; names the line or the field
    ``PracticeError``    a practice file that is incomplete or contradicts itself
    ``NotFound``         a build or a revision that does not exist
    ``StoreError``       the workshop's file that cannot be opened, read or written
    ``TooOften``         tries to sign in that come too often
    ``NameTaken``        a name that another hand gave in the same moment
    ``StaleRevision``    an edit made on a revision that is no longer the newest
    ``Stopped``          long work that was told to stop
    ``Doubtful``         a reading that asks for a second look before it is taken
    ``LinkLost``         an instrument that does not answer, or says what no reading is

Every message is written for the builder: what is wrong, where, and what would be right.
"""

from dataclasses import dataclass


class ArcStackError(Exception):
    """Base of every error the application raises on purpose."""


class QuantityError(ArcStackError):
    """Text that is no quantity, a wrong dimension, or a magnitude out of range."""


class UnitDoubt(QuantityError):
    """A bare number that would be usual only in the other unit; ``readings`` are both, with their units."""

    def __init__(self, message: str, readings: tuple[str, ...]) -> None:
        super().__init__(message)
        self.readings = readings


class FieldError(ArcStackError):
    """An edit that a field cannot accept.

    ``path`` names the field in the build document, ``message`` says what would be right; ``readings`` are texts that
    one of may have been meant.
    """

    def __init__(self, path: str, message: str, readings: tuple[str, ...] = ()) -> None:
        super().__init__(message)
        self.path = path
        self.message = message
        self.readings = readings


class Frozen(FieldError):
    """A change to a head whose newest revision is signed off: it is opened again for a reason first."""

    def __init__(self, name: str, revision: int) -> None:
        super().__init__(
            "release",
            f"Revision {revision} of {name} is signed off and stays as it is. Open the next one first, under Sign-off.",
        )


@dataclass(frozen=True)
class Missing:
    """An input that a figure still needs: the field's path and its label."""

    path: str
    label: str


class NotKnown(ArcStackError):
    """A figure that cannot be told: ``missing`` are the inputs it needs, ``why`` the rest of it in words.

    Raised while figures are worked out; a page asks for it as a value.
    """

    def __init__(self, *missing: Missing, why: str = "") -> None:
        super().__init__(why)
        self.missing = missing
        self.why = why


class MissingInput(NotKnown):
    """Inputs are still empty."""


class NotFitted(NotKnown):
    """A figure of a part that this side does not have."""

    def __init__(self, why: str) -> None:
        super().__init__(why=why)


class Waiting(NotKnown):
    """Long work behind the figure has not ended; ``why`` may say what a first look gave."""

    def __init__(self, first: str = "") -> None:
        super().__init__(why=first or "Elastic train not worked out yet")


class OutOfReason(NotKnown):
    """The figures at hand are such that the arithmetic ends nowhere."""

    def __init__(self, error: Exception) -> None:
        reason = str(error) or type(error).__name__
        super().__init__(why=f"Could not be worked out, its figures are out of reason: {reason}")


class CurveConflict(NotKnown):
    """Card figures that no smooth lift curve can meet together; the message names them."""

    def __init__(self, why: str) -> None:
        super().__init__(why=why)


class Stopped(ArcStackError):
    """Long work that was told to stop."""


class BrokeOff(ArcStackError):
    """Long work that ended in a way which nobody foresaw; the log has all of it."""

    def __init__(self, error: Exception) -> None:
        super().__init__(f"It broke off: {type(error).__name__}. Try again; the log says where.")


class Doubtful(ArcStackError):
    """A reading that asks for a second look: ``message`` says why; taken again on purpose it is taken."""


class LinkLost(ArcStackError):
    """An instrument that does not answer, went away, or sent what no reading is."""


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


class TooOften(ArcStackError):
    """Tries to sign in that come too often: wait ``seconds``."""

    def __init__(self, seconds: int) -> None:
        super().__init__(f"Too many tries. Wait {seconds // 60} minutes, and try again.")
        self.seconds = seconds


class StaleRevision(ArcStackError):
    """An edit made on a revision that is no longer the newest."""

    def __init__(self, base: int, newest: int) -> None:
        super().__init__(f"made on revision {base}, but revision {newest} has been saved since")
        self.base = base
        self.newest = newest


class TooMany(ArcStackError):
    """A search that would take too long: ``size`` combinations, where ``most`` are the most."""

    def __init__(self, size: int, most: int) -> None:
        super().__init__(f"{size:,} combinations are more than the {most:,} that are searched at once")
        self.size = size
        self.most = most


class NothingThere(ArcStackError):
    """A search over kinds of which no part can stand in the head: ``kinds`` names them."""

    def __init__(self, *kinds: str) -> None:
        super().__init__(f"No {' and no '.join(kinds)} on the shelf can stand in this head")
        self.kinds = kinds
