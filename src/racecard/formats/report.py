"""A report as one HTML page that needs nothing else, or as a PDF on A4 or US Letter; in greys."""

import io
from collections.abc import Sequence
from html import escape
from typing import Any

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from racecard.core.finish.report import Report
from racecard.errors import InvalidInput
from racecard.formats.drawn import as_svg
from racecard.formats.label_sheets import BOLD, PLAIN, printable, register_fonts

PAPERS = {"a4": A4, "letter": letter}
INVENTED = "Invented demo data: no real plant was stuck."
_STYLE = """
body{font:15px/1.45 "Atkinson Hyperlegible Next",Helvetica,Arial,sans-serif;color:#22302a;max-width:760px;
margin:24px auto;padding:0 16px}h1{font-size:1.5em;margin:0 0 .3em}h2{font-size:1.08em;margin:1.4em 0 .4em}
table{border-collapse:collapse;width:100%;font-size:.92em}th,td{text-align:left;padding:4px 8px 4px 0;
border-bottom:1px solid #bbb;vertical-align:top}dl{display:grid;grid-template-columns:max-content 1fr;gap:2px 14px;
margin:.6em 0}dt{color:#555}dd{margin:0}.lead{font-weight:700;font-size:1.12em}.quiet{color:#555;font-size:.9em}
.mark{border:1px solid #555;padding:4px 10px;display:inline-block}svg{width:100%;height:auto}li{margin:.25em 0}
@media print{body{margin:0;max-width:none}h2{break-after:avoid}table,svg{break-inside:avoid}}
"""


def report_html(report: Report, lanes: Drawing | None, raw: Sequence[tuple[str, str]]) -> str:
    """The report as HTML.

    Args:
        report: its words.
        lanes: the lanes, None where no days are told.
        raw: where the raw data are, as (what, address).
    """
    e = escape
    head = "".join(f"<th scope=col>{e(c)}</th>" for c in report.columns)
    body = "".join(
        f"<tr><th scope=row>{e(row[0])}</th>{''.join(f'<td>{e(c)}</td>' for c in row[1:])}</tr>"
        for row in report.rows
    )
    parts = [
        f"<!doctype html><html lang=en><meta charset=utf-8><meta name=viewport content='width=device-width'>"
        f"<title>{e(report.title)}</title><style>{_STYLE}</style><main>",
        f"<p class=mark>{INVENTED}</p>" if report.invented else "",
        f"<h1>{e(report.title)}</h1>",
        *(f"<p class={'lead' if k == 0 else 'card'}>{e(part)}</p>" for k, part in enumerate(_card(report))),
        f"<dl>{''.join(f'<dt>{e(k)}</dt><dd>{e(v)}</dd>' for k, v in report.facts)}</dl>",
        f"<figure style='margin:0'>{_inline(as_svg(lanes), report)}</figure>" if lanes else "",
        f"<h2>Treatments</h2><table><thead><tr>{head}</tr></thead><tbody>{body}</tbody></table>",
        _list("How sure is that?", report.says),
        _list("Stewards' notes", [f"{says} {do}" for says, do in report.notes] or ["No objections found. That does not mean there is no problem."]),
        _list("Changes to the plan", report.changes) if report.changes else "",
        f"<h2>The grower's conclusion</h2><p>{e(report.conclusion)}</p>" if report.conclusion else "",
        f"<h2>How it was done and judged</h2><p>{e(report.methods)}</p>",
        f"<h2>How to cite this trial</h2><p>{e(report.citation)}</p>",
        "<p class=quiet>Raw data: " + ", ".join(f"<a href='{e(at)}'>{e(what)}</a>" for what, at in raw) + ".</p>",
        "</main></html>",
    ]  # fmt: skip
    return "".join(parts)


def _card(report: Report) -> list[str]:
    """The answer card, a paragraph each: what happened, how sure, the biggest doubt, what to do now."""
    a = report.answer
    if a is None:
        return []
    doubt, step = (
        f"{name}: {part}." if part else ""
        for name, part in (("Biggest doubt", a.doubt), ("Next", a.next))
    )
    return [part for part in (a.happened, a.sure, doubt, step) if part]


def _list(title: str, items: Sequence[str]) -> str:
    return f"<h2>{escape(title)}</h2><ul>{''.join(f'<li>{escape(i)}</li>' for i in items)}</ul>"


def _inline(svg: str, report: Report) -> str:
    """The drawing without its XML head, named for those who listen."""
    start = svg.index("<svg")
    label = escape(f"Lanes: {'; '.join(f'{r[0]}, {r[1]}' for r in report.rows)}", quote=True)
    return svg[start:].replace("<svg ", f'<svg role="img" aria-label="{label}" ', 1)


