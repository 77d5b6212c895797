"""The `racecard` command: start, demo, finish, series, power, design, mix, logger, backup, restore."""

import socket
import threading
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer
from typer.core import TyperGroup

from racecard import __version__
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind
from racecard.errors import AppError

if TYPE_CHECKING:
    from racecard.store.engine import Shed


class Plainly(TyperGroup):
    """Commands whose refusals are one sentence and exit 2, never a traceback."""

    def invoke(self, ctx: typer.Context) -> Any:  # type: ignore[override]  # typer's own context
        """Run the command that was asked for."""
        try:
            return super().invoke(ctx)
        except AppError as exc:
            typer.echo(exc.detail, err=True)
        except OSError as exc:
            what = f"{exc.filename}: " if exc.filename else ""
            typer.echo(
                f"{what}{exc.strerror or exc}. Check the folder and its rights, or name another.",
                err=True,
            )
        raise typer.Exit(2)


app = typer.Typer(
    cls=Plainly,
    no_args_is_help=True,
    add_completion=False,
    help="Racecard: honest propagation trials.",
)


@app.callback()
def version(
    told: Annotated[bool, typer.Option("--version", help="Say which version this is.")] = False,
) -> None:
    """Racecard: honest propagation trials."""
    if told:
        typer.echo(f"racecard {__version__}")
        raise typer.Exit


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


Folder = Annotated[Path | None, typer.Option("--data", help="Folder that holds the saved trials.")]
Port = Annotated[int, typer.Option("--port", min=1, max=65535, help="Port on 127.0.0.1.")]


