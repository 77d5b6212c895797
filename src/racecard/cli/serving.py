"""Commands of the server and what it keeps: start, demo, backup, restore, rebuild, verify."""

import socket
import threading
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING

import click

from racecard.cli.group import PATH, OneOf, app, folder_option, port_option

if TYPE_CHECKING:
    from racecard.store.engine import Shed


class Backups(StrEnum):
    """How often a backup makes itself."""

    DAILY = "daily"
    WEEKLY = "weekly"
    NEVER = "never"


class Log(StrEnum):
    """From which level on the server tells what it does; `info` is one line a request."""

    WARNING = "warning"
    INFO = "info"
    DEBUG = "debug"


@app.command()
@folder_option
@port_option
@click.option(
    "--shed", "share", is_flag=True, help="Let phones on the local network join, over HTTPS."
)
@click.option(
    "--address",
    default="",
    help="Address phones reach this machine by; found if not said.",
)
@click.option(
    "--backups",
    type=OneOf(Backups),
    default=Backups.DAILY,
    help="How often a backup makes itself while this runs.",
)
@click.option(
    "--log",
    type=OneOf(Log),
    default=Log.WARNING,
    help="What is written to the terminal; info: one line per request.",
)
def start(
    data: Path | None, port: int, share: bool, address: str, backups: Backups, log: Log
) -> None:
    """Serve your own trials on this machine; with --shed, to phones on the local network too."""
    from racecard.store.engine import Shed, default_folder

    shed = Shed(data or default_folder())
    if shed.copy_before is not None:
        click.echo(
            f"The saved file was brought up to date; as it was, it is kept in {shed.copy_before}."
        )
    if backups is not Backups.NEVER:
        _keep_backing_up(shed, backups)
    if not share:
        _serve(shed, port, log)
        return
    from racecard.cli.sharing import serve_shared

    _check_free(port)
    serve_shared(shed, port, address, log)


def _keep_backing_up(shed: "Shed", backups: Backups) -> None:
    from racecard.store.schedule import keep_backing_up

    every = timedelta(days=7 if backups is Backups.WEEKLY else 1)
    args = (shed.path.parent, shed.now, every, threading.Event())
    threading.Thread(target=keep_backing_up, args=args, daemon=True).start()


@app.command()
@folder_option
@port_option
@click.option(
    "--dry-run/--no-dry-run",
    "dry",
    default=True,
    help="Simulate the camellia plan in the background.",
)
def demo(data: Path | None, port: int, dry: bool) -> None:
    """Serve a shed of invented trials, in a folder of its own."""
    from racecard.demo.scenario import build_demo
    from racecard.store.engine import Shed, default_folder
    from racecard.store.trials import has_invented

    shed = Shed(data or default_folder() / "demo")
    with shed.reading() as session:
        is_there = has_invented(session)
    if not is_there:
        build_demo(shed, _local_zone())
    if dry:
        threading.Thread(target=_dry_demo, args=(shed,), daemon=True).start()
    _serve(shed, port)


def _dry_demo(shed: "Shed") -> None:
    """The demo's dry runs, made while the page is already there."""
    from racecard.demo.dry_run import carry_camellia_out
    from racecard.demo.scenario import CAMELLIA
    from racecard.store.trials import load_trials

    with shed.reading() as session:
        found = [t for t in load_trials(session) if t.plan.question == CAMELLIA.plan.question]
    if found:
        carry_camellia_out(shed, found[0], "Ines")


@app.command()
@click.argument("file", type=PATH)
@folder_option
def backup(file: Path, data: Path | None) -> None:
    """Write the whole shed to one FILE, while it may be running."""
    from racecard.store.backup import back_up
    from racecard.store.engine import default_folder

    size = back_up(data or default_folder(), file, datetime.now(UTC))
    click.echo(f"The backup is in {file} ({size / 1000:.0f} kB).")


@app.command()
@click.argument("file", type=PATH)
@folder_option
def restore(file: Path, data: Path | None) -> None:
    """Put a backup FILE in place of the shed; what was there is kept beside it."""
    from racecard.store.backup import restore as put_back
    from racecard.store.engine import default_folder

    kept = put_back(file, data or default_folder(), datetime.now(UTC))
    click.echo("The backup is restored." + (f" What was there is kept in {kept}." if kept else ""))


@app.command()
@folder_option
def rebuild(data: Path | None) -> None:
    """Make anew what lists show of each trial; nothing of the trials themselves is touched."""
    from racecard.api.standings import lines_of_all
    from racecard.store.engine import Shed, default_folder
    from racecard.store.summaries import forget_summaries

    shed = Shed(data or default_folder())
    forget_summaries(shed)
    lines = lines_of_all(shed)
    odd = sum(bool(line.fault) for line in lines)
    click.echo(
        f"The lists of {len(lines)} trials are made anew."
        + (f" {odd} cannot be read." if odd else "")
    )


@app.command()
@folder_option
def verify(data: Path | None) -> None:
    """Hold every row of the log against its chain of hashes: whether anything was altered since."""
    from racecard.store.chain import verify as held
    from racecard.store.engine import FILE_NAME, default_folder

    found = held((data or default_folder()) / FILE_NAME)
    for what, rows in (
        ("altered", found.altered), ("gone", found.missing), ("written past Racecard", found.unlinked),
    ):  # fmt: skip
        for row in rows:
            click.echo(f"{what}: {row}")
    if not found.is_whole:
        raise click.exceptions.Exit(1)
    click.echo(f"The log is complete: {found.links} rows, the last link {found.head[:12]}.")


def _local_zone() -> str:
    """The machine's time zone by name, UTC where it has none."""
    link = Path("/etc/localtime")
    if link.is_symlink() and "zoneinfo/" in str(link.resolve()):
        return str(link.resolve()).split("zoneinfo/")[1]
    return "UTC"


def _serve(shed: object, port: int, log: str = "warning") -> None:
    from racecard.api.app import create_app
    from racecard.cli.running import run
    from racecard.store.engine import Shed

    assert isinstance(shed, Shed)
    _check_free(port)
    click.echo(
        f"Racecard is at http://127.0.0.1:{port}  (data in {shed.path.parent}; Ctrl-C ends it)"
    )
    run(create_app(shed), port, log)


def _check_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as exc:
            click.echo(f"Port {port} is taken: end the other server, or name another with --port.")
            raise click.exceptions.Exit(1) from exc
