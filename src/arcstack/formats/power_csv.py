"""A power curve as text: any separator, either decimal mark, its columns told by their heads or by the reader."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from arcstack.errors import DocumentError
from arcstack.formats.number_grid import grid_of
from arcstack.formats.text_table import text_of
from arcstack.settings import setting

MOST_KW, MOST_RPM = setting("power.most"), setting("power.most_rpm")
MOST_POINTS, LARGEST = int(setting("power.most_points")), int(setting("import.largest_table"))


class Unit(StrEnum):
    """What a column may be in."""

    KW = "kW"
    PS = "PS"
    HP = "hp"
    NM = "N·m"
    LBFT = "lbf·ft"
    BAR = "bar"
    KPA = "kPa"
    PSI = "psi"


_KW = {Unit.KW: 1.0, Unit.PS: 0.73549875, Unit.HP: 0.745699872}
_NM = {Unit.NM: 1.0, Unit.LBFT: 1.3558179483}
_BAR = {Unit.BAR: 1.0, Unit.KPA: 0.01, Unit.PSI: 0.0689475729}

NM_PER_KW_RPM = 60_000.0 / (2.0 * np.pi)
"""Torque in N·m is this times power in kW over speed in rpm."""


@dataclass(frozen=True)
class Columns:
    """The reader's word on a table: which column is which, from 1, and its unit; None leaves it to the heads."""

    rpm: int | None = None
    power: int | None = None
    power_unit: Unit | None = None
    boost: int | None = None
    boost_unit: Unit | None = None


@dataclass(frozen=True)
class Curve:
    """Power (kW) and boost (bar) over speed, rising; what was understood of each column, and what was left out."""

    power: tuple[tuple[float, float], ...]
    boost: tuple[tuple[float, float], ...]
    understood: tuple[str, ...]
    left_out: tuple[str, ...]


_RPM = r"rpm|speed|revs|u/min|1/min|min-1|drehzahl|r[ée]gime|giri|varvtal|toeren"
_POWER = r"power|\bp\b|leistung|puissance|potenza|potencia|effekt|vermogen|\b[bw]?hp\b|\bps\b|\bcv\b|\bkw\b"
_TORQUE = r"torque|drehmoment|couple|coppia|\bpar\b|vridmoment|koppel|\bn·?m\b|lb.?ft|ft.?lb"
_BOOST = r"boost|map\b|ladedruck|manifold|suralimentation|sovralimentazione|laddtryck"
"""Words of a table's head, in the languages that benches print."""


def read_power(data: bytes, choices: Columns = Columns()) -> Curve:
    """The curve in a table. Raises ``DocumentError`` where speed or power cannot be told, or is out of reason.

    >>> found = read_power(b"rpm;Nm\\n" + b"\\n".join(b"%d;400,0" % n for n in range(2000, 7000, 500)))
    >>> found.power[0][0], round(found.power[0][1], 3), found.understood
    (2000.0, 83.776, ('rpm: speed, rpm', 'Nm: torque, N·m'))
    """
    if len(data) > LARGEST:
        raise DocumentError(f"{len(data) / 1e6:.1f} MB are more than a power curve has")
    grid = grid_of(text_of(data))
    if grid is None:
        raise DocumentError("no rows of figures were found: a row is a speed and its power, eight of them at least")
    if len(grid.rows) > MOST_POINTS:
        raise DocumentError(f"{len(grid.rows):,} rows: thin the curve to {MOST_POINTS:,}")
    values = np.array([row for _, row in grid.rows])
    heads = [h.lower() for h in grid.header] if len(grid.header) == values.shape[1] else [""] * values.shape[1]
    speed = _column(choices.rpm, heads, _RPM, "speed", 0 if not any(heads) else None)
    power, is_torque = _power_column(choices, heads, speed)
    unit = choices.power_unit or _unit(heads[power], (*_KW, *_NM))
    if unit is None:
        if not is_torque and any(heads):
            raise DocumentError(f"in which unit is “{grid.header[power]}”? Say kW, PS, hp, N·m or lbf·ft")
        raise DocumentError("in which unit is the power? Say kW, PS, hp, N·m or lbf·ft")
    names = grid.header if any(heads) else [f"column {n + 1}" for n in range(len(heads))]
    rpm, raw = values[:, speed], values[:, power]
    kw = raw * _KW[unit] if unit in _KW else raw * _NM[unit] * rpm / NM_PER_KW_RPM
    understood = [
        f"{names[speed]}: speed, rpm",
        f"{names[power]}: {'power' if unit in _KW else 'torque'}, {unit.value}",
    ]
    boost: tuple[tuple[float, float], ...] = ()
    at = _boost_column(choices, heads, {speed, power})
    if at is not None:
        pressure = choices.boost_unit or _unit(heads[at], tuple(_BAR))
        if pressure is None or pressure not in _BAR:
            raise DocumentError(f"in which unit is the boost in “{names[at]}”? Say bar, kPa or psi")
        boost = _curve(rpm, values[:, at] * _BAR[pressure])
        understood.append(f"{names[at]}: boost, {pressure.value}")
    curve = _curve(rpm, kw)
    _held(curve)
    used = {speed, power, at}
    left_out = [names[n] for n in range(len(heads)) if n not in used]
    left_out += [f"line {n}: {words[:40]}" for n, words in grid.strays[:5]]
    return Curve(curve, boost, tuple(understood), tuple(left_out))


