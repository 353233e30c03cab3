"""Who may sign in where the workshop is served to a network."""

import sys
from datetime import UTC, datetime
from pathlib import Path

import click

from arcstack.application import Who
from arcstack.application.certificates import make
from arcstack.application.people import People, Role
from arcstack.cli.given import DATA, folder_of
from arcstack.errors import FieldError, StoreError
from arcstack.store import Database


@click.command("password")
@click.argument("name")
@DATA
@click.option("--role", type=click.Choice([r.value for r in Role]), help="What they may do; the first is an owner.")
@click.option("--stdin", "from_stdin", is_flag=True, help="Read the password as one line, instead of asking for it.")
def password(name: str, data: Path | None, role: str | None, from_stdin: bool) -> None:
    """Let NAME sign in, or give NAME a new password; every session of theirs ends."""
    if from_stdin:
        text = sys.stdin.readline().rstrip("\r\n")
    else:
        text = click.prompt("Password", hide_input=True, confirmation_prompt=True)
    who = Who("command line", lambda: datetime.now(UTC).replace(tzinfo=None))
    try:
        people = People(Database.open(folder_of(data) / "workshop.sqlite"))
        made = people.put(name, Role(role) if role else None, text, who)
    except FieldError as error:
        raise click.ClickException(error.message) from error
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{made.name} signs in as {made.role.value}: {made.role.words}.")


@click.command("certificate")
@click.argument("names", nargs=-1, required=True)
@DATA
def certificate(names: tuple[str, ...], data: Path | None) -> None:
    """Make a certificate for this machine, called NAMES such as bench.local, by the shop's own authority.

    Tablets take the authority once, from the page /trust; `serve --private` uses the certificate.
    """
    try:
        made = make(folder_of(data), names, datetime.now(UTC))
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{made.certificate}, for {', '.join(names)}, until {made.ends:%-d %B %Y}")
    click.echo(f"Its authority, to be trusted by each tablet, has the SHA-256\n{made.fingerprint}")
