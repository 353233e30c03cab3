"""Limits as data: one TOML file a school, every limit with its reason."""

from arcstack.practice.loader import BALANCED, practice, practices
from arcstack.practice.model import LimitSpec, Practice, Schools

__all__ = ["BALANCED", "LimitSpec", "Practice", "Schools", "practice", "practices"]