def _column(chosen: int | None, heads: Sequence[str], pattern: str, what: str, default: int | None) -> int:
    if chosen is not None:
        if not 0 < chosen <= len(heads):
            raise DocumentError(f"there is no column {chosen}: the table has {len(heads)}")
        return chosen - 1
    found = next((n for n, h in enumerate(heads) if re.search(pattern, h)), default)
    if found is None:
        raise DocumentError(f"which column is the {what}? Say its number, from 1")
    return found


def _power_column(choices: Columns, heads: Sequence[str], speed: int) -> tuple[int, bool]:
    """The column of power, or of torque where there is no power; and whether it is torque."""
    if choices.power is not None or not any(heads):
        at = _column(choices.power, heads, _POWER, "power", 1 if len(heads) == 2 else None)
        return at, choices.power_unit in _NM
    others = [n for n in range(len(heads)) if n != speed]
    for pattern, torque in ((_POWER, False), (_TORQUE, True)):
        found = next((n for n in others if re.search(pattern, heads[n])), None)
        if found is not None:
            return found, torque
    raise DocumentError("which column is the power? Say its number, from 1")


def _boost_column(choices: Columns, heads: Sequence[str], used: set[int]) -> int | None:
    if choices.boost is not None:
        return _column(choices.boost, heads, _BOOST, "boost", None)
    return next((n for n, h in enumerate(heads) if n not in used and re.search(_BOOST, h)), None)


_UNITS = (
    (Unit.KW, r"\bkw\b"), (Unit.PS, r"\b(ps|cv|ch|pk|hk)\b"), (Unit.HP, r"hp\b"), (Unit.NM, r"\bn[·.*]?m\b"),
    (Unit.LBFT, r"lbf?[·.\- ]?ft|ft[·.\- ]?lb"),
    (Unit.BAR, r"\bbar\b"), (Unit.KPA, r"\bkpa\b"), (Unit.PSI, r"\bpsig?\b"),
)  # fmt: skip


def _unit(head: str, among: Sequence[Unit]) -> Unit | None:
    return next((unit for unit, pattern in _UNITS if unit in among and re.search(pattern, head)), None)


def _curve(rpm: np.ndarray, value: np.ndarray) -> tuple[tuple[float, float], ...]:
    """Rising in speed; of rows at one speed the mean."""
    speeds, where = np.unique(rpm, return_inverse=True)
    means = np.bincount(where, weights=value) / np.bincount(where)
    return tuple((float(n), float(v)) for n, v in zip(speeds, means, strict=True))


def _held(curve: Sequence[tuple[float, float]]) -> None:
    if len(curve) < 2:
        raise DocumentError("a curve has two speeds at least")
    if curve[0][0] <= 0.0 or curve[-1][0] > MOST_RPM:
        raise DocumentError(
            f"speeds from {curve[0][0]:,.0f} to {curve[-1][0]:,.0f} rpm are no engine's: another column?"
        )
    most, least = max(p for _, p in curve), min(p for _, p in curve)
    if least < 0.0 or most > MOST_KW or most < 1.0:
        raise DocumentError(f"powers from {least:,.1f} to {most:,.1f} kW are no engine's: another column, or unit?")
