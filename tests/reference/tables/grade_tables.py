#!/usr/bin/env python3
"""Grade a racecard's reader of tables: grade_tables.py RACECARD [FOLDER] [-v].

Every NAME.* beside a NAME.expected.json goes through `RACECARD finish FILE --json`.
read: right = the treatments with n and struck (and lost) as expected, the control found, `must_note` told; safe = refused or
asked, or the control left open; WRONG = another number, a treatment too many or too few, another control, or `must_note` untold.
must_ask, must_refuse: right = no judgement, and a word of the list in the reply; safe = no judgement; WRONG = judged.
"""
import json, pathlib, re, subprocess, sys
def norm(t): return re.sub(r"[^\w%]+", "", (t or "").casefold())
def said(words, text): low = text.casefold(); return any(w.strip().casefold() in low for w in words.split("|"))
def grade(e, code, out, err):
    text = out + "\n" + err
    if code not in (0, 2, 3) or "Traceback" in err: return "WRONG", "crash: " + err.strip()[-200:]
    if "read" not in e:
        if code == 0: return "WRONG", "judged: " + headline(out)
        return ("right", "") if said(e.get("must_ask") or e["must_refuse"], text) else ("safe", "the cause is not named: " + text.strip()[:160])
    if code != 0: return "safe", text.strip()[:160]
    j = json.loads(out); got = {norm(t["treatment"]): t for t in j["treatments"]}; why, soft = [], []
    want = {norm(t["treatment"]): t for t in e["read"]}
    why += [f"extra '{got[k]['treatment']}'" for k in got if k not in want]; why += [f"missing '{want[k]['treatment']}'" for k in want if k not in got]
    for k in want.keys() & got.keys():
        w, g = want[k], got[k]
        if g["n"] != w["n"] and g.get("at_start", 0) + g["n"] != w["n"]: why.append(f"{w['treatment']}: n {g['n']}, not {w['n']}")
        if isinstance(w["struck"], list):
            lo, hi = g["rate_low"], g["rate_high"]
            if lo is None or abs(lo * w["n"] - w["struck"][0]) > .01 or abs(hi * w["n"] - w["struck"][1]) > .01: why.append(f"{w['treatment']}: {lo} to {hi}, not {w['struck']} of {w['n']}")
        elif g["struck"] != w["struck"]: why.append(f"{w['treatment']}: {g['struck']} struck, not {w['struck']}")
        if "lost" in w and g["lost"] != w["lost"]: why.append(f"{w['treatment']}: {g['lost']} lost, not {w['lost']}")
    if norm(j["control"]) != norm(e["control"]): (soft if j["control"] is None else why).append(f"control {j['control']}, not {e['control']}")
    notes = json.dumps([j.get("notes"), j.get("read_as"), j.get("reading"), j.get("skipped")], ensure_ascii=False) + err
    if e.get("must_note") and not said(e["must_note"], notes): why.append(f"untold: {e['must_note']}")
    if why: return "WRONG", "; ".join(why)
    return ("safe", "; ".join(soft)) if soft else ("right", "")
def headline(out):
    try: return json.loads(out)["headline"]
    except Exception: return out[:80]
def main():
    args = [a for a in sys.argv[1:] if a != "-v"]
    if not args: sys.exit(__doc__)
    folder = pathlib.Path(args[1]) if len(args) > 1 else pathlib.Path(__file__).resolve().parent
    n = dict(right=0, safe=0, WRONG=0); kinds = {}
    for f in sorted(folder.glob("*.expected.json")):
        e = json.loads(f.read_text(encoding="utf-8")); stem = f.name[: -len(".expected.json")]
        file = next(p for p in folder.glob(stem + ".*") if not p.name.endswith(".expected.json"))
        try: p = subprocess.run([args[0], "finish", str(file), "--json"], capture_output=True, text=True, timeout=120); g, why = grade(e, p.returncode, p.stdout, p.stderr)
        except subprocess.TimeoutExpired: g, why = "WRONG", "no answer in 120 s"
        n[g] += 1; k = next(x for x in ("read", "must_ask", "must_refuse") if x in e); kinds.setdefault(k, dict(right=0, safe=0, WRONG=0))[g] += 1
        if g == "WRONG" or "-v" in sys.argv: print(f"{g}: {file.name} ({e['why']})\n    {why}")
    print("; ".join(f"{k}: {v['right']} right, {v['safe']} safe, {v['WRONG']} WRONG" for k, v in kinds.items()))
    print(f"{n['right']} right, {n['safe']} safe, {n['WRONG']} WRONG of {sum(n.values())}"); sys.exit(n["WRONG"] > 0)
if __name__ == "__main__": main()
