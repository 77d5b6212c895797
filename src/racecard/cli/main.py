"""The `racecard` command: start, demo, finish, series, power, design, mix, logger, backup, restore."""

import socket
import threading
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from racecard import __version__
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind
from racecard.errors import AppError

if TYPE_CHECKING:
    from racecard.store.engine import Shed


class Plainly(click.Group):
    """Commands whose refusals are one sentence and exit 2, never a traceback."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """The commands in the order they are written in: what one starts with comes first."""
        return list(self.commands)

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Each command with its whole sentence, wrapped."""
        with formatter.section("Commands"):
            formatter.write_dl(
                [(name, c.get_short_help_str(limit=200)) for name, c in self.commands.items()]
            )

    def invoke(self, ctx: click.Context) -> Any:
        """Run the command that was asked for."""
        try:
            return super().invoke(ctx)
        except AppError as exc:
            click.echo(exc.detail, err=True)
        except OSError as exc:
            what = f"{exc.filename}: " if exc.filename else ""
            click.echo(
                f"{what}{exc.strerror or exc}. Check the folder and its rights, or name another.",
                err=True,
            )
        raise click.exceptions.Exit(2)


@click.group(cls=Plainly, context_settings={"show_default": True})
@click.version_option(__version__, message="%(prog)s %(version)s", prog_name="racecard")
def app() -> None:
    """Racecard: honest propagation trials."""


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


class _OneOf(click.Choice[str]):
    """One of the words of an enumeration, handed on as its member."""

    def __init__(self, words: type[StrEnum]) -> None:
        super().__init__([str(word) for word in words])
        self.words = words

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        """The member that was named."""
        return self.words(super().convert(str(value), param, ctx))


class _Whole(click.types.IntParamType):
    name = "whole number"


class _Number(click.types.FloatParamType):
    name = "number"


class _WholeRange(click.IntRange):
    name = "whole number"


class _NumberRange(click.FloatRange):
    name = "number"


_PATH = click.Path(path_type=Path)
_folder = click.option("--data", type=_PATH, help="Folder that holds the saved trials.")
_port = click.option("--port", type=_WholeRange(1, 65535), default=8620, help="Port on 127.0.0.1.")


