"""The height solver: what on the shelf brings the outer spring to its target, ranked, and taken."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import assess
from arcstack.assess.assessment import level
from arcstack.assess.catalogue import checks, find
from arcstack.assess.context import Context
from arcstack.checks import Figure, Level
from arcstack.document import Build
from arcstack.errors import MissingInput, NotKnown
from arcstack.shelf import KINDS, PartKind
from arcstack.store import Kind, Reason
from arcstack.trials.reaching import VARIED, Change, Found, Rank, Reached, Wish, search
from arcstack.units import FORCE, LENGTH, MASS, SPEED, Dimension, System, show
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_system, part_shelf, sweeps, workshop

blueprint = Blueprint("reaching", __name__, url_prefix="/builds/<int:build_id>/<side:side>/height")

_COLUMNS: tuple[tuple[str, str, Dimension], ...] = (
    ("Seat", "spring.seat_load", FORCE), ("Open", "spring.open_load", FORCE),
    ("Outer", "spring.reserve.outer", LENGTH), ("Inner", "spring.reserve.inner", LENGTH),
    ("To seal", "stack.retainer_seal", LENGTH), ("Tip", "fit.tip_proud", LENGTH),
    ("Parts at", "control.separation", SPEED),
)  # fmt: skip


@dataclass(frozen=True)
class Cell:
    """A verdict of one row, in short."""

    text: str
    level: Level | None
    proven: bool = False


@dataclass(frozen=True)
class Row:
    """A combination as the page shows it; ``key`` names it among those found."""

    key: str
    parts: str
    shims: str
    height: str
    off: str
    cells: tuple[Cell, ...]
    mass: str
    price: str
    fits: str
    why: str


def _wish() -> Wish:
    """What the form asks for; a first look varies nothing but the shims."""
    values = request.values
    vary = tuple(k for k in VARIED if k.value in values.getlist("vary"))
    most = values.get("most", "3")
    rank = Rank.NEAREST if values.get("rank") == Rank.NEAREST.value else Rank.FEWEST
    return Wish(
        vary, min(int(most), 6) if most.isdigit() and len(most) < 3 else 3, 2.0, rank, values.get("hand") == "1"
    )


def _limited(ctx: Context, wish: Wish) -> Wish:
    """The wish, held to what the practice lets stand under a spring."""
    total = ctx.limit("fit.shims.total").high
    return Wish(wish.vary, wish.most_shims, total if total is not None else 2.0, wish.rank, wish.on_hand_only)


def _key(row: Reached) -> str:
    return "-".join(p.key[:10] for p in (*row.parts, *row.shims)) or "none"


def _row(ctx: Context, row: Reached, system: System) -> Row:
    tried = ctx.of(row.build)
    cells: list[Cell] = []
    for _, check, dimension in _COLUMNS:
        about = checks()[check]
        try:
            found, limit = about.work(tried), about.limit_for(tried)
            cells.append(Cell(show(found.value, dimension, system).number, level(found, limit), found.proven))
        except NotKnown:
            cells.append(Cell("–", None))
    mass = find(tried, "spring.moving_mass")
    return Row(
        _key(row),
        ", ".join(p.name for p in row.parts) or "as fitted",
        " + ".join(p.name for p in row.shims) or "no shim",
        show(row.height_mm, LENGTH, system).number,
        "on target"
        if row.is_on_target
        else f"{'+' if row.off_mm > 0 else ''}{show(row.off_mm, LENGTH, system).number}",
        tuple(cells),
        show(mass.value, MASS, system).number if isinstance(mass, Figure) else "–",
        f"{row.price:.2f}" if row.price is not None else "–",
        row.fits.value,
        row.why,
    )


def _order(change: Change, system: System) -> str:
    """A change as a line that can be ordered by."""
    bound, exact = show(change.bound_mm, LENGTH, system), show(change.exact_mm, LENGTH, system)
    word = "or less" if change.at_most else "or more"
    offset = change.figure.endswith("offset")
    sign, plus = ("+" if mm > 0 and offset else "" for mm in (change.bound_mm, change.exact_mm))
    what = f"any {change.part} of {change.figure.replace('_', ' ')}"
    return f"{what} {sign}{bound} {word} ({plus}{exact} meets the target)"


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    current, system = workshop().open(build_id), current_system()
    now = assessed(current)
    ctx, wish = now.sides[side], _wish()
    parts = part_shelf().offered()
    found: Found | None = None
    needs: tuple[object, ...] = ()
    why = ""
    try:
        found = search(ctx, parts, _limited(ctx, wish))
    except MissingInput as told:
        needs, why = told.missing, told.why
    rows = [_row(ctx, r, system) for r in found.rows] if found else []
    # what reaches the height and fails otherwise comes after what does not
    rows.sort(key=lambda r: any(c.level is Level.FAIL for c in r.cells))
    chosen = request.args.get("take", "")
    taken = next((r for r in found.rows if _key(r) == chosen), None) if found else None
    return render_template(
        "reaching/index.html",
        **around(current, side, now, system),
        wish=wish,
        vary=[(k, KINDS[k].plural if k is not PartKind.LOCKS else "Locks") for k in VARIED],
        ranks=list(Rank),
        rows=rows,
        columns=[(name, dimension.unit(system)) for name, _, dimension in _COLUMNS],
        units=(LENGTH.unit(system), MASS.unit(system)),
        found=found,
        near=_row(ctx, found.near, system) if found and found.near else None,
        orders=[_order(c, system) for c in found.changes] if found and found.near else [],
        needs=needs,
        why=why,
        target=str(show(found.target_mm, LENGTH, system)) if found else "",
        tolerance=" to ".join(str(show(e, LENGTH, system)) for e in found.tolerance) if found else "",
        shims_here=any(p.kind is PartKind.SHIM for p in parts),
        chosen=chosen,
        turned=turned(now, assess(taken.build, sweeps().known, now)) if taken else [],
        taken=next((r for r in rows if r.key == chosen), None),
        title="Parts",
    )


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Fit the combination that was shown."""
    key = request.form.get("take", "")

    def made(here: Build) -> tuple[Build, Reason]:
        ctx = Context(here, side)
        found = search(ctx, part_shelf().offered(), _limited(ctx, _wish()))
        row = next((r for r in found.rows if _key(r) == key), None)
        if row is None:
            raise MissingInput(why="The shelf or the build has changed: look again.")
        names = ", ".join(p.name for p in (*row.parts, *row.shims)) or "no shim"
        return row.build, Reason(Kind.PART_FITTED, f"{side}.height", after=names[:200])

    try:
        accept(build_id, made)
    except MissingInput:
        return index(build_id, side), 409
    return redirect(links.stage(build_id, "stack", side))