@app.command()
def start(
    data: Folder = None,
    port: Port = 8620,
    share: Annotated[
        bool, typer.Option("--shed", help="Let phones on the local network join, over HTTPS.")
    ] = False,
    address: Annotated[
        str,
        typer.Option("--address", help="Address phones reach this machine by; found if not said."),
    ] = "",
    backups: Annotated[
        Backups, typer.Option(help="How often a backup makes itself while this runs.")
    ] = Backups.DAILY,
    log: Annotated[
        Log, typer.Option(help="What is written to the terminal; info: one line per request.")
    ] = Log.WARNING,
) -> None:
    """Serve your own trials on this machine; with --shed, to phones on the local network too."""
    from racecard.store.engine import Shed, default_folder

    shed = Shed(data or default_folder())
    if shed.copy_before is not None:
        typer.echo(
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
def demo(
    data: Folder = None,
    port: Port = 8620,
    dry: Annotated[
        bool,
        typer.Option(
            "--dry-run/--no-dry-run", help="Simulate the camellia plan in the background."
        ),
    ] = True,
) -> None:
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
def finish(
    file: Annotated[Path, typer.Argument(help="A table of results (CSV, XLSX) or a trial (JSON).")],
    unit: Annotated[UnitKind | None, typer.Option(help="What was randomised.")] = None,
    control: Annotated[str | None, typer.Option(help="Name of the untreated control.")] = None,
    dates: Annotated[
        DateOrder | None, typer.Option(help="What comes first in dates such as 03/04/2026.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Judge a table of results or a whole trial's file, in words or as JSON."""
    from racecard.cli import finish as judged

    table = judged.judged_file(file, unit, control, dates)
    typer.echo(judged.as_json(table) if as_json else judged.as_words(table))


@app.command()
def series(
    files: Annotated[
        list[Path],
        typer.Argument(help="The runs in their order: tables (CSV, XLSX) or trials (JSON)."),
    ],
    control: Annotated[str | None, typer.Option(help="Name of the untreated control.")] = None,
    treatment: Annotated[
        str | None, typer.Option(help="Which treatment; the first where not given.")
    ] = None,
    dates: Annotated[
        DateOrder | None, typer.Option(help="What comes first in dates such as 03/04/2026.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Judge runs of one plan together; refused where they differ in dose, plant, endpoint or control."""
    from racecard.cli import series as joined

    found = joined.judged_runs(files, control, dates)
    about = joined.chosen(found, treatment)
    typer.echo(joined.as_json(found, about) if as_json else joined.as_words(found, about))


@app.command("gardens-import")
def gardens_import(
    file: Annotated[
        Path, typer.Argument(help="A form's answers (CSV, XLSX), one row a garden or more.")
    ],
    map_: Annotated[
        list[str] | None,
        typer.Option(
            "--map", help='Which column is what: treatment=Pot,start="Sown on",struck:Dry=Dry'
        ),
    ] = None,
    control: Annotated[str | None, typer.Option(help="Name of the untreated control.")] = None,
    days: Annotated[
        int | None,
        typer.Option(min=1, max=730, help="Last day of each garden, from its own start."),
    ] = None,
    dates: Annotated[
        DateOrder | None, typer.Option(help="What comes first in dates such as 03/04/2026.")
    ] = None,
    enrolled: Annotated[
        int | None,
        typer.Option(min=1, help="Gardens that joined, if the form does not name them all."),
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Judge the returns of many gardens from any form, and tell what became of every row."""
    from racecard.cli import gardens

    found = gardens.judged_form(
        file,
        map_ or [],
        control,
        dates=dates,
        days=days,
        today=datetime.now(UTC).date(),
        enrolled=enrolled,
    )
    typer.echo(gardens.as_json(*found) if as_json else gardens.as_words(*found))


@app.command()
def gardens(
    count: Annotated[int, typer.Option(min=1, max=10_000, help="Gardens that joined.")] = 40,
    silent: Annotated[float, typer.Option(min=0, max=1, help="Share that sends no result.")] = 0.3,
    faults: Annotated[
        bool, typer.Option("--faults", help="Some start late, send twice or send nonsense.")
    ] = False,
    seed: Annotated[int, typer.Option(help="The same seed plays the same gardens.")] = 1,
) -> None:
    """Play other gardens: a stand-in that prints the form they send, sound or faulty."""
    from racecard.standins.gardens import played_form

    first = (datetime.now(UTC) - timedelta(days=75)).date()
    typer.echo(played_form(count, silent, faults=faults, seed=seed, first=first), nl=False)


@app.command()
def power(
    control: Annotated[float, typer.Option(help="True share struck of the control, 0 to 1.")],
    treated: Annotated[float, typer.Option(help="True share struck of the treated.")],
    units: Annotated[int, typer.Option(help="Units per treatment: plants, pairs or containers.")],
    candidates: Annotated[int, typer.Option(help="Candidates that Holm corrects for.")] = 1,
    pairs: Annotated[bool, typer.Option("--pairs", help="Units are matched pairs.")] = False,
    agree: Annotated[float, typer.Option(help="Likeness within a pair, 0 none to 1 most.")] = 0.0,
    per_container: Annotated[int, typer.Option(help="Plants in a container.")] = 1,
    icc: Annotated[float, typer.Option(help="Likeness of plants in one container.")] = 0.1,
    aim: Annotated[float, typer.Option(help="Power that is wanted.")] = 0.8,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """What a number of units can show, and how many it would need."""
    from racecard.cli import power as reckoned

    asked = reckoned.Question(
        control, treated, units, candidates, pairs, agree, per_container, icc, aim
    )
    found = reckoned.answer(asked)
    typer.echo(reckoned.as_json(found) if as_json else reckoned.as_words(asked, found))


@app.command()
def design(
    have: Annotated[int, typer.Option(help="Cuttings or seeds there are.")],
    control: Annotated[float, typer.Option(help="Share that usually succeeds untreated, 0 to 1.")],
    difference: Annotated[float, typer.Option(help="Smallest difference that matters, in points.")],
    containers: Annotated[
        int | None,
        typer.Option(
            help="Jars, pots or cells that can stand apart; each its own where not given."
        ),
    ] = None,
    treatments: Annotated[int, typer.Option(help="Treatments wanted, the control included.")] = 2,
    sites: Annotated[
        int, typer.Option(help="Places that each hold a part of every treatment.")
    ] = 1,
    seed_kind: Annotated[
        bool, typer.Option("--seed-kind", help="They are seeds, not cuttings.")
    ] = False,
    icc: Annotated[float, typer.Option(help="Likeness of plants in one container.")] = 0.1,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Up to three plans from what there is, best first."""
    from racecard.cli import design as designed

    asked = designed.asked(
        have,
        containers,
        treatments,
        control=control,
        points=difference,
        sites=sites,
        is_seed=seed_kind,
        icc=icc,
    )
    found = designed.propose(asked)
    typer.echo(designed.as_json(asked, found) if as_json else designed.as_words(asked, found))


@app.command()
def mix(
    line: Annotated[
        str, typer.Argument(help="What to make: 250 mL of 1500 ppm IBA from 1 % stock")
    ],
    choose: Annotated[
        list[str] | None, typer.Option(help="An answer, such as spoon=metric or parts=in.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Work out one line of the mixing bench: amounts, warnings, and the questions left open."""
    from racecard.cli import mix as bench

    read, card = bench.worked_out(line, choose or [])
    typer.echo(bench.as_json(read, card) if as_json else bench.as_words(card))
    if card.is_open:
        raise typer.Exit(3)


@app.command()
def logger(
    port: Port = 8620,
    place: Annotated[str, typer.Option(help="Where it stands.")] = "mist bench",
    hours: Annotated[float, typer.Option(help="Hours up to now to post.")] = 24,
    every: Annotated[int, typer.Option(help="Minutes between readings.")] = 30,
    fault: Annotated[str, typer.Option(help="none, gaps, spikes, stuck or clock.")] = "none",
    seed: Annotated[int, typer.Option(help="The same seed plays the same readings.")] = 1,
) -> None:
    """Play a bench sensor: a stand-in that posts readings to a running shed, sound or faulty."""
    from racecard.standins.bench_logger import play

    added = play(port, place, hours, every, fault, seed, datetime.now(UTC))
    typer.echo(f"{added} readings of {place} posted{'' if fault == 'none' else f', with {fault}'}.")


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(help="The file to write.")], data: Folder = None
) -> None:
    """Write the whole shed to one file, while it may be running."""
    from racecard.store.backup import back_up
    from racecard.store.engine import default_folder

    size = back_up(data or default_folder(), file, datetime.now(UTC))
    typer.echo(f"The backup is in {file} ({size / 1000:.0f} kB).")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A file that backup wrote.")], data: Folder = None
) -> None:
    """Put a backup in place of the shed; what was there is kept beside it."""
    from racecard.store.backup import restore as put_back
    from racecard.store.engine import default_folder

    kept = put_back(file, data or default_folder(), datetime.now(UTC))
    typer.echo("The backup is restored." + (f" What was there is kept in {kept}." if kept else ""))


@app.command()
def rebuild(data: Folder = None) -> None:
    """Make anew what lists show of each trial; nothing of the trials themselves is touched."""
    from racecard.api.standings import lines_of_all
    from racecard.store.engine import Shed, default_folder
    from racecard.store.summaries import forget_summaries

    shed = Shed(data or default_folder())
    forget_summaries(shed)
    lines = lines_of_all(shed)
    odd = sum(bool(line.fault) for line in lines)
    typer.echo(
        f"The lists of {len(lines)} trials are made anew."
        + (f" {odd} cannot be read." if odd else "")
    )


@app.command()
def verify(data: Folder = None) -> None:
    """Hold every row of the log against its chain of hashes: whether anything was altered since."""
    from racecard.store.chain import verify as held
    from racecard.store.engine import FILE_NAME, default_folder

    found = held((data or default_folder()) / FILE_NAME)
    for what, rows in (
        ("altered", found.altered), ("gone", found.missing), ("written past Racecard", found.unlinked),
    ):  # fmt: skip
        for row in rows:
            typer.echo(f"{what}: {row}")
    if not found.is_whole:
        raise typer.Exit(1)
    typer.echo(f"The log is complete: {found.links} rows, the last link {found.head[:12]}.")


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
    typer.echo(
        f"Racecard is at http://127.0.0.1:{port}  (data in {shed.path.parent}; Ctrl-C ends it)"
    )
    run(create_app(shed), port, log)


def _check_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as exc:
            typer.echo(f"Port {port} is taken: end the other server, or name another with --port.")
            raise typer.Exit(1) from exc
