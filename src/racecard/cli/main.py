"""The `racecard` command: those of the server, then what judges, plans and mixes, and the stand-ins."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import click

from racecard.cli import serving as serving  # registers its commands, which come first
from racecard.cli.group import PATH, Number, NumberRange, OneOf, Whole, WholeRange, port_option
from racecard.cli.group import app as app
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind


@app.command()
@click.argument("file", type=PATH)
@click.option("--unit", type=OneOf(UnitKind), help="What was randomised.")
@click.option("--control", help="Name of the untreated control.")
@click.option(
    "--dates", type=OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
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
@click.argument("files", type=PATH, nargs=-1, required=True)
@click.option("--control", help="Name of the untreated control.")
@click.option("--treatment", help="Which treatment; the first where not given.")
@click.option(
    "--dates", type=OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
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
@click.argument("file", type=PATH)
@click.option(
    "--map",
    "map_",
    multiple=True,
    help='Which column is what: treatment=Pot,start="Sown on",struck:Dry=Dry',
)
@click.option("--control", help="Name of the untreated control.")
@click.option(
    "--days", type=WholeRange(1, 730), help="Last day of each garden, from its own start."
)
@click.option(
    "--dates", type=OneOf(DateOrder), help="What comes first in dates such as 03/04/2026."
)
@click.option(
    "--enrolled",
    type=WholeRange(1),
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
    type=WholeRange(1, 10_000),
    default=40,
    help="Gardens that joined.",
)
@click.option(
    "--silent",
    type=NumberRange(0, 1),
    default=0.3,
    help="Share that sends no result.",
)
@click.option("--faults", is_flag=True, help="Some start late, send twice or send nonsense.")
@click.option("--seed", type=Whole(), default=1, help="The same seed plays the same gardens.")
def gardens(count: int, silent: float, faults: bool, seed: int) -> None:
    """Play other gardens: a stand-in that prints the form they send, sound or faulty."""
    from racecard.standins.gardens import played_form

    first = (datetime.now(UTC) - timedelta(days=75)).date()
    click.echo(played_form(count, silent, faults=faults, seed=seed, first=first), nl=False)


@app.command()
@click.option(
    "--control", type=Number(), required=True, help="True share struck of the control, 0 to 1."
)
@click.option("--treated", type=Number(), required=True, help="True share struck of the treated.")
@click.option(
    "--units",
    type=Whole(),
    required=True,
    help="Units per treatment: plants, pairs or containers.",
)
@click.option("--candidates", type=Whole(), default=1, help="Candidates that Holm corrects for.")
@click.option("--pairs", is_flag=True, help="Units are matched pairs.")
@click.option(
    "--agree",
    type=Number(),
    default=0.0,
    help="Likeness within a pair, 0 none to 1 most.",
)
@click.option("--per-container", type=Whole(), default=1, help="Plants in a container.")
@click.option("--icc", type=Number(), default=0.1, help="Likeness of plants in one container.")
@click.option("--aim", type=Number(), default=0.8, help="Power that is wanted.")
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
@click.option("--have", type=Whole(), required=True, help="Cuttings or seeds there are.")
@click.option(
    "--control",
    type=Number(),
    required=True,
    help="Share that usually succeeds untreated, 0 to 1.",
)
@click.option(
    "--difference",
    type=Number(),
    required=True,
    help="Smallest difference that matters, in points.",
)
@click.option(
    "--containers",
    type=Whole(),
    help="Jars, pots or cells that can stand apart; each its own where not given.",
)
@click.option(
    "--treatments", type=Whole(), default=2, help="Treatments wanted, the control included."
)
@click.option(
    "--sites", type=Whole(), default=1, help="Places that each hold a part of every treatment."
)
@click.option("--seed-kind", is_flag=True, help="They are seeds, not cuttings.")
@click.option("--icc", type=Number(), default=0.1, help="Likeness of plants in one container.")
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
@port_option
@click.option("--place", default="mist bench", help="Where it stands.")
@click.option("--hours", type=Number(), default=24, help="Hours up to now to post.")
@click.option("--every", type=Whole(), default=30, help="Minutes between readings.")
@click.option("--fault", default="none", help="none, gaps, spikes, stuck or clock.")
@click.option("--seed", type=Whole(), default=1, help="The same seed plays the same readings.")
def logger(port: int, place: str, hours: float, every: int, fault: str, seed: int) -> None:
    """Play a bench sensor: a stand-in that posts readings to a running shed, sound or faulty."""
    from racecard.standins.bench_logger import play

    added = play(port, place, hours, every, fault, seed, datetime.now(UTC))
    click.echo(f"{added} readings of {place} posted{'' if fault == 'none' else f', with {fault}'}.")
