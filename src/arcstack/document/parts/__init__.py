"""Each part and reading of a head, defined once: what it holds, in which dimension, within which range."""

from arcstack.document.parts.base import Listed, Part, trimmed
from arcstack.document.parts.brief import Brief, Engine, FollowerKind, Fuel, RodMaterial, Use
from arcstack.document.parts.cam import Cam, CentrelineMeans, Duration, Hand, MeasuredCurve, Place
from arcstack.document.parts.clearance import Clearance
from arcstack.document.parts.follower import (
    AnyFollower,
    Bucket,
    Finger,
    Follower,
    Lever,
    Materials,
    Meets,
    RatioFrom,
    Rocker,
    Shimming,
)
from arcstack.document.parts.job import Head, Job
from arcstack.document.parts.spring import Candidate, Damping, Pack, Shape, Spring, SpringPack, TableFrom, Wound
from arcstack.document.parts.stack import HeightBasis, Locator, Locks, Retainer, Stack, Valve

__all__ = [
    "AnyFollower",
    "Brief",
    "Bucket",
    "Cam",
    "Candidate",
    "CentrelineMeans",
    "Clearance",
    "Damping",
    "Duration",
    "Engine",
    "Finger",
    "Follower",
    "FollowerKind",
    "Fuel",
    "Hand",
    "Head",
    "HeightBasis",
    "Job",
    "Lever",
    "Listed",
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
    "Rocker",
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
    "trimmed",
]
