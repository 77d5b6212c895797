"""Forty invented trials and what is read first of each: card, headline and treatment lines by the corpus' grader.

Every grade was worked out apart from the program; see tests/reference/answers/README.md.
"""

from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from racecard.cli.main import app
from tests import reference_data

CORPUS = Path(__file__).parent.parent / "reference" / "answers"
grader = reference_data.grader("answers/grade_answers.py")


def run(_: Any, kind: str, files: list[Path], more: list[str], as_json: bool) -> tuple[Any, str]:
    """The command without a process of its own."""
    args = [kind, *map(str, files), *more, *(["--json"] if as_json else [])]
    done = CliRunner().invoke(app, args)
    return (done.output, "") if done.exit_code == 0 else (None, done.output[-300:])


@pytest.mark.parametrize("name", sorted(p.parent.name for p in CORPUS.glob("*/expected.json")))
def test_what_is_read_first_says_what_the_trial_shows(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(grader, "run", run)
    bad, front = grader.check([], CORPUS / name)
    assert not bad, (bad, front)
