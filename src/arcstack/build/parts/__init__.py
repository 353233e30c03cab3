"""Each part and reading of a head, defined once: what it holds, in which dimension, within which range."""

from arcstack.build.parts.base import Part
from arcstack.build.parts.brief import Brief, Engine, FollowerKind, Fuel, RodMaterial, Use
from arcstack.build.parts.cam import Cam, CentrelineMeans, Duration, Hand, MeasuredCurve, Place
from arcstack.build.parts.clearance import Clearance
from arcstack.build.parts.spring import Candidate, Damping, Pack, Shape, Spring, SpringPack, TableFrom, Wound
from arcstack.build.parts.stack import (
    Bucket,
    HeightBasis,
    Locator,
    Locks,
    Materials,
    Meets,
    RatioFrom,
    Retainer,
    Shimming,
    Stack,
    Valve,
)

__all__ = [
    "Brief",
    "Bucket",
    "Cam",
    "Candidate",
    "CentrelineMeans",
    "Clearance",
    "Damping",
    "Duration",
    "Engine",
    "FollowerKind",
    "Fuel",
    "Hand",
    "HeightBasis",
    "Locator",
    "Locks",
    "Materials",
    "MeasuredCurve",
    "Meets",
    "Pack",
    "Part",
    "Place",
    "RatioFrom",
    "Retainer",
    "RodMaterial",
    "Shape",
    "Shimming",
    "Spring",
    "SpringPack",
    "Stack",
    "TableFrom",
    "Use",
    "Valve",
    "Wound",
]
