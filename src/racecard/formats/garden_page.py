"""A garden's own page as one file that needs nothing else, and sheets on paper for those without a phone."""

import json
import re
from dataclasses import asdict
from html import escape
from pathlib import Path

from racecard.core.exchange.garden_pack import POTS, VERSION, GardenPack

_HERE = Path(__file__).parent
_PAGE = (_HERE / "garden_page.html").read_text()
SCRIPT = (_HERE / "garden_page.js").read_text()
WORKER = (_HERE / "garden_worker.js").read_text()
_STYLE = """
body{font:15px/1.45 "Atkinson Hyperlegible Next",Helvetica,Arial,sans-serif;color:#22302a;margin:0}
section{max-width:720px;margin:0 auto;padding:24px 20px;break-after:page}h1{font-size:1.3em;margin:0}
table{border-collapse:collapse;width:100%;margin:12px 0}th,td{border:1px solid #999;padding:8px;text-align:left}
td.open{height:1.6em}.fold{border-top:2px dashed #777;margin-top:28px;padding-top:12px}
.sealed{transform:rotate(180deg);border:1px solid #999;padding:12px}.quiet{color:#555;font-size:.9em}
"""


def garden_page(pack: GardenPack, join: str = "") -> str:
    """One page for a garden's phone: it works without a server or a signal, and sends nothing by itself.

    Args:
        pack: what the garden is told.
        join: where a page opened by a join link joins and reports; then it holds no garden's order, and
            its script comes from the server.
    """
    told = {"version": VERSION, "pots": POTS, **asdict(pack)} | (
        {"join": join, "orders": []} if join else {}
    )
    safe = json.dumps(told, ensure_ascii=False).replace(
        "<", "\\u003c"
    )  # no text of a plan ends the script
    script = '<script src="/garden/page.js"></script>' if join else f"<script>\n{SCRIPT}</script>"
    parts = {"title": escape(pack.question), "script": script, "pack": safe}
    # at once: a question that holds such a mark itself is text
    return re.sub(r"\{\{(title|script|pack)\}\}", lambda mark: parts[mark[1]], _PAGE)


def garden_page_missing(says: str) -> str:
    """What a phone shows whose link leads nowhere."""
    style = "font:17px/1.45 Helvetica,Arial,sans-serif;max-width:560px;margin:0 auto;padding:16px"
    return (
        "<!doctype html><html lang=en><meta charset=utf-8>"
        "<meta name=viewport content='width=device-width, initial-scale=1'><title>No garden here</title>"
        f"<body style='{style}'><h1>No garden here</h1><p>{escape(says)}</p>"
    )


def garden_sheets(pack: GardenPack) -> str:
    """A sheet for each garden, its order printed upside down below the fold."""
    e = escape
    arms = "".join(f"<li><b>{e(name)}</b>: {e(does)}</li>" for name, does in pack.treatments)
    cautions = "".join(f"<p><b>Take care.</b> {e(c)}</p>" for c in pack.cautions)
    n = len(pack.treatments)
    heads = "".join(f"<th>Pot {POTS[i]}: {e(pack.done)}, of {pack.each}</th>" for i in range(n))
    cells = "<td class=open></td>" * n
    out = [
        f"<!doctype html><html lang=en><meta charset=utf-8><title>{e(pack.question)}</title>"
        f"<style>{_STYLE}</style>"
    ]
    for k, order in enumerate(pack.orders, 1):
        sealed = "".join(
            f"<li>Pot {POTS[i]}: {e(pack.treatments[arm][0])}</li>" for i, arm in enumerate(order)
        )
        out.append(
            f"<section><h1>Garden {k}: {e(pack.question)}</h1><p>{e(pack.material)}. Make up {n} pots as alike as you can, "
            f"{pack.each} {e(pack.thing)} in each, and mark them {', '.join(POTS[:n])}. Only then fold the sheet open.</p>"
            f"<ul>{arms}</ul>{cautions}<p>Keep the pots side by side and do everything alike but this. Count on day {pack.days}; "
            f"count every one you set, also those that died.</p><table><tr><th>Begun on</th><th>Counted on</th>{heads}</tr>"
            f"<tr><td class=open></td><td class=open></td>{cells}</tr></table><p class=quiet>No name or address is needed. "
            f"If you stop early, write “withdrawn” and send the sheet anyway. Pack {e(pack.key)}, version {VERSION}.</p>"
            f"<div class=fold><p class=quiet>Fold here. Open when the pots are filled and marked.</p>"
            f"<ul class=sealed>{sealed}</ul></div></section>"
        )  # fmt: skip
    return "".join(out)
