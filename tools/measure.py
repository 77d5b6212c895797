"""Prints the sizes that are watched: functions, files, and the share of tests."""

import ast
import statistics
import subprocess
from pathlib import Path

ROOT = Path(__file__).parent.parent


def tracked(*patterns: str) -> list[Path]:
    """Files git knows that match."""
    out = subprocess.run(
        ["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=True
    )
    paths = [ROOT / line for line in out.stdout.splitlines()]
    return [
        p for p in paths if p.exists() and p.name != "schema.ts" and "migrations" not in p.parts
    ]


def code_lines(paths: list[Path]) -> int:
    """Lines that are neither empty nor comments."""
    lines = (line.strip() for p in paths for line in p.read_text().splitlines())
    return sum(bool(line) and not line.startswith(("#", "//")) for line in lines)


def body_lengths(paths: list[Path]) -> list[int]:
    """Lines of every function body, docstring left out."""
    out = []
    for path in paths:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef):
                body = node.body[1:] if ast.get_docstring(node) else node.body
                if body:
                    out.append((body[-1].end_lineno or 0) - body[0].lineno + 1)
    return out


if __name__ == "__main__":
    source = tracked("src/*.py")
    lengths = sorted(body_lengths(source))
    p90 = lengths[int(0.9 * len(lengths))]
    print(
        f"functions: median {statistics.median(lengths):.0f} lines, p90 {p90}, longest {lengths[-1]}"
    )
    files = {p: len(p.read_text().splitlines()) for p in tracked("*.py", "*.ts", "*.tsx")}
    for path, n in sorted(files.items(), key=lambda x: -x[1]):
        if n > (600 if "test" in path.name else 500):
            print(f"long file: {path.relative_to(ROOT)} ({n} lines)")
    tests = code_lines([p for p in files if "tests" in p.parts or ".test." in p.name])
    code = code_lines(list(files)) - tests
    print(f"tests: {tests} lines, {100 * tests / code:.0f} % of {code} lines of code")
