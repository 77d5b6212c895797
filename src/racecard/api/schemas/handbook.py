"""The handbook over HTTP: pages of tables and facts, each with its source and how sure it is."""

from racecard.api.schemas.base import Out
from racecard.core.handbook.entries import Fact, Page, Sure, Table


class FactOut(Out):
    """One fact."""

    says: str
    source: str
    sure: Sure

    @classmethod
    def from_core(cls, f: Fact) -> "FactOut":
        return cls(says=f.says, source=f.source, sure=f.sure)


class HandbookTable(Out):
    """A table of facts. `own`: what the grower's own controls did, a text for each row; empty for none."""

    title: str
    heads: list[str]
    rows: list[list[str]]
    own: list[str]
    source: str
    sure: Sure

    @classmethod
    def from_core(cls, t: Table, own: dict[str, str]) -> "HandbookTable":
        beside = [own.get(stage, "") for stage in t.own]
        return cls(
            title=t.title, heads=list(t.heads), rows=[list(r) for r in t.rows],
            own=beside if any(beside) else [], source=t.source, sure=t.sure,
        )  # fmt: skip


class HandbookPage(Out):
    """One part of the handbook."""

    id: str
    title: str
    about: str
    tables: list[HandbookTable]
    facts: list[FactOut]

    @classmethod
    def from_core(cls, p: Page, own: dict[str, str]) -> "HandbookPage":
        return cls(
            id=p.id, title=p.title, about=p.about,
            tables=[HandbookTable.from_core(t, own) for t in p.tables],
            facts=[FactOut.from_core(f) for f in p.facts],
        )  # fmt: skip


class HandbookOut(Out):
    """Every page, and every caution."""

    pages: list[HandbookPage]
    cautions: list[str]
