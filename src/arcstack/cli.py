"""The command line."""

import errno
import gc
import json
import socket
import sys
from pathlib import Path
from threading import Thread

import click
from platformdirs import user_data_dir

from arcstack import __version__
from arcstack.assess import assess
from arcstack.checks import Level
from arcstack.dynamics import warm
from arcstack.dynamics.question import work_out
from arcstack.errors import DocumentError, StoreError
from arcstack.formats import markdown, read_build, schema, verdicts
from arcstack.formats.shelf_csv import read_shelf
from arcstack.formats.shelf_json import write_shelf_json
from arcstack.shelf import PartKind
from arcstack.units import show

_MARKS = {Level.CLEAR: "clear", Level.TIGHT: "TIGHT", Level.WAIVED: "WAIVD", Level.FAIL: "FAIL ", Level.OPEN: "open "}

HOST = "127.0.0.1"

NOTHING_JUDGED = 3
"""What ``check`` ends with where no check that judges could be worked."""


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Valvetrain stacks, worked and checked."""


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print the verdicts as JSON.")
def check(file: Path, as_json: bool) -> None:
    """Check the build in FILE.

    Ends with 0 when every check that judges and could be worked passes, 1 when one fails, 2 when FILE is no build,
    3 when none of them could be worked: an empty build proves nothing.
    """
    try:
        found = assess(read_build(file.read_bytes()), work_out)
    except DocumentError as error:
        click.echo(f"{file.name}: {error}", err=True)
        sys.exit(2)
    if as_json:
        click.echo(json.dumps(verdicts(found), indent=2, ensure_ascii=False, allow_nan=False))
    else:
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


@main.command("schema")
def print_schema() -> None:
    """Print the JSON Schema of the build document."""
    click.echo(json.dumps(schema(), indent=2))


@main.command("shelf")
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


@main.command("docs", hidden=True)
@click.argument("folder", type=click.Path(exists=True, file_okay=False, path_type=Path))
def write_docs(folder: Path) -> None:
    """Write the reference pages that are made from the code into FOLDER."""
    for name in markdown.PAGES:
        (folder / name).write_text(markdown.page(name), "utf-8")


def _warm() -> None:
    """Load what the first build will need while the first page is being read."""
    from arcstack.demo import demo_builds

    for build in demo_builds():
        assess(build)
    settle()


def settle() -> None:
    """Leave what was loaded to start with out of every later search for garbage: a page is then less often held up."""
    gc.collect()
    gc.freeze()


def _answers(port: int) -> bool:
    """Whether somebody listens on the port already: some systems let two do so, and the second is never heard."""
    with socket.socket() as probe:
        probe.settimeout(1.0)
        return probe.connect_ex((HOST, port)) == 0


def _serve(data: Path, port: int) -> None:
    from waitress.server import create_server

    from arcstack.web import create_app

    try:
        app = create_app(data)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    try:
        if _answers(port):
            raise OSError(errno.EADDRINUSE, "taken")
        server = create_server(app, host=HOST, port=port, threads=4, ident=None)
    except OSError as error:
        taken = error.errno == errno.EADDRINUSE
        why = "is taken by another program, or by Arc Stack itself" if taken else f"cannot be used ({error.strerror})"
        raise click.ClickException(f"Port {port} {why}. Name another with --port.") from error
    warm.in_background(after_s=1.5)
    Thread(target=_warm, daemon=True).start()
    click.echo(f"Arc Stack is at http://{HOST}:{port}/  (Ctrl-C ends it; data in {data})")
    server.run()


PORT = click.option("--port", default=8160, show_default=True, type=click.IntRange(1, 65535), help="Port on loopback.")
DATA = click.option(
    "--data", type=click.Path(file_okay=False, path_type=Path), help="Folder of the workshop; made when missing."
)


@main.command()
@PORT
@DATA
def serve(port: int, data: Path | None) -> None:
    """Serve the workshop on 127.0.0.1. It answers this machine only."""
    _serve(data or Path(user_data_dir("arc-stack")), port)


@main.command()
@PORT
@DATA
def demo(port: int, data: Path | None) -> None:
    """Serve the demo workshop with its two made-up builds; they are made when the folder has none."""
    from arcstack.demo.workshop import make_demo

    folder = data or Path(user_data_dir("arc-stack")) / "demo"
    try:
        make_demo(folder)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    _serve(folder, port)


if __name__ == "__main__":
    main()
