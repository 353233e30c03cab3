"""Heights on one valve's axis (mm). Heights grow away from the head's spring pocket, toward the cam."""

from collections.abc import Iterable

from arcstack.mech.number import Number


def open_height_as_fitted_mm(
    open_height_mm: Number,
    raised_mm: Iterable[Number],
    taken_mm: Iterable[Number],
    locks_sink_mm: Number | float = 0.0,
) -> Number:
    """Open height with the fitted parts, from one measured bare with standard parts.

    Offsets of retainer, locks and groove raise the retainer, as locks that sink in it do; what lies in the pocket takes
    its thickness away.

    Source: geometry along the valve.

    >>> round(open_height_as_fitted_mm(37.0, [0.5, 0.25, 0.0], [0.8]), 3)
    36.95
    >>> round(open_height_as_fitted_mm(37.0, [0.5, 0.25, 0.0], [0.8], 0.57), 3)
    37.52
    """
    return open_height_mm + sum(raised_mm) + locks_sink_mm - sum(taken_mm)


def installed_height_mm(open_height_mm: Number, shims_mm: Iterable[Number]) -> Number:
    """H = H₀ − Σ shims.

    Source: geometry along the valve.

    >>> round(installed_height_mm(36.95, [0.5, 0.25]), 3)
    36.2
    """
    return open_height_mm - sum(shims_mm)


def inner_height_mm(outer_height_mm: Number, retainer_step_mm: Number, seat_step_mm: Number) -> Number:
    """The inner spring's height: the outer's less the steps of retainer and seat.

    Source: geometry along the valve.

    >>> round(inner_height_mm(36.2, 1.6, 0.9), 3)
    33.7
    """
    return outer_height_mm - retainer_step_mm - seat_step_mm


def reserve_mm(installed_height: Number, lift_mm: Number, solid_height_mm: Number) -> Number:
    """Travel left before the spring goes solid: H − lift − solid height.

    Source: geometry along the valve.

    >>> round(reserve_mm(36.2, 10.4, 22.4), 3)
    3.4
    """
    return installed_height - lift_mm - solid_height_mm


def retainer_to_seal_closed_mm(
    open_height_mm: Number, locator_mm: Number, retainer_depth_mm: Number, seal_height_mm: Number
) -> Number:
    """Retainer's lower face to the top of the seal with the valve closed.

    The retainer's outer step stands ``open_height + locator`` above the bare spring pocket, whatever shims lie
    under the spring; ``seal_height`` is measured from the same pocket.

    Source: geometry along the valve.

    >>> round(retainer_to_seal_closed_mm(36.95, 0.8, 4.0, 21.5), 3)
    12.25
    """
    return open_height_mm + locator_mm - retainer_depth_mm - seal_height_mm


def upside_down_mm(step_mm: float, pressed: bool) -> tuple[float, float]:
    """What the inner spring's seat upside down does to the heights of outer and inner spring, mm.

    A flat-backed one then stands on its step: the outer loses the step, the inner keeps its height. One pressed from
    sheet turns its cup over: the outer loses the step and the inner gains it.

    Source: geometry along the valve.

    >>> upside_down_mm(0.90, pressed=False), upside_down_mm(0.90, pressed=True)
    ((-0.9, 0.0), (-0.9, 0.9))
    """
    return -step_mm, step_mm if pressed else 0.0
