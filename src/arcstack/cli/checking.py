"""A build checked, its schema, and the reference pages that are made from the code."""

import json
import sys
from pathlib import Path

import click

from arcstack.assess import assess
from arcstack.checks import Level
from arcstack.dynamics.question import work_out
from arcstack.errors import DocumentError
from arcstack.formats import markdown, schema, verdicts
from arcstack.formats.readings_json import read_whole
from arcstack.units import show

_MARKS = {Level.CLEAR: "clear", Level.TIGHT: "TIGHT", Level.WAIVED: "WAIVD", Level.FAIL: "FAIL ", Level.OPEN: "open "}


NOTHING_JUDGED = 3
"""What ``check`` ends with where no check that judges could be worked."""


@click.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print the verdicts as JSON.")
def check(file: Path, as_json: bool) -> None:
    """Check the build in FILE.

    Ends with 0 when every check that judges and could be worked passes, 1 when one fails, 2 when FILE is no build,
    3 when none of them could be worked: an empty build proves nothing.
    """
    try:
        build, readings, _ = read_whole(file.read_bytes())
        found = assess(build, work_out)
    except DocumentError as error:
        click.echo(f"{file.name}: {error}", err=True)
        sys.exit(2)
    if as_json:
        click.echo(json.dumps(verdicts(found), indent=2, ensure_ascii=False, allow_nan=False))
    else:
        if readings:
            click.echo(
                f"{len(readings)} readings in the file are not counted: these are the design’s verdicts.", err=True
            )
        for v in found.verdicts:
            value = str(show(v.figure.value, v.figure.dimension)) if v.figure else "–"
            value = f"≥ {value}" if v.figure and v.figure.at_least else value
            told = "" if v.judges else " (shown, not judged)"
            note = v.note or ", ".join(m.label for m in v.missing)
            click.echo(f"{_MARKS[v.level]}  {v.side or '':8} {v.id:26} {value:>12}  {v.evidence:8} {note}{told}")
    judged = [v for v in found.verdicts if v.judges]
    if any(v.level is Level.FAIL for v in judged):
        sys.exit(1)
    sys.exit(NOTHING_JUDGED if all(v.level is Level.OPEN for v in judged) else 0)


@click.command("schema")
def print_schema() -> None:
    """Print the JSON Schema of the build document."""
    click.echo(json.dumps(schema(), indent=2))


@click.command("docs", hidden=True)
@click.argument("folder", type=click.Path(exists=True, file_okay=False, path_type=Path))
def write_docs(folder: Path) -> None:
    """Write the reference pages that are made from the code into FOLDER."""
    for name in markdown.PAGES:
        (folder / name).write_text(markdown.page(name), "utf-8")
