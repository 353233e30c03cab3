"""Spring packs side by side on one basis."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from arcstack.assess import checks, cost, elastic, spring, surge
from arcstack.assess.assessment import level, work
from arcstack.assess.context import Context, known
from arcstack.assess.control import separation, separation_settled
from arcstack.assess.stack import installed_height
from arcstack.checks import Figure, Level, Limit
from arcstack.dynamics.question import Question
from arcstack.trials.packs import TriedPack
from arcstack.units import System, show
from arcstack.views.cells import Cell, against, rank


@dataclass(frozen=True)
class PackRow:
    key: str
    label: str
    cells: list[Cell]


@dataclass(frozen=True)
class _Asked:
    key: str
    label: str
    take: Callable[[Context], Figure]
    better: int
    check: str = ""
    limit: Callable[[Context], Limit] | None = None


_ASKED = (
    _Asked("height", "Installed height", installed_height, 0, "stack.installed_height"),
    _Asked("seat", "Seat load", spring.seat_load, 0, "spring.seat_load"),
    _Asked("open", "Open load", spring.open_load, 0, "spring.open_load"),
    _Asked("rate", "Rate", spring.pack_rate, 0),
    _Asked("outer", "Reserve, outer", spring.reserve_outer, 1, "spring.reserve.outer"),
    _Asked("inner", "Reserve, inner", spring.reserve_inner, 1, "spring.reserve.inner"),
    _Asked("order", "Surge order", surge.order, 1, "spring.surge_order"),
    _Asked("stress-outer", "Stress, outer", spring.stress_outer, -1, "spring.stress.outer"),
    _Asked("stress-inner", "Stress, inner", spring.stress_inner, -1, "spring.stress.inner"),
    _Asked("fatigue", "Fatigue factor", spring.fatigue, 1, "spring.fatigue"),
    _Asked("mass", "Mass of the springs", surge.springs_mass, -1),
    _Asked("moving", "Moving mass", spring.moving_mass, -1),
    _Asked("separation", "Separation", lambda ctx: separation(ctx).speed, 1, "control.separation"),
    _Asked("parts", "Elastic separation", elastic.parting, 1, limit=elastic.separation_limit),
    _Asked("settled", "Separation, settled", separation_settled, 1),
    _Asked("nose", "Nose pressure", cost.nose_pressure, -1, "control.nose_pressure"),
    _Asked("torque", "Cam torque, one lobe", cost.peak_torque, -1),
    _Asked("friction", "Friction, one valve", cost.friction, -1, "control.friction"),
    _Asked("price", "Price, the set", spring.price, -1),
)

SORTS = tuple(a.key for a in _ASKED)


def _found(ctx: Context, asked: _Asked) -> Figure | None:
    inner = asked.key in ("inner", "stress-inner")
    if inner and "inner" not in spring.springs(ctx):
        return None
    return known(lambda: asked.take(ctx))


def _level(ctx: Context, asked: _Asked, figure: Figure) -> Level | None:
    if asked.limit is not None:
        return level(figure, asked.limit(ctx))
    if not asked.check or not checks()[asked.check].applies(ctx):
        return None
    found = known(lambda: work(ctx, asked.check))
    return None if found is None else level(*found)


def unknown(packs: list[TriedPack]) -> list[Question]:
    """Sweeps that the packs' rows still wait for."""
    asked = [(p.ctx, known(partial(elastic.parting_question, p.ctx))) for p in packs]
    return [question for ctx, question in asked if question is not None and ctx.sweep(question) is None]


def pack_rows(packs: list[TriedPack], system: System) -> list[PackRow]:
    """Every figure asked for, a row each; cells in the packs' order, the first pack being the fitted one."""
    rows = []
    fitted = next(i for i, p in enumerate(packs) if p.slot == 0)
    for asked in _ASKED:
        found = [_found(p.ctx, asked) for p in packs]
        digits = -2 if asked.key == "price" else 0
        texts = [str(show(f.value, f.dimension, system, digits)) if f is not None else "–" for f in found]
        if all(f is None for f in found) and asked.key not in ("price", "parts"):
            continue
        cells = []
        for at, (pack, figure, text) in enumerate(zip(packs, found, texts, strict=True)):
            if figure is None:
                cells.append(Cell("–"))
                continue
            off = "" if found[fitted] is None or at == fitted else against(text, texts[fitted])
            cells.append(
                Cell(text, _level(pack.ctx, asked, figure), figure.proven, rank(text, texts, asked.better), off)
            )
        rows.append(PackRow(asked.key, asked.label, cells))
    return rows


def ordered(packs: list[TriedPack], key: str) -> list[TriedPack]:
    """Packs by one row: the best first where the row has a better way, else the greatest; unknown last."""
    asked = next((a for a in _ASKED if a.key == key), None)
    if asked is None:
        return packs

    def place(pack: TriedPack) -> tuple[bool, float]:
        figure = _found(pack.ctx, asked)
        return figure is None, 0.0 if figure is None else figure.value * (-1 if asked.better >= 0 else 1)

    return sorted(packs, key=place)
