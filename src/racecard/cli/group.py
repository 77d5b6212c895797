"""What all commands share: how they refuse, and how what is typed is read."""

from enum import StrEnum
from pathlib import Path
from typing import Any

import click

from racecard import __version__
from racecard.errors import AppError


class OneOf(click.Choice[str]):
    """One of the words of an enumeration, handed on as its member."""

    def __init__(self, words: type[StrEnum]) -> None:
        super().__init__([str(word) for word in words])
        self.words = words

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        """The member that was named."""
        return self.words(super().convert(str(value), param, ctx))


class Whole(click.types.IntParamType):
    """A whole number, called so where it is none."""

    name = "whole number"


class Number(click.types.FloatParamType):
    """A number, called so where it is none."""

    name = "number"


class WholeRange(click.IntRange):
    """A whole number, called so where it is none."""

    name = "whole number"


class NumberRange(click.FloatRange):
    """A number, called so where it is none."""

    name = "number"


PATH = click.Path(path_type=Path)
folder_option = click.option("--data", type=PATH, help="Folder that holds the saved trials.")
port_option = click.option(
    "--port", type=WholeRange(1, 65535), default=8620, help="Port on 127.0.0.1."
)


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
