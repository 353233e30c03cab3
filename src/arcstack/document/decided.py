"""Figures that a builder decides or a card states, and that no instrument reads."""

import re
from functools import cache

_DECIDED = frozenset(
    {
        "brief.usual_speed", "brief.peak_speed", "brief.limiter", "brief.overspeed", "stack.target_height", "cam.lash",
        "cam.phaser_limit", "cam.tdc_event", "cam.bdc_event", "cam.event_lift", "cam.durations.#.check_lift",
        "turbo.compression_target", "turbo.rods_to", "turbo.launch", "turbo.limiter_staged", "turbo.limiter_soft",
        "turbo.limiter_hard", "turbo.missed_shifts",
    }
)  # fmt: skip


@cache
def decided(path: str) -> bool:
    """Whether a figure is decided or stated, not read: it is checked by reading what came of it.

    >>> decided("brief.limiter"), decided("exhaust.cam.durations.2.check_lift"), decided("engine.rod")
    (True, True, False)
    """
    tail = re.sub(r"\.\d+", ".#", path.removeprefix("intake.").removeprefix("exhaust."))
    return tail in _DECIDED
