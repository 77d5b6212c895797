"""Serving the local network: HTTPS beside this machine's own page, with the join code shown."""

import socket
import sys
import threading

import click
import segno
import uvicorn

from racecard.api.app import create_app
from racecard.api.boundary import LOCAL_HOSTS
from racecard.api.gate import Gate, Sharing
from racecard.cli.running import run
from racecard.store.authority import certificate_for
from racecard.store.engine import Shed


def serve_shared(shed: Shed, port: int, address: str, log: str = "warning") -> None:
    """Serve this machine on one port and, through the gate, the network on the next.

    Args:
        shed: the shed.
        port: of this machine's own page; the network's is one higher.
        address: by which phones reach this machine; found where empty.
        log: from which level on the servers tell what they do.
    """
    reached = address or _own_address()
    name = socket.gethostname()
    hosts = list(dict.fromkeys([reached, "127.0.0.1", "localhost", name, f"{name}.local"]))
    served = certificate_for(shed.path.parent, [h for h in hosts if h.isascii()], shed.now())
    app = create_app(shed, hosts=(*LOCAL_HOSTS, *hosts))
    app.state.sharing = sharing = Sharing(
        f"https://{reached}:{port + 1}", served.fingerprint, served.root.read_bytes(), shed.now
    )
    bind = "127.0.0.1" if reached == "127.0.0.1" else "0.0.0.0"
    network = uvicorn.Server(
        uvicorn.Config(
            Gate(app, shed, sharing), host=bind, port=port + 1, log_level=log,
            ssl_certfile=str(served.certificate), ssl_keyfile=str(served.key),
        )
    )  # fmt: skip
    side = threading.Thread(target=network.run, daemon=True)
    side.start()
    join = f"{sharing.url}/join#{sharing.code}"
    click.echo(
        f"Racecard is at http://127.0.0.1:{port}  (data in {shed.path.parent}; Ctrl-C ends it)"
    )
    click.echo(
        f"Phones join at {sharing.url}/join with the code {sharing.code} (for ten minutes; then see Phones on the page)"
    )
    if sys.stdout.isatty():
        segno.make(join, error="m").terminal(compact=True)
    run(app, port, log)
    network.should_exit = True
    side.join(timeout=5)


def _own_address() -> str:
    """The address this machine has on its network; no packet is sent to find it."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("10.255.255.255", 1))
            return str(probe.getsockname()[0])
        except OSError:
            return "127.0.0.1"
