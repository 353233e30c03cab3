"""Stand-ins for instruments, linked to a site as real ones are."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from threading import Thread

from arcstack.application.instruments import Instruments
from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer, Truth
from tests.browser.conftest import Site
from tests.web.conftest import WHO


@contextmanager
def instruments(
    site: Site, truth: Truth, kinds: Sequence[str] = tuple(KINDS), mark: str = "1", noise: float = 0.2
) -> Iterator[None]:
    """A stand-in for each kind, called by its kind and a mark, until the block ends however it ends."""
    workshop, servers = Instruments(site.workshop.database), []
    try:
        for kind in kinds:
            server = StandInServer(StandIn(kind, truth=truth, faults=Faults(noise=noise, drift=0.0, wild=0.0)))
            Thread(target=server.serve_forever, daemon=True).start()
            servers.append(server)
            made = server.stand_in.instrument(server.port).model_copy(update={"name": f"{kind} {mark}"})
            workshop.allow(made.address, WHO)
            workshop.put(made.model_dump())
        yield
    finally:
        for server in servers:
            server.shutdown()
            server.server_close()
