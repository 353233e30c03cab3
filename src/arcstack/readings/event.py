"""Everything that happens to a head beside its readings."""

from arcstack.readings.assembling import ReadAgain, SetUp, Stepped, Tooled
from arcstack.readings.brought import Brought, BroughtAct
from arcstack.readings.lash_history import Bled, Caused, Served
from arcstack.readings.mock_up import MockEvent
from arcstack.readings.pictured import Marked, Pictured, PictureOff
from arcstack.readings.reading import OwnEvent
from arcstack.readings.recorded import Recorded
from arcstack.readings.returning import Disposed, Found, FoundNot, Named, Received, Remedy
from arcstack.readings.sent_on import SentOn

Returned = Received | Found | FoundNot | Named | Remedy | Disposed | SentOn | Pictured | Marked | PictureOff
Event = (
    Brought
    | BroughtAct
    | OwnEvent
    | MockEvent
    | Caused
    | Served
    | Bled
    | Stepped
    | Tooled
    | SetUp
    | ReadAgain
    | Returned
    | Recorded
)
