"""What becomes of a height that was read as fitted when a part that it was read with is exchanged."""

from arcstack.checks import Evidence
from arcstack.document.entry import Entry, amount
from arcstack.document.parts import HeightBasis, Stack
from arcstack.mech.fit import lock_sinks_mm


def _sinks(stack: Stack) -> float | None:
    """How deep the locks sit; None while it is not known."""
    expected, locks, taper = stack.retainer.locks_outside, stack.locks.outside, stack.retainer.taper
    if expected is None or locks is None or taper is None:
        return None
    return lock_sinks_mm(expected.value, locks.value, taper.value)


def _raised(before: Stack, after: Stack) -> float | None:
    """How much higher the parts that were exchanged hold the retainer; None while one of them is not known."""
    raised = 0.0
    for sign, old, new in (
        (1.0, before.retainer.offset, after.retainer.offset),
        (1.0, before.locks.offset, after.locks.offset),
        (1.0, before.valve.groove_offset, after.valve.groove_offset),
        (-1.0, before.locator.thickness, after.locator.thickness),
    ):
        at, to = amount(old), amount(new)
        if old == new:
            continue
        if at is None or to is None:
            return None
        raised += sign * (to - at)
    return raised


def _deeper(before: Stack, after: Stack) -> float | None:
    """How much deeper the locks sit; None while it is not known of either and something of it was exchanged."""
    told = [(s.retainer.locks_outside, s.locks.outside, s.retainer.taper) for s in (before, after)]
    if told[0] == told[1]:
        return 0.0
    deep, deeper = _sinks(before), _sinks(after)
    return None if deep is None or deeper is None else deeper - deep


def height_with(before: Stack, after: Stack, told: str) -> Entry | None:
    """The open height of ``before`` as it stands with the parts of ``after``.

    Read bare it stands. Read as fitted it follows the offsets, the locator and the depth of the locks where all of them
    are known; else it is outdated, and ``told`` says by what.
    """
    height = before.open_height
    if height is None or before.height_basis is not HeightBasis.AS_FITTED:
        return height
    raised, deeper = _raised(before, after), _deeper(before, after)
    if raised is None or deeper is None:
        return height.model_copy(update={"outdated": height.outdated or told})
    moved = round(raised + deeper, 9)
    if moved == 0.0:
        return height
    value = float(f"{height.value + moved:.12g}")
    return Entry(value=value, typed=f"{value:.12g} mm", evidence=Evidence.CALCULATED, outdated=height.outdated)
