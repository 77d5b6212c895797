"""The glossary: one short line a term, and the same in the documents as on the page."""

from pathlib import Path

from racecard.core.text.glossary import TERMS, as_markdown


def test_the_document_is_the_glossary_of_the_page() -> None:
    assert Path("docs/glossary.md").read_text() == as_markdown()


def test_every_term_stands_once_with_one_line_that_does_not_repeat_it() -> None:
    names = [t.name for t in TERMS]
    assert len(names) == len(set(names)) == 80
    for t in TERMS:
        assert t.meaning.endswith(".")
        assert len(t.meaning.split()) <= 30, t.name
