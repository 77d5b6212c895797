#!/usr/bin/env python3
"""Grade a racecard's one-line reader: grade_lines.py RACECARD [lines2.csv] [-v].

The rules of the lines corpus: refusal right = not answered and one of `must_mention` told; answer right = answered, the value
shown and `must_mention` told; question right = asked (exit 3), or the value shown; anything not answered is at least safe.
A question none of whose options is right is told apart. WRONG = answered without the value, or, answered, with a figure or word of "[never: …]" in the note.
"""
import concurrent.futures as cf, csv, pathlib, re, subprocess, sys
def numbers(t):
    t = t.replace("\u202f", "").replace("\xa0", " ").replace("−", "-"); t = re.sub(r"(?<=\d) (?=\d{3}(?!\d))", "", t)
    return [float(x.replace(",", "")) for x in re.findall(r"-?\d[\d,]*(?:\.\d+)?", t)]
def shows(t, value, tol):
    v = float(value); return any(abs(n * k - v) <= max(abs(v) * (tol + .002), 1e-9) for n in numbers(t) for k in (1, 1000, .001, 1e4, 1e-4))
def never(r, t):
    m = re.search(r"\[never: (.+?)\]", r["note"]); low = t.lower().replace("\u202f", " ").replace("\xa0", " ")
    bads = [b.strip() for b in m[1].split("|")] if m else []
    return [b for b in bads if b.lower() not in r["line"].lower() and re.search(rf"(?<![\w.]){re.escape(b.lower())}(?![\w])(?!\.\d)", low)]
def grade(r, code, text):
    low = text.lower(); ment = [m.strip().lower() for m in r["must_mention"].split("|") if m.strip()]
    said = not ment or any(m in low for m in ment); tol = float(r["tolerance"] or .01)
    if r["kind"] == "refusal": return "right" if code != 0 and said else ("safe" if code != 0 else "WRONG")
    has = bool(r["value"]) and shows(text, r["value"], tol)
    if code == 0 and never(r, text): return "WRONG"
    if r["kind"] == "answer": return "right" if code == 0 and has and said else "safe" if code != 0 or has else "WRONG"
    return "right" if (code == 3 or has) else "safe" if code != 0 else "WRONG"
def main():
    args = [a for a in sys.argv[1:] if a != "-v"]
    if not args: sys.exit(__doc__)
    file = pathlib.Path(args[1]) if len(args) > 1 else pathlib.Path(__file__).resolve().parent / "lines2.csv"
    rows = list(csv.DictReader(file.open(encoding="utf-8")))
    def run(r):
        p = subprocess.run([args[0], "mix", "--", r["line"]], capture_output=True, text=True, timeout=120); return p.returncode, p.stdout + "\n" + p.stderr
    with cf.ThreadPoolExecutor(2) as ex: out = list(ex.map(run, rows))
    n = dict(right=0, safe=0, WRONG=0); by = {}; off = []
    for r, (c, t) in zip(rows, out):
        g = grade(r, c, t); n[g] += 1; by.setdefault(r["kind"], dict(right=0, safe=0, WRONG=0))[g] += 1
        if c == 3 and r["value"] and not shows(t, r["value"], float(r["tolerance"] or .01)): off.append(r["line"])
        if g == "WRONG" or "-v" in sys.argv: print(f"{g}: {r['line']}  [{r['kind']} {r['value']} {r['unit']}] exit {c}{' shows ' + ', '.join(never(r, t)) if never(r, t) else ''}\n    {' / '.join(t.split(chr(10)))[:230]}")
    print("; ".join(f"{k}: {v['right']} right, {v['safe']} safe, {v['WRONG']} WRONG" for k, v in by.items()))
    print(f"asked, but the right value is none of the options (counted safe or right above): {len(off)}" + "".join("\n    " + x for x in off))
    print(f"{n['right']} right, {n['safe']} safe, {n['WRONG']} WRONG of {len(rows)}"); sys.exit(n["WRONG"] > 0)
if __name__ == "__main__": main()
