"""Ports against gasket and manifold: the edge that a larger opening upstream leaves in the stream."""

from arcstack.assess.check import Check
from arcstack.assess.context import Context, figure, length
from arcstack.checks import Figure
from arcstack.document import SIDES
from arcstack.mech.ports import Opening, edge_mm, worst_edge_mm

_NAMES = {"manifold": "manifold", "gasket": "gasket", "mouth": "port"}


def _along(ctx: Context) -> list[str]:
    """Openings in the order of the stream, those that were measured."""
    row = ["manifold", "gasket", "mouth"] if ctx.side_name == SIDES[0] else ["mouth", "gasket", "manifold"]
    gasket = any(ctx.given(f"port.gasket_{n}") for n in ("width", "height", "across", "up"))
    return [name for name in row if name != "gasket" or gasket]


def _opening(ctx: Context, name: str, n: int) -> tuple[Opening, list[Figure]]:
    wide, high = ctx.entry(f"port.{name}_width", f"w_{n}"), ctx.entry(f"port.{name}_height", f"h_{n}")
    if name == "mouth":
        return (wide.value, high.value, 0.0, 0.0), [wide, high]
    # where nobody looked how it sits, it is taken to sit straight: an assumption, which proves nothing
    across, up = ctx.optional(f"port.{name}_across", f"x_{n}"), ctx.optional(f"port.{name}_up", f"y_{n}")
    return (wide.value, high.value, across.value, up.value), [wide, high, across, up]


@figure
def edge(ctx: Context) -> Figure:
    """The largest edge into the stream, and where it stands."""
    ctx.need("port.mouth_width", "port.mouth_height", "port.manifold_width", "port.manifold_height")
    names = _along(ctx)
    rows = [_opening(ctx, name, n) for n, name in enumerate(names, 1)]
    _, joint = worst_edge_mm([opening for opening, _ in rows])
    (from_, own), (into, other) = rows[joint], rows[joint + 1]
    value, axis = max(
        (edge_mm((a, a, s, s), (b, b, t, t)), axis)
        for axis, (a, b, s, t) in enumerate(
            ((from_[0], into[0], from_[2], into[2]), (from_[1], into[1], from_[3], into[3]))
        )
    )
    shifts = [f.symbol for f in (*own[2:], *other[2:]) if f.symbol.startswith("xy"[axis])]
    formula = f"e = ({own[axis].symbol} − {other[axis].symbol})/2 + |{' − '.join(shifts)}|"
    where = f"{_NAMES[names[joint]]} into {_NAMES[names[joint + 1]]}, {('across', 'up')[axis]}"
    words = "an edge, which boost hides at the wall’s cost" if value > 0.0 else "nothing stands in the stream"
    inputs = [f for _, figures in rows for f in figures]
    return length("e", "Edge into the stream", value, formula, *inputs, note=f"Worst {where}: {words}.")


def _said(ctx: Context) -> bool:
    names = ("mouth_width", "gasket_width", "manifold_width")
    return any(ctx.given(f"port.{n}") for n in names)


CHECKS = (
    Check(
        "port.match", "Port match", "turbo", "Manifold, gasket and port, as the stream meets them.", work=edge,
        limit="port.match", applies=_said,
    ),
)  # fmt: skip
