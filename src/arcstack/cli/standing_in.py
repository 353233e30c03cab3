"""Stand-ins for the instruments of the bench."""

import click

from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer


@click.command("instrument")
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
