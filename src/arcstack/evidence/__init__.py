"""What a record may say: what was measured of a figure, what is owed of it, and what a name may let pass."""

from arcstack.evidence import passing
from arcstack.evidence.coverage import Coverage, Leaf, coverage

__all__ = ["Coverage", "Leaf", "coverage", "passing"]
