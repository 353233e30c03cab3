"""A sheet of a head as PDF, with no server."""

from pathlib import Path

import click

from arcstack.application import Shop
from arcstack.application.head import Opened, find, opened
from arcstack.assess import elastic
from arcstack.cli.given import DATA, folder_of
from arcstack.errors import DocumentError, NotFound, NotKnown, StoreError
from arcstack.formats.sheets import pdf
from arcstack.record.plain import languages
from arcstack.sheets.kinds import KINDS, UNITS
from arcstack.sheets.saying import printing
from arcstack.store.trouble import worded
from arcstack.web.stages import every_stage


@click.command("sheet")
@click.argument("head")
@click.argument("kind", type=click.Choice(list(KINDS)))
@click.option("--to", required=True, type=click.Path(dir_okay=False, path_type=Path), help="The PDF to write.")
@click.option("--units", type=click.Choice(list(UNITS)), default="mm", show_default=True)
@click.option("--language", type=click.Choice(list(languages())), default="en", show_default=True)
@click.option("--by", default="this machine", show_default=True, help="Whose hand prints it.")
@DATA
def sheet(head: str, kind: str, to: Path, units: str, language: str, by: str, data: Path | None) -> None:
    """Print a sheet of HEAD, its name or its number, also while the workshop is served.

    A signed head is printed as it was signed.
    """
    folder = folder_of(data)
    if not (folder / "workshop.sqlite").is_file():
        raise click.ClickException(f"There is no workshop in {folder}.")
    try:
        shop = Shop(folder)
        number = find(shop.database, head).id
        if KINDS[kind].judged:
            _turned(opened(shop, number, "intake"))
        made = printing(shop, number, UNITS[units], by, every_stage(), language)
        text = pdf(KINDS[kind].make(made))
        with worded(to):
            to.write_bytes(text)
    except (StoreError, NotFound, DocumentError) as error:
        raise click.ClickException(str(error)) from error
    signed = ", as it was signed" if made.signed is not None else ""
    click.echo(f"{to}: {KINDS[kind].title} of {made.current.build.name}, revision {made.current.revision}{signed}")


def _turned(here: Opened) -> None:
    """The elastic trains turned first: nobody looks again in a moment."""
    for ctx in here.design.sides.values():
        try:
            here.shop.sweeps.answer(elastic.question(ctx))
        except NotKnown:
            continue
