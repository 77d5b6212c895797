#!/usr/bin/env python3
"""Grade a racecard's reader of trial questions: grade_questions.py RACECARD [questions.csv] [-v].

RACECARD is the installed executable; the reader is called through the Python beside it
(racecard.core.design.question.read_question). Where that moves, change `WORKER` only.
right: every treatment with its dose, the control, plant and kind as a careful listener repeats them back;
safe: something is left open or marked as not understood, and nothing false is said; WRONG: a treatment or dose is
lost or changed while others are shown, a negated or foreign word becomes a treatment, the control is another.
"""
import csv, json, pathlib, re, subprocess, sys
WORKER = r'''
import json, sys
from racecard.core.design.question import read_question
def text(x):
    if x is None: return ""
    if isinstance(x, (list, tuple, set)): return " | ".join(text(i) for i in x)
    for a in ("says", "text", "word", "words", "token", "name", "detail", "asks"):
        if isinstance(getattr(x, a, None), str): return getattr(x, a)
    return str(x)
for line in json.load(sys.stdin):
    try:
        u = read_question(line)
        val = lambda x: getattr(x, "value", x)
        asked = " | ".join(text(getattr(u, a)) for a in ("unread", "asks", "asked", "questions", "open", "doubts", "not_understood") if getattr(u, a, None))
        r = dict(kind=str(val(u.kind)), subject=str(val(u.subject) or ""), plant=u.plant or "", things=[(t.name + (" " + t.strength if getattr(t, "strength", "") and t.strength not in t.name else "")) for t in u.things],
                 against=val(u.against), outcome=str(val(u.outcome)), asked=asked)
    except Exception as e: r = dict(error=f"{type(e).__name__}: {e}")
    print(json.dumps(r))
'''
SAME = {"soaked": "soak", "soaking": "soak", "soaks": "soak", "nicked": "nick", "nicking": "nick", "chilled": "cold", "chilling": "cold", "chill": "cold", "stratified": "cold",
        "wounded": "wounding", "wound": "wounding", "wounds": "wounding", "darkness": "dark", "shaded": "shade", "fed": "feed", "feeding": "feed", "fertiliser": "feed", "sulfur": "sulphur",
        "talc": "powder", "gibberellic": "ga3", "potassium": "kno3", "filed": "file", "hours": "h", "hour": "h", "hrs": "h", "hr": "h", "weeks": "week", "wk": "week", "days": "day", "seconds": "s", "second": "s", "sec": "s", "secs": "s",
        "minutes": "min", "minute": "min", "mins": "min", "°c": "c", "celsius": "c", "pots": "pot", "trays": "tray", "cells": "cell", "jars": "jar", "bags": "bag", "covered": "cover", "smoked": "smoke", "litre": "l",
        "two": "2", "one": "1", "single": "1", "three": "3", "five": "5", "twice": "2", "percent": "%"}
UNITS = {"ppm", "%", "mm", "mg/l", "ml/l", "g/l", "h", "s", "min", "week", "day", "c", "cm"}
LOOSE = {"powder", "gel", "in", "a", "at", "for", "and", "with", "of", "mixed", "together", "alone", "only", "plus", "the", "deep", "shallow", "per", "every", "plastic", "full", "mix", "hot", "nitrate", "acid", "quick", "dip"}
CONTROL_WORDS = {"water", "plain", "tap", "untreated", "nothing", "none", "dry", "control", "alcohol", "ethanol", "talc", "powder", "usual", "light", "sun", "bench", "compost", "perlite", "sand", "peat", "warm", "stem", "unsoaked", "unwounded", "airing", "frame", "rain"}
AGAINST = {"nothing": "nothing", "plain water": "water", "the usual way": "usual", "the same without the active ingredient": "carrier"}
OUTCOME = {"strike": {"usual", "strike", "root", "rooted"}, "unsaid": {"usual"}, "speed": {"speed", "days", "sooner"}, "roots": {"roots", "root", "root quality"}, "growth": {"growth", "size", "bloom"}, "survival": {"survival", "alive"}}

def tokens(t):
    t = t.lower().replace("µ", "u").replace("\u202f", "").replace("\xa0", " ")
    t = re.sub(r"(?<=\d)[,'](?=\d{3}(?!\d))", "", t); t = re.sub(r"(?<=\d),(?=\d)", ".", t); t = re.sub(r"(?<=\d)\s*k\b(?!-)", "000", t)
    t = t.replace("k-iba", "kiba").replace("k-naa", "knaa")
    out = []
    for w in re.findall(r"\d+:\d+|\d+(?:\.\d+)?|mg/l|ml/l|g/l|%|°c|[a-z][a-z0-9]*", t):
        w = SAME.get(w, w); out.append(w)
    return out
def parts(t):
    ts = tokens(t); nums = sorted({f"{float(w):g}" if ":" not in w else w for w in ts if w[0].isdigit()}); return nums, {w for w in ts if not w[0].isdigit() and w not in UNITS}