def report_pdf(report: Report, lanes: Drawing | None, paper: str, raw: str) -> bytes:
    """The report as PDF.

    Args:
        report: its words.
        lanes: the lanes, None where no days are told.
        paper: a4 or letter.
        raw: a sentence that says where the raw data are.

    Raises:
        InvalidInput: another paper.
    """
    if paper not in PAPERS:
        raise InvalidInput(f"The paper is one of {', '.join(PAPERS)}; got {paper!r}.", "/paper")
    register_fonts()
    size = PAPERS[paper]
    margin = 42.0
    out = io.BytesIO()
    book = SimpleDocTemplate(
        out, pagesize=size, leftMargin=margin, rightMargin=margin, topMargin=margin, bottomMargin=margin,
        title=report.title, author="Racecard",
    )  # fmt: skip
    wide = size[0] - 2 * margin - 12  # the frame's own padding
    book.build(_story(report, lanes, wide, raw), onFirstPage=_foot, onLaterPages=_foot)
    return out.getvalue()


_TEXT = ParagraphStyle(
    "text", fontName=PLAIN, fontSize=9.6, leading=13, textColor=HexColor("#22302a")
)
_SMALL = ParagraphStyle("small", parent=_TEXT, fontSize=8.2, leading=10.4)
_HEAD = ParagraphStyle(
    "head",
    parent=_TEXT,
    fontName=BOLD,
    fontSize=11.5,
    leading=15,
    spaceBefore=9,
    spaceAfter=3,
    keepWithNext=1,
)
_TITLE = ParagraphStyle("title", parent=_HEAD, fontSize=16, leading=20, spaceBefore=0)
_LEAD = ParagraphStyle("lead", parent=_HEAD, fontSize=12.5, leading=16)
_ITEM = ParagraphStyle("item", parent=_TEXT, leftIndent=10, bulletIndent=0, spaceAfter=1.5)


def _story(report: Report, lanes: Drawing | None, wide: float, raw: str) -> list[Any]:
    said = [Paragraph(_safe(report.title), _TITLE)]
    if report.invented:
        said.append(Paragraph(INVENTED, _SMALL))
    said += [Paragraph(_safe(part), _TEXT if k else _LEAD) for k, part in enumerate(_card(report))]
    said += [Paragraph(f"{_safe(k)}: {_safe(v)}", _SMALL) for k, v in report.facts]
    if lanes is not None:
        said += [_fitted(lanes, wide), Spacer(1, 6)]
    said += [Paragraph("Treatments", _HEAD), _table(report, wide)]
    lists = [
        ("How sure is that?", report.says),
        (
            "Stewards' notes",
            [f"{a} {b}" for a, b in report.notes]
            or ["No objections found. That does not mean there is no problem."],
        ),
        ("Changes to the plan", report.changes),
    ]
    for title, items in lists:
        if items:
            said.append(Paragraph(title, _HEAD))
            said += [Paragraph(_safe(i), _ITEM, bulletText="–") for i in items]
    if report.conclusion:
        said += [
            Paragraph("The grower's conclusion", _HEAD),
            Paragraph(_safe(report.conclusion), _TEXT),
        ]
    said += [
        Paragraph("How it was done and judged", _HEAD), Paragraph(_safe(report.methods), _TEXT),
        Paragraph("How to cite this trial", _HEAD), Paragraph(_safe(report.citation), _TEXT),
        Spacer(1, 6), Paragraph(_safe(raw), _SMALL),
    ]  # fmt: skip
    return said


def _safe(text: str) -> str:
    return escape(printable(text))


def _fitted(drawing: Drawing, wide: float) -> Drawing:
    """The drawing made to fit the width, and a page's height."""
    scale = min(wide / drawing.width, 640 / drawing.height)
    drawing.scale(scale, scale)
    drawing.width, drawing.height = drawing.width * scale, drawing.height * scale
    return drawing


def _table(report: Report, wide: float) -> Table:
    cells = [[Paragraph(_safe(c), _SMALL) for c in row] for row in (report.columns, *report.rows)]
    parts = (0.21, 0.16, 0.14, 0.1, 0.18, 0.09, 0.12)
    table = Table(cells, colWidths=[wide * p for p in parts], repeatRows=1)
    rule = HexColor("#999999")
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.9, rule), ("LINEBELOW", (0, 1), (-1, -1), 0.4, rule),
                ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )  # fmt: skip
    return table


def _foot(page: Any, book: Any) -> None:
    page.setFont(PLAIN, 8)
    page.setFillColor(HexColor("#555555"))
    page.drawRightString(book.pagesize[0] - 42, 24, f"page {page.getPageNumber()}")
