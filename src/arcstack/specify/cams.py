"""The same question asked of a head with each of other cams."""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from arcstack.assess.context import Context
from arcstack.document import set_cam
from arcstack.document.parts import Cam
from arcstack.errors import ArcStackError, Stopped
from arcstack.shelf import ShelfPart
from arcstack.specify.ask import Ask
from arcstack.specify.search import search


@dataclass(frozen=True)
class WithCam:
    """How many combinations would do with one cam, and the speed at which the best of them parts from it (rpm).

    Both are None where nothing can be searched with it, and the speed where nothing would do.
    """

    would_do: int | None
    parts_at: float | None


def with_each(
    ctx: Context,
    cams: Sequence[Cam],
    parts: Iterable[ShelfPart],
    ask: Ask,
    count: Callable[[int, int], None],
    stop: Callable[[], bool],
) -> list[WithCam]:
    """Search a shelf once with each cam in place of the side's own, in their order.

    ``count`` is told how many cams of how many are behind. Raises ``Stopped``, and what stands against the search
    where it can be made with none of them.
    """
    shelf, found = list(parts), list[WithCam]()
    against: ArcStackError | None = None
    for n, cam in enumerate(cams):
        count(n, len(cams))
        try:
            it = search(ctx.of(set_cam(ctx.build, ctx.side_name, cam)), shelf, ask, None, stop)
        except ArcStackError as told:
            against = told
            found.append(WithCam(None, None))
            continue
        if stop():
            raise Stopped
        speed = it.row(it.best[0]).values.get("control.separation", math.nan) if it.best else math.nan
        found.append(WithCam(len(it.feasible), None if math.isnan(speed) else speed))
    if against is not None and all(one.would_do is None for one in found):
        raise against
    return found
