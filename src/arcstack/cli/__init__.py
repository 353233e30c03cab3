"""The command line."""

import gc
from importlib import import_module

import click

from arcstack import __version__

COMMANDS = {
    "check": "checking:check",
    "schema": "checking:print_schema",
    "docs": "checking:write_docs",
    "sheet": "printing:sheet",
    "shelf": "shelving:convert_shelf",
    "specify": "shelving:specify",
    "instrument": "standing_in:instrument",
    "serve": "serving:serve",
    "demo": "serving:demo",
    "certificate": "signing_in:certificate",
    "password": "signing_in:password",
    "backup": "keeping:backup",
    "restore": "keeping:restore_backup",
    "restore-head": "keeping:restore_one",
    "second-folder": "keeping:second_folder",
    "seals": "keeping:seals",
    "export": "keeping:export_open",
    "import": "keeping:import_open",
}
"""Each command by its name, and where it stands: only the one that is asked for is loaded."""


class _Commands(click.Group):
    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, name: str) -> click.Command | None:
        module, _, function = COMMANDS.get(name, "").partition(":")
        if not module:
            return None
        # what is loaded stays: it is not looked through for garbage, now or later
        gc.disable()
        try:
            found: click.Command = getattr(import_module(f"arcstack.cli.{module}"), function)
            gc.freeze()
        finally:
            gc.enable()
        return found


@click.group(cls=_Commands)
@click.version_option(__version__)
def main() -> None:
    """Valvetrain stacks, worked and checked."""