def fits(e, t):
    (ne, we), (nt, wt) = parts(e), parts(t)
    return ne == nt and (we - LOOSE) <= wt and not {"h", "week", "mm"} & set(tokens(e)) - set(tokens(t))
def close(e, t): (ne, we), (nt, wt) = parts(e), parts(t); return len(we ^ wt)
def has_word(bad, t): return re.search(rf"(?<![\w.]){re.escape(bad.lower().strip())}(?![\w.])", " ".join(tokens(t))) or re.search(rf"(?<![\w.,]){re.escape(bad.lower().strip())}(?![\w.,]*\d)", t.lower())

def grade(r, u):
    if "error" in u: return "WRONG", "crash " + u["error"]
    want = [t.strip() for t in r["treatments"].split("|") if t.strip()]; things = list(u["things"]); asked = u["asked"].lower(); why = []; open_ = []
    bads = [b for b in r["must_not"].split("|") if b.strip()]
    for t in things:
        why += [f"holds '{b.strip()}'" for b in bads if has_word(b, t)]
    if not things and want: return "safe", "nothing read as a treatment"
    left = things[:]; lost = []
    if "cross" in r["ask"] and len(things) > len(want):  # crossed already: every piece must be there, and nothing else
        pieces = [parts(e) for e in want]; nums, words = {x for p in pieces for x in p[0]} | {"0"}, set().union(*(p[1] for p in pieces)) | CONTROL_WORDS | LOOSE
        if all(any(set(p[0]) <= set(parts(t)[0]) and p[1] - LOOSE <= parts(t)[1] for t in things) for p in pieces) and all(set(parts(t)[0]) <= nums and parts(t)[1] <= words for t in things): want, left = [], []
    for e in sorted(want, key=lambda e: -len(tokens(e))):
        ok = sorted((t for t in left if fits(e, t)), key=lambda t: close(e, t))
        if ok: left.remove(ok[0])
        else: lost.append(e)
    for e in lost:
        if e == "water" and u["against"] in (None, "plain water"):  # water against something else: it may stand as the control
            if not u["against"]: open_.append("water not placed")
            else: r = {**r, "control": "water"}
            continue
        said = [w for w in tokens(e) if w not in LOOSE]
        (open_ if asked and any(w in asked for w in said) else why).append(f"lost '{e}'")
    for t in left:
        if not (parts(t)[1] and parts(t)[1] <= CONTROL_WORDS and not parts(t)[0] and want and not u["against"]): why.append(f"extra '{t}'")
    controls = [c.strip() for c in r["control"].split("|")]; got = AGAINST.get(u["against"], u["against"]) if u["against"] else "unsaid"
    if got not in controls: (open_ if got == "unsaid" else why).append(f"control {got}, not {r['control']}")
    kind = "seed" if "seed" in u["kind"].lower() else "division" if "division" in u["subject"].lower() or "division" in u["kind"].lower() or "bulb" in (u["outcome"] + u["kind"]).lower() else "other" if u["kind"].lower() in ("other", "growth", "seedling") else "cutting"
    wanted = {{"bulb": "division"}.get(k, k) for k in r["kind"].split("|")}
    if wanted != {"other"} and kind not in wanted and things: why.append(f"kind {kind}, not {r['kind']}")
    sing = lambda p: re.sub(r"(?<=[a-z]{3})(es|s)$", "", p.lower().strip())
    plants = [sing(p) for p in r["plant"].split("|")]
    if sing(u["plant"]) not in plants: (why if u["plant"] and things else open_).append(f"plant '{u['plant']}', not '{r['plant']}'")
    if why: return "WRONG", "; ".join(why)
    if open_: return "safe", "; ".join(open_)
    return "right", ""

def main():
    args = [a for a in sys.argv[1:] if a != "-v"]
    if not args: sys.exit(__doc__)
    exe = pathlib.Path(args[0]); here = pathlib.Path(__file__).resolve().parent
    file = pathlib.Path(args[1]) if len(args) > 1 else here / "questions.csv"
    rows = list(csv.DictReader(file.open(encoding="utf-8")))
    p = subprocess.run([str(exe.parent / "python"), "-c", WORKER], input=json.dumps([r["question"] for r in rows]), capture_output=True, text=True)
    if p.returncode: sys.exit(p.stderr)
    read = [json.loads(x) for x in p.stdout.splitlines()]; n = dict(right=0, safe=0, WRONG=0); carried = named = 0
    for r, u in zip(rows, read):
        g, why = grade(r, u); n[g] += 1
        if r["judged_on"] != "unsaid" and "error" not in u: named += 1; carried += any(w in u["outcome"].lower() for w in OUTCOME[r["judged_on"]])
        if g == "WRONG" or "-v" in sys.argv: print(f"{g}: {r['question']}\n    {why}\n    read: {u.get('things')} against {u.get('against')}, plant '{u.get('plant')}', {u.get('kind')}")
    print(f"{n['right']} right, {n['safe']} safe, {n['WRONG']} WRONG of {len(rows)}; goal said and carried: {carried} of {named}"); sys.exit(n["WRONG"] > 0)
if __name__ == "__main__": main()
