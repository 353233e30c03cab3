from enum import StrEnum


class Evidence(StrEnum):
    """Where a figure comes from, strongest first."""

    MEASURED = "measured"
    PRINTED = "printed"
    CALCULATED = "calculated"
    ASSUMED = "assumed"

    @property
    def weakness(self) -> int:
        """0 for measured up to 3 for assumed."""
        return _WEAKNESS[self]


_WEAKNESS = {one: n for n, one in enumerate(Evidence)}
