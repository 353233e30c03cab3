"""What is asked of the shelf."""

from dataclasses import dataclass
from enum import StrEnum

from arcstack.shelf import PartKind


class Want(StrEnum):
    """What is wanted most of the combinations that would do."""

    SPEED = "highest speed"
    RESERVE = "most reserve"
    FRICTION = "least friction"
    PRICE = "lowest price"
    ON_HAND = "parts on hand"


@dataclass(frozen=True)
class Ask:
    """Which kinds may change, what is wanted most, first things first, and what lies under a spring at most.

    With ``weights`` the wants are weighed against each other, each over its own range among what would do; without
    them the second counts only where the first is equal. ``keeps_fitted`` lets what is fitted now count as a part.
    ``holds_target`` asks for the build's target height; without it a spring stands where parts and shims put it, and
    that is then its target.
    """

    vary: tuple[PartKind, ...]
    want: tuple[Want, ...] = (Want.SPEED,)
    weights: tuple[float, ...] = ()
    on_hand_only: bool = False
    keeps_fitted: bool = False
    holds_target: bool = True
    most_shims: int = 2
    total_shims_mm: float = 2.0

    def __post_init__(self) -> None:
        if not self.want:
            raise ValueError("something must be wanted")
        if self.weights and (len(self.weights) != len(self.want) or min(self.weights) < 0 or not sum(self.weights)):
            raise ValueError("each want has a weight, none below nought and one above it")
