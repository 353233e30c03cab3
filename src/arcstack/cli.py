"""The command line."""

import gc
import json
import sys
from datetime import UTC, datetime
from pathlib import Path
from threading import Thread

import click
from platformdirs import user_data_dir

from arcstack import __version__
from arcstack.assess import assess
from arcstack.checks import Level
from arcstack.document import SIDES
from arcstack.dynamics import warm
from arcstack.dynamics.question import work_out
from arcstack.errors import ArcStackError, DocumentError, FieldError, MissingInput, StoreError
from arcstack.formats import markdown, read_build, schema, verdicts
from arcstack.formats.shelf_csv import read_shelf
from arcstack.formats.shelf_json import read_shelf_json, write_shelf_json
from arcstack.formats.specified import specified
from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer
from arcstack.settings import setting
from arcstack.shelf import PartKind, ShelfPart
from arcstack.specify import VARIED, Ask, Found, Want, search
from arcstack.specify.whynot import in_order_of_cost
from arcstack.units import SPEED, show

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


@main.command("specify")
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


@main.command("instrument")
@click.argument("kind", type=click.Choice(list(KINDS)))
@click.option("--port", default=0, show_default="any free one", type=click.IntRange(0, 65535))
@click.option("--seed", default=1, show_default=True, help="The same seed stands for the same head and the same hand.")
@click.option("--zero", default=0.0, show_default=True, help="Zero error, in resolutions.")
@click.option("--noise", default=0.5, show_default=True, help="Standard deviation of a reading, in resolutions.")
@click.option("--wild", default=1 / 60, show_default="one in sixty", help="How often a reading is wild.")
def instrument(kind: str, port: int, seed: int, zero: float, noise: float, wild: float) -> None:
    """Stand in for an instrument of the bench: answers as it does at socket://127.0.0.1:PORT until it is stopped."""
    stand_in = StandIn(kind, seed, faults=Faults(noise=noise, zero=zero, wild=wild))
    try:
        server = StandInServer(stand_in, port)
    except OSError as error:
        click.echo(f"Port {port} is taken: choose another.", err=True)
        raise SystemExit(2) from error
    with server:
        click.echo(f"{KINDS[kind].title} at socket://127.0.0.1:{server.port}", nl=True)
        try:
            server.serve_forever()
        except KeyboardInterrupt:
            click.echo("Stopped.")


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
    gc.set_threshold(int(setting("gc.youngest")), int(setting("gc.older")), int(setting("gc.all")))


def _serve(
    data: Path, port: int, host: str = HOST, names: tuple[str, ...] = (), pem: tuple[Path, Path] | None = None
) -> None:
    from arcstack.web import create_app
    from arcstack.web.network import Network, own_names
    from arcstack.web.server import Certificate, server

    certificate = Certificate(*pem) if pem is not None else None
    network = None
    if host != HOST or certificate is not None:
        network = Network(own_names(host, names), certificate is not None)
    try:
        app = create_app(data, network=network)
        if network is not None and not app.extensions["people"].any():
            raise StoreError(
                "The shop's network is not served before a password is set. Set one first: arc-stack password YOUR-NAME"
            )
        run = server(app, host, port, certificate)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    app.extensions["backups"].each_day()
    warm.in_background(after_s=1.5)
    Thread(target=_warm, daemon=True).start()
    if network is None:
        click.echo(f"Arc Stack is at http://{HOST}:{port}/  (Ctrl-C ends it; data in {data})")
    else:
        scheme = "https" if network.tls else "http"
        click.echo(f"Arc Stack is at {scheme}://{host}:{port}/, and answers to {', '.join(network.hosts)}")
        if not network.tls:
            click.echo(
                "Not private: passwords cross this network readable. Name --cert and --key to mend that.", err=True
            )
    run()


PORT = click.option("--port", default=8160, show_default=True, type=click.IntRange(1, 65535), help="Port on loopback.")
DATA = click.option(
    "--data", type=click.Path(file_okay=False, path_type=Path), help="Folder of the workshop; made when missing."
)


def _folder(data: Path | None) -> Path:
    return data or Path(user_data_dir("arc-stack"))


ROLES = ("look", "measure", "build", "owner")

FILE = click.Path(exists=True, dir_okay=False, path_type=Path)


