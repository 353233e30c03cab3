"""What a browser remembers: unit system and the hand at work."""

from datetime import UTC, datetime
from typing import cast

from flask import current_app, session

from arcstack.services import Who, Workshop
from arcstack.units import System


def current_system() -> System:
    return System.INCH if session.get("system") == System.INCH else System.MM


def current_who() -> Who:
    return Who(str(session.get("who") or "workshop"), lambda: datetime.now(UTC).replace(tzinfo=None))


def workshop() -> Workshop:
    return cast(Workshop, current_app.extensions["workshop"])


def remember(key: str, value: str) -> None:
    session[key] = value
    session.permanent = True
