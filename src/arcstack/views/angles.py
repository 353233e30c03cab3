"""Crank angles in words."""


def about_dead_centre(degrees: float) -> str:
    """A crank angle from gas-exchange TDC, by the dead centre next to it.

    >>> about_dead_centre(-4.2), about_dead_centre(222.0)
    ('4.2° before TDC', '42.0° after BDC')
    """
    if abs(degrees) > 90.0:
        past = abs(degrees) - 180.0
        late = (past >= 0.0) == (degrees > 0.0)
        return f"{abs(past):.1f}° {'after' if late else 'before'} BDC"
    return f"{abs(degrees):.1f}° {'after' if degrees >= 0.0 else 'before'} TDC"