@app.command()
@_folder
@_port
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
    type=_OneOf(Backups),
    default=Backups.DAILY,
    help="How often a backup makes itself while this runs.",
)
@click.option(
    "--log",
    type=_OneOf(Log),
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
@_folder
@_port
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
@click.argument("file", type=_PATH)
@click.option("--unit", type=_OneOf(UnitKind), help="What was randomised.")
@click.option("--control", help="Name of the untreated control.")
@click.option(
    "--dates", type=_OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def finish(
    file: Path, unit: UnitKind | None, control: str | None, dates: DateOrder | None, as_json: bool
) -> None:
    """Judge a table of results or a whole trial's file, in words or as JSON.

    FILE is a table (CSV, XLSX) or a trial (JSON).
    """
    from racecard.cli import finish as judged

    table = judged.judged_file(file, unit, control, dates)
    click.echo(judged.as_json(table) if as_json else judged.as_words(table))


@app.command()
@click.argument("files", type=_PATH, nargs=-1, required=True)
@click.option("--control", help="Name of the untreated control.")
@click.option("--treatment", help="Which treatment; the first where not given.")
@click.option(
    "--dates", type=_OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def series(
    files: tuple[Path, ...],
    control: str | None,
    treatment: str | None,
    dates: DateOrder | None,
    as_json: bool,
) -> None:
    """Judge runs of one plan together; refused where they differ in dose, plant, endpoint or control.

    FILES are the runs in their order: tables (CSV, XLSX) or trials (JSON).
    """
    from racecard.cli import series as joined

    found = joined.judged_runs(files, control, dates)
    about = joined.chosen(found, treatment)
    click.echo(joined.as_json(found, about) if as_json else joined.as_words(found, about))


@app.command("gardens-import")
@click.argument("file", type=_PATH)
@click.option(
    "--map",
    "map_",
    multiple=True,
    help='Which column is what: treatment=Pot,start="Sown on",struck:Dry=Dry',
)
@click.option("--control", help="Name of the untreated control.")
@click.option(
    "--days", type=_WholeRange(1, 730), help="Last day of each garden, from its own start."
)
@click.option(
    "--dates", type=_OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
)
@click.option(
    "--enrolled",
    type=_WholeRange(1),
    help="Gardens that joined, if the form does not name them all.",
)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def gardens_import(
    file: Path,
    map_: tuple[str, ...],
    control: str | None,
    days: int | None,
    dates: DateOrder | None,
    enrolled: int | None,
    as_json: bool,
) -> None:
    """Judge the returns of many gardens from any form, and tell what became of every row.

    FILE holds a form's answers (CSV, XLSX), one row a garden or more.
    """
    from racecard.cli import gardens

    found = gardens.judged_form(
        file,
        map_,
        control,
        dates=dates,
        days=days,
        today=datetime.now(UTC).date(),
        enrolled=enrolled,
    )
    click.echo(gardens.as_json(*found) if as_json else gardens.as_words(*found))


@app.command()
@click.option(
    "--count",
    type=_WholeRange(1, 10_000),
    default=40,
    help="Gardens that joined.",
)
@click.option(
    "--silent",
    type=_NumberRange(0, 1),
    default=0.3,
    help="Share that sends no result.",
)
@click.option("--faults", is_flag=True, help="Some start late, send twice or send nonsense.")
@click.option("--seed", type=_Whole(), default=1, help="The same seed plays the same gardens.")
def gardens(count: int, silent: float, faults: bool, seed: int) -> None:
    """Play other gardens: a stand-in that prints the form they send, sound or faulty."""
    from racecard.standins.gardens import played_form

    first = (datetime.now(UTC) - timedelta(days=75)).date()
    click.echo(played_form(count, silent, faults=faults, seed=seed, first=first), nl=False)


@app.command()
@click.option(
    "--control", type=_Number(), required=True, help="True share struck of the control, 0 to 1."
)
@click.option("--treated", type=_Number(), required=True, help="True share struck of the treated.")
@click.option(
    "--units",
    type=_Whole(),
    required=True,
    help="Units per treatment: plants, pairs or containers.",
)
@click.option("--candidates", type=_Whole(), default=1, help="Candidates that Holm corrects for.")
@click.option("--pairs", is_flag=True, help="Units are matched pairs.")
@click.option(
    "--agree",
    type=_Number(),
    default=0.0,
    help="Likeness within a pair, 0 none to 1 most.",
)
@click.option("--per-container", type=_Whole(), default=1, help="Plants in a container.")
@click.option("--icc", type=_Number(), default=0.1, help="Likeness of plants in one container.")
@click.option("--aim", type=_Number(), default=0.8, help="Power that is wanted.")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def power(
    control: float,
    treated: float,
    units: int,
    candidates: int,
    pairs: bool,
    agree: float,
    per_container: int,
    icc: float,
    aim: float,
    as_json: bool,
) -> None:
    """What a number of units can show, and how many it would need."""
    from racecard.cli import power as reckoned

    asked = reckoned.Question(
        control, treated, units, candidates, pairs, agree, per_container, icc, aim
    )
    found = reckoned.answer(asked)
    click.echo(reckoned.as_json(found) if as_json else reckoned.as_words(asked, found))


@app.command()
@click.option("--have", type=_Whole(), required=True, help="Cuttings or seeds there are.")
@click.option(
    "--control",
    type=_Number(),
    required=True,
    help="Share that usually succeeds untreated, 0 to 1.",
)
@click.option(
    "--difference",
    type=_Number(),
    required=True,
    help="Smallest difference that matters, in points.",
)
@click.option(
    "--containers",
    type=_Whole(),
    help="Jars, pots or cells that can stand apart; each its own where not given.",
)
@click.option(
    "--treatments", type=_Whole(), default=2, help="Treatments wanted, the control included."
)
@click.option(
    "--sites", type=_Whole(), default=1, help="Places that each hold a part of every treatment."
)
@click.option("--seed-kind", is_flag=True, help="They are seeds, not cuttings.")
@click.option("--icc", type=_Number(), default=0.1, help="Likeness of plants in one container.")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def design(
    have: int,
    control: float,
    difference: float,
    containers: int | None,
    treatments: int,
    sites: int,
    seed_kind: bool,
    icc: float,
    as_json: bool,
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
    click.echo(designed.as_json(asked, found) if as_json else designed.as_words(asked, found))


@app.command()
@click.argument("line")
@click.option("--choose", multiple=True, help="An answer, such as spoon=metric or parts=in.")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def mix(line: str, choose: tuple[str, ...], as_json: bool) -> None:
    """Work out one line of the mixing bench: amounts, warnings, and the questions left open.

    LINE is what to make, such as "250 mL of 1500 ppm IBA from 1 % stock".
    """
    from racecard.cli import mix as bench

    read, card = bench.worked_out(line, choose)
    click.echo(bench.as_json(read, card) if as_json else bench.as_words(card))
    if card.is_open:
        raise click.exceptions.Exit(3)


@app.command()
@_port
@click.option("--place", default="mist bench", help="Where it stands.")
@click.option("--hours", type=_Number(), default=24, help="Hours up to now to post.")
@click.option("--every", type=_Whole(), default=30, help="Minutes between readings.")
@click.option("--fault", default="none", help="none, gaps, spikes, stuck or clock.")
@click.option("--seed", type=_Whole(), default=1, help="The same seed plays the same readings.")
def logger(port: int, place: str, hours: float, every: int, fault: str, seed: int) -> None:
    """Play a bench sensor: a stand-in that posts readings to a running shed, sound or faulty."""
    from racecard.standins.bench_logger import play

    added = play(port, place, hours, every, fault, seed, datetime.now(UTC))
    click.echo(f"{added} readings of {place} posted{'' if fault == 'none' else f', with {fault}'}.")


@app.command()
@click.argument("file", type=_PATH)
@_folder
def backup(file: Path, data: Path | None) -> None:
    """Write the whole shed to one FILE, while it may be running."""
    from racecard.store.backup import back_up
    from racecard.store.engine import default_folder

    size = back_up(data or default_folder(), file, datetime.now(UTC))
    click.echo(f"The backup is in {file} ({size / 1000:.0f} kB).")


@app.command()
@click.argument("file", type=_PATH)
@_folder
def restore(file: Path, data: Path | None) -> None:
    """Put a backup FILE in place of the shed; what was there is kept beside it."""
    from racecard.store.backup import restore as put_back
    from racecard.store.engine import default_folder

    kept = put_back(file, data or default_folder(), datetime.now(UTC))
    click.echo("The backup is restored." + (f" What was there is kept in {kept}." if kept else ""))


@app.command()
@_folder
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
@_folder
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
