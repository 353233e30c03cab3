"""What a browser remembers: unit system and the hand at work."""

from datetime import UTC, datetime
from typing import cast

from flask import current_app, session

from arcstack.assess import Assessment, assess
from arcstack.build import Build
from arcstack.services import Sweeps, Who, Workshop
from arcstack.units import System


def current_system() -> System:
    return System.INCH if session.get("system") == System.INCH else System.MM


def current_who() -> Who:
    return Who(str(session.get("who") or "workshop"), lambda: datetime.now(UTC).replace(tzinfo=None))


def sweeps() -> Sweeps:
    return cast(Sweeps, current_app.extensions["sweeps"])


def assessed(build: Build) -> Assessment:
    """Every verdict, the elastic train's where its sweep is known."""
    return assess(build, sweeps().known)


def workshop() -> Workshop:
    return cast(Workshop, current_app.extensions["workshop"])


def remember(key: str, value: str) -> None:
    session[key] = value
    session.permanent = True
