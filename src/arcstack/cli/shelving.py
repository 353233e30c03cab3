"""A shelf of parts: read, and searched for what would do in a build."""

import json
import sys
from pathlib import Path

import click

from arcstack.assess import assess
from arcstack.document import SIDES
from arcstack.errors import ArcStackError, DocumentError, MissingInput
from arcstack.formats import read_build
from arcstack.formats.shelf_csv import read_shelf
from arcstack.formats.shelf_json import read_shelf_json, write_shelf_json
from arcstack.formats.specified import specified
from arcstack.shelf import PartKind, ShelfPart
from arcstack.specify import VARIED, Ask, Found, Want, search
from arcstack.specify.whynot import in_order_of_cost
from arcstack.units import SPEED, show


@click.command("shelf")
@click.option(
    "--csv",
    "table",
    required=True,
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="A table of parts.",
)
@click.option("--kind", type=click.Choice([k.value for k in PartKind]), help="What its lines are, if none says so.")
@click.option("--json", "as_json", is_flag=True, help="Print the parts as a shelf document, JSON.")
def convert_shelf(table: Path, kind: str | None, as_json: bool) -> None:
    """Read a table of parts, and say what was understood of it, or print it as JSON.

    Ends with 0 when all of it was understood, 1 when lines were left out, 2 when FILE is no table of parts.
    """
    read = read_shelf(table.read_bytes(), PartKind(kind) if kind else None)
    if read.wrong:
        click.echo(f"{table.name}: {read.wrong}", err=True)
        sys.exit(2)
    for line in read.problems:
        click.echo(f"{table.name}, line {line.number}: {'; '.join(line.problems)}", err=True)
    if as_json:
        click.echo(write_shelf_json(read.parts), nl=False)
    else:
        for column in read.columns:
            click.echo(
                f"{column.heading}: {column.understood or 'left out'}{f', {column.unit}' if column.unit else ''}"
            )
        click.echo(f"{len(read.parts)} parts")
    sys.exit(1 if read.problems else 0)


_WANTS = {
    "speed": Want.SPEED,
    "reserve": Want.RESERVE,
    "friction": Want.FRICTION,
    "price": Want.PRICE,
    "hand": Want.ON_HAND,
}


def _kinds(_ctx: click.Context, _param: click.Parameter, text: str) -> tuple[PartKind, ...]:
    """Kinds named with commas between them."""
    names = [name.strip().lower() for name in text.split(",") if name.strip()]
    by_name = {k.value: k for k in VARIED} | {"shims": PartKind.SHIM, "packs": PartKind.PACK}
    unknown = [name for name in names if name not in by_name]
    if unknown or not names:
        raise click.BadParameter(f"name kinds out of {', '.join(k.value for k in VARIED)}, with commas between them")
    return tuple(dict.fromkeys(by_name[name] for name in names))


@click.command("specify")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--shelf",
    required=True,
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="The parts: a shelf document, JSON, or a table, CSV.",
)
@click.option("--side", type=click.Choice(SIDES), default=SIDES[0], show_default=True)
@click.option(
    "--vary", default="pack,retainer,locks,shim", show_default=True, callback=_kinds, help="Kinds that may change."
)
@click.option(
    "--want", multiple=True, type=click.Choice(list(_WANTS)), help="What comes first; once more for what comes next."
)
@click.option("--any-height", is_flag=True, help="Let springs stand where parts and shims put them.")
@click.option("--on-hand", is_flag=True, help="Only parts that are on hand.")
@click.option("--most", default=20, show_default=True, type=click.IntRange(1, 200), help="How many are listed.")
@click.option("--json", "as_json", is_flag=True, help="Print counts and ranking as JSON.")
def specify(
    file: Path, shelf: Path, side: str, vary: tuple[PartKind, ...], want: tuple[str, ...], any_height: bool,
    on_hand: bool, most: int, as_json: bool,
) -> None:  # fmt: skip
    """Find which parts of a shelf would do on one side of the build in FILE.

    Ends with 0 when something would do, 1 when nothing would, 2 when the files or what is asked cannot be used.
    """
    try:
        base = assess(read_build(file.read_bytes()))
        parts = _parts(shelf)
        wants = tuple(_WANTS[w] for w in want) or (Want.SPEED,)
        ask = Ask(vary, wants, holds_target=not any_height, on_hand_only=on_hand)
        found = search(base.sides[side], parts, ask)
    except MissingInput as error:
        click.echo(f"{file.name}: needs {', '.join(m.path for m in error.missing) or error.why}", err=True)
        sys.exit(2)
    except ArcStackError as error:
        click.echo(str(error), err=True)
        sys.exit(2)
    if as_json:
        click.echo(json.dumps(specified(found, most), indent=2, ensure_ascii=False, allow_nan=False))
    else:
        _say(found, most)
    sys.exit(0 if len(found.feasible) else 1)


def _parts(shelf: Path) -> list[ShelfPart]:
    """The parts of a shelf document, or of a table whose every line is understood. Raises ``DocumentError``."""
    data = shelf.read_bytes()
    if data.lstrip()[:1] == b"{":
        return read_shelf_json(data)
    read = read_shelf(data)
    if read.wrong or read.problems:
        raise DocumentError(read.wrong or f"line {read.problems[0].number}: {'; '.join(read.problems[0].problems)}")
    return list(read.parts)


def _say(found: Found, most: int) -> None:
    click.echo(f"{len(found.feasible):,} of {found.space.size:,} combinations would do")
    for check, title, alone, away in in_order_of_cost(found):
        click.echo(f"  {away:>12,} turned away by {title.lower()} ({check}), {alone:,} by it alone")
    for place, number in enumerate(found.best[:most], 1):
        row = found.row(number)
        names = ", ".join(p.name for p in row.chosen) or "as fitted"
        speed = str(show(row.values["control.separation"], SPEED)) if "control.separation" in row.values else "–"
        click.echo(f"{place:>3}  {speed:>10}  {row.price:>9.2f}  {names}")