@main.command()
@PORT
@DATA
@click.option(
    "--host", default=HOST, show_default=True, help="Where to listen; 0.0.0.0 is every network of this machine."
)
@click.option("--name", "names", multiple=True, help="A name that it is called by in the shop; once more for another.")
@click.option("--cert", type=FILE, help="Certificate of this machine, PEM, with its chain.")
@click.option("--key", type=FILE, help="Its key, PEM.")
def serve(port: int, data: Path | None, host: str, names: tuple[str, ...], cert: Path | None, key: Path | None) -> None:
    """Serve the workshop: on 127.0.0.1 to this machine alone, with --host to the shop's network, where people sign in.

    The network is not served before a password is set (see the command password).
    """
    if (cert is None) != (key is None):
        raise click.UsageError("A certificate needs its key, and a key its certificate: name both.")
    _serve(_folder(data), port, host, names, (cert, key) if cert is not None and key is not None else None)


@main.command("password")
@click.argument("name")
@DATA
@click.option("--role", type=click.Choice(ROLES), help="What they may do; the first is an owner.")
@click.option("--stdin", "from_stdin", is_flag=True, help="Read the password as one line, instead of asking for it.")
def password(name: str, data: Path | None, role: str | None, from_stdin: bool) -> None:
    """Let NAME sign in, or give NAME a new password; every session of theirs ends."""
    from arcstack.services import Who
    from arcstack.services.people import People, Role
    from arcstack.store import Database

    if from_stdin:
        text = sys.stdin.readline().rstrip("\r\n")
    else:
        text = click.prompt("Password", hide_input=True, confirmation_prompt=True)
    who = Who("command line", lambda: datetime.now(UTC).replace(tzinfo=None))
    try:
        people = People(Database.open(_folder(data) / "workshop.sqlite"))
        made = people.put(name, Role(role) if role else None, text, who)
    except FieldError as error:
        raise click.ClickException(error.message) from error
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{made.name} signs in as {made.role.value}: {made.role.words}.")


def _now() -> datetime:
    return datetime.now(UTC)


@main.command("backup")
@DATA
@click.option(
    "--to", type=click.Path(dir_okay=False, path_type=Path), help="One file to take along, instead of one kept."
)
def backup(data: Path | None, to: Path | None) -> None:
    """Copy the workshop, also while it is served; the copy is opened and looked through before it counts.

    Ends with 0 for a good one, 1 for one that is not.
    """
    from arcstack.services.backups import Backups

    keeper = Backups(_folder(data), _now)
    try:
        made = keeper.portable(to) if to is not None else keeper.take("by command")
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    if not made.good:
        raise click.ClickException(f"{made.path} is not good: {made.wrong}")
    counts = ", ".join(f"{n:,} {name}s" for name, n in made.counts.items() if n)
    click.echo(f"{made.path}: {counts or 'nothing yet'}, {made.pictures // 2} photographs, {made.size / 1e6:.1f} MB")


@main.command("restore")
@click.argument("source", type=click.Path(exists=True, path_type=Path))
@DATA
def restore_backup(source: Path, data: Path | None) -> None:
    """Put a backup, its folder or a file that was taken along, in the place of the workshop; what stood there is kept.

    The workshop must not be served meanwhile. Ends with 1, and changes nothing, where the backup is not good.
    """
    from arcstack.services.backups import restore

    try:
        counts, old = restore(source, _folder(data), _now)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"Restored into {_folder(data)}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n)}")
    if old is not None:
        click.echo(f"What stood there before is kept as {old}")


@main.command("export")
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@DATA
def export_open(target: Path, data: Path | None) -> None:
    """Write the whole workshop to TARGET as open files: JSON, CSV and pictures in one zip archive."""
    from arcstack.services.open_files import export
    from arcstack.store import Database

    folder = _folder(data)
    try:
        if not (folder / "workshop.sqlite").is_file():
            raise StoreError(f"There is no workshop in {folder}.")
        counts = export(Database.open(folder / "workshop.sqlite"), folder / "pictures", target, _now())
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{target}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n) or 'nothing yet'}")


@main.command("import")
@click.argument("source", type=FILE)
@DATA
def import_open(source: Path, data: Path | None) -> None:
    """Take what export wrote into an empty workshop: all of it or nothing."""
    from arcstack.services.open_files import bring_in
    from arcstack.store import Database

    folder = _folder(data)
    try:
        counts = bring_in(Database.open(folder / "workshop.sqlite"), folder / "pictures", source)
    except (StoreError, DocumentError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"Taken into {folder}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n) or 'nothing'}")


@main.command()
@PORT
@DATA
def demo(port: int, data: Path | None) -> None:
    """Serve the demo workshop with its two made-up builds; they are made when the folder has none."""
    from arcstack.demo.workshop import make_demo

    folder = data or _folder(None) / "demo"
    try:
        make_demo(folder)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    _serve(folder, port)


if __name__ == "__main__":
    main()
