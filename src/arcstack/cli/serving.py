"""The workshop served: to this machine, or to the people of a shop's network."""

import gc
import os
from contextlib import suppress
from pathlib import Path
from threading import Timer

import click
from flask import Flask
from jinja2.bccache import Bucket, FileSystemBytecodeCache
from platformdirs import user_cache_dir

from arcstack.application import Sweeps
from arcstack.application.certificates import CERTIFICATE, KEY, folder_of_certificates, names_of
from arcstack.assess import assess
from arcstack.cli.given import DATA, FILE, PORT, folder_of
from arcstack.demo import demo_builds
from arcstack.demo.workshop import make_demo
from arcstack.dynamics.apart import Apart
from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.store.database import own_folder
from arcstack.web import create_app
from arcstack.web.guard import Guard
from arcstack.web.network import Network, own_names
from arcstack.web.server import Certificate, server

HOST = "127.0.0.1"
ENDS_S = setting("serve.ends")

AFTER_S = 0.5
"""What is loaded ahead waits so long: a page that is asked for at once comes first."""


def _warm(sweeps: Sweeps) -> None:
    """Load what the first build will need while the first page is being read."""
    for build in demo_builds():
        assess(build)
    settle()
    with suppress(OSError):
        sweeps.worker.prepare()


class _Templates(FileSystemBytecodeCache):
    """Templates compiled once for every start; a page comes all the same where they cannot be kept."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        with suppress(OSError):
            super().dump_bytecode(bucket)


def _keep_templates(app: Flask) -> None:
    folder = Path(user_cache_dir("arc-stack")) / "templates"
    with suppress(OSError):
        own_folder(folder)
        app.jinja_env.bytecode_cache = _Templates(str(folder))


def settle() -> None:
    """Leave what was loaded to start with out of every later search for garbage: a page is then less often held up."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(int(setting("gc.youngest")), int(setting("gc.older")), int(setting("gc.all")))


def _serve(
    data: Path, port: int, host: str = HOST, names: tuple[str, ...] = (), pem: tuple[Path, Path] | None = None
) -> None:
    certificate = Certificate(*pem) if pem is not None else None
    network = None
    if host != HOST or certificate is not None:
        network = Network(own_names(host, names), certificate is not None)
    try:
        # elastic trains turn beside the pages, not among them
        sweeps = Sweeps(Apart())
        app = create_app(data, sweeps=sweeps, network=network)
        _keep_templates(app)
        if network is not None and not app.extensions["shop"].people.any():
            raise StoreError(
                "The shop's network is not served before a password is set. Set one first: arc-stack password YOUR-NAME"
            )
        door = server(app, host, port, certificate, Guard(app))
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    app.extensions["shop"].backups.each_day()
    ahead = Timer(AFTER_S, _warm, (sweeps,))
    ahead.daemon = True
    ahead.start()
    if network is None:
        click.echo(f"Arc Stack is at http://{HOST}:{port}/  (Ctrl-C ends it; data in {data})")
    else:
        scheme = "https" if network.tls else "http"
        click.echo(f"Arc Stack is at {scheme}://{host}:{port}/, and answers to {', '.join(network.hosts)}")
        if not network.tls:
            click.echo(
                "Not private: passwords cross this network readable. Name --cert and --key to mend that.", err=True
            )
    try:
        door.run()
    except KeyboardInterrupt:
        pass
    finally:
        # a thread may still be listening to an instrument that says nothing
        late = Timer(ENDS_S, os._exit, (0,))
        late.daemon = True
        late.start()


@click.command()
@PORT
@DATA
@click.option(
    "--host", default=HOST, show_default=True, help="Where to listen; 0.0.0.0 is every network of this machine."
)
@click.option("--name", "names", multiple=True, help="A name that it is called by in the shop; once more for another.")
@click.option("--cert", type=FILE, help="Certificate of this machine, PEM, with its chain.")
@click.option("--key", type=FILE, help="Its key, PEM.")
@click.option("--private", is_flag=True, help="With the certificate that `arc-stack certificate` made.")
def serve(
    port: int, data: Path | None, host: str, names: tuple[str, ...], cert: Path | None, key: Path | None, private: bool
) -> None:
    """Serve the workshop: on 127.0.0.1 to this machine alone, with --host to the shop's network, where people sign in.

    The network is not served before a password is set (see the command password).
    """
    if (cert is None) != (key is None):
        raise click.UsageError("A certificate needs its key, and a key its certificate: name both.")
    if private:
        folder = folder_of_certificates(folder_of(data))
        cert, key = folder / CERTIFICATE, folder / KEY
        if not cert.is_file():
            raise click.ClickException("There is no certificate yet: arc-stack certificate bench.local makes one.")
        names = (*names, *names_of(cert))
    _serve(folder_of(data), port, host, names, (cert, key) if cert is not None and key is not None else None)


@click.command()
@PORT
@DATA
def demo(port: int, data: Path | None) -> None:
    """Serve the demo workshop with its two made-up builds; they are made when the folder has none."""

    folder = data or folder_of(None) / "demo"
    try:
        make_demo(folder)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    _serve(folder, port)
