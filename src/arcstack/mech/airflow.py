"""Where a valve's opening stops helping: curtain round its head, throat under it, and flow over lift. mm, mm²."""

import math
from dataclasses import dataclass

import numpy as np

from arcstack.mech.cam.law import Array
from arcstack.mech.number import Number


def curtain_mm2(head_mm: Number, lift_mm: Number) -> Number:
    """Area of the cylinder between head and seat: π·d_v·L.

    Source: geometry.

    >>> round(curtain_mm2(33.5, 6.0), 1)
    631.5
    """
    return math.pi * head_mm * lift_mm


def throat_mm2(throat_mm: Number, stem_mm: Number) -> Number:
    """Open area of the throat, the stem taken out: π/4·(d_t² − d_s²).

    Source: geometry.

    >>> round(throat_mm2(29.2, 5.97), 1)
    641.7
    """
    return math.pi / 4.0 * (throat_mm**2 - stem_mm**2)


def useful_lift_mm(head_mm: Number, throat_mm: Number, stem_mm: Number) -> Number:
    """Lift at which the curtain equals the open throat: L = (d_t² − d_s²)/(4·d_v). Past it lift opens little.

    Source: the two areas set equal.

    >>> round(useful_lift_mm(33.5, 29.2, 5.97), 4)
    6.097
    """
    return (throat_mm**2 - stem_mm**2) / (4.0 * head_mm)


def at_depression(flow: Number, taken_at: float, wanted_at: float) -> Number:
    """A flow brought to another depression: by the square root of their ratio.

    Source: incompressible orifice flow.

    >>> at_depression(100.0, 10.0, 40.0)
    200.0
    """
    return flow * math.sqrt(wanted_at / taken_at)


@dataclass(frozen=True)
class FlowTable:
    """Flow (any unit) over lift (mm, rising), as a bench gave it."""

    lift_mm: tuple[float, ...]
    flow: tuple[float, ...]

    def __post_init__(self) -> None:
        if len(self.lift_mm) < 3 or len(self.lift_mm) != len(self.flow):
            raise ValueError("a flow table needs three rows at least")
        if any(b <= a for a, b in zip(self.lift_mm, self.lift_mm[1:], strict=False)):
            raise ValueError("the lifts of a flow table must rise, each once")
        if min(self.lift_mm) < 0 or min(self.flow) < 0:
            raise ValueError("lift and flow are not below nought")

    def at(self, lift_mm: Array | float) -> Array:
        """Flow at a lift, straight between rows, nothing at no lift; past the table it stays as at its end.

        >>> float(FlowTable((2.0, 4.0, 6.0), (50.0, 90.0, 110.0)).at(3.0))
        70.0
        """
        lifts, flows = self.lift_mm, self.flow
        if lifts[0] > 0.0:
            lifts, flows = (0.0, *lifts), (0.0, *flows)
        found: Array = np.interp(np.maximum(lift_mm, 0.0), lifts, flows)
        return found

    def flattens_mm(self, share: float = 0.35) -> float | None:
        """Lift from which flow grows by less than ``share`` of its steepest slope to the table's end, or falls.

        None where it still grows. Source: definition.

        >>> FlowTable((2.0, 4.0, 6.0, 8.0), (50.0, 90.0, 100.0, 104.0)).flattens_mm()
        4.0
        """
        slopes = np.diff(self.flow) / np.diff(self.lift_mm)
        flat = slopes < share * slopes.max()
        last = len(flat)
        while last and flat[last - 1]:
            last -= 1
        return self.lift_mm[last] if last < len(flat) else None


def mean_flow(table: FlowTable, net_lift_mm: Array, angle_rad: Array) -> float:
    """Flow averaged over the event, weighted by the time that the valve spends at each lift.

    Source: mean over the cam angles at which net lift is above nought.

    >>> angle = np.linspace(-1.0, 1.0, 201)
    >>> round(mean_flow(FlowTable((2.0, 4.0, 6.0), (50.0, 90.0, 110.0)), np.full(201, 4.0), angle), 6)
    90.0
    """
    is_open = net_lift_mm > 0.0
    if is_open.sum() < 2:
        return 0.0
    angles = angle_rad[is_open]
    return float(np.trapezoid(table.at(net_lift_mm[is_open]), angles) / (angles[-1] - angles[0]))
