"""Limits as data: one TOML file a school, every limit with its reason."""

from arcstack.practice.loader import BALANCED, practice, practices
from arcstack.practice.model import LimitSpec, Practice, Schools
from arcstack.practice.own import OwnLimit, OwnPractice, OwnSchool, read_own, write_own

__all__ = [
    "BALANCED",
    "LimitSpec",
    "OwnLimit",
    "OwnPractice",
    "OwnSchool",
    "Practice",
    "Schools",
    "practice",
    "practices",
    "read_own",
    "write_own",
]
