"""Every published or recomputed value whose method is in the application, one row each.

The values stand in tests/reference/published.csv, each with its source and its tolerance.
"""

import ast
import csv
import re
from collections.abc import Callable, Sequence

import numpy as np
import pytest

from racecard.core.assess.crosses import Logistic, quasi_logistic
from racecard.core.assess.placings import letters_of
from racecard.core.assess.quality import _superiority, aligned_ranks
from racecard.core.assess.restricted_mean import arm_times
from racecard.core.stats.interval_curve import self_consistent
from racecard.core.stats.multiplicity import holm
from racecard.core.stats.permutation import PermutationTest, minimum_p_of
from racecard.core.stats.posterior import chance_higher
from racecard.core.stats.proportions import (
    anova_icc,
    newcombe,
    newcombe_paired,
    stratified_score,
    wilson,
)
from racecard.core.stats.seed_indices import indices
from tests.builders import singles, struck, waiting
from tests.reference_data import FOLDER, orobanche, orobanche_counts

with (FOLDER / "published.csv").open() as file:
    ROWS = list(csv.DictReader(file))

PLACENTA = (
    [0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46],
    [1.15, 0.88, 0.90, 0.74, 1.21],
)
SCIPY_AGES = ([19, 22, 16, 29, 24], [20, 11, 17, 12])
GRADES = ([0, 1, 1, 2, 3, 3], [1, 2, 3, 3, 4, 4])
SERIES_A = (0, 0, 0, 0, 4, 17, 10, 7, 1, 0, 1, 0, 0, 0)


def numbers(name: str) -> list[int]:
    return [int(n) for n in re.findall(r"\d+", name)]


def side(interval: object, name: str) -> float:
    found = getattr(interval, "low" if "lower" in name else "high")
    assert isinstance(found, float)
    return found


def one_block(hits1: int, n1: int, hits0: int, n0: int) -> object:
    return stratified_score([hits1], [n1], [hits0], [n0])


def lot_p(one: Sequence[float], zero: Sequence[float], *, ranks: bool = True) -> float:
    values = np.array([*one, *zero], float)
    block = np.zeros(len(values), dtype=np.int64)
    scores = aligned_ranks(values, block) if ranks else values
    return PermutationTest(1).test(scores, np.arange(len(values)) < len(one), block).p


def delta(one: Sequence[float], zero: Sequence[float]) -> float:
    above = sum(a > b for a in one for b in zero) - sum(a < b for a in one for b in zero)
    found = _superiority(np.array(one, float), np.array(zero, float))
    assert found is not None
    assert 2 * found - 1 == pytest.approx(above / (len(one) * len(zero)), abs=1e-12)
    return 2 * found - 1


def paired_p(both: int, only1: int, only0: int, neither: int) -> float:
    told = [(1, 1)] * both + [(1, 0)] * only1 + [(0, 1)] * only0 + [(0, 0)] * neither
    scores = np.array([x for pair in told for x in pair], float)
    return (
        PermutationTest(1)
        .test(scores, np.arange(len(scores)) % 2 == 0, np.repeat(np.arange(len(told)), 2))
        .p
    )


def letters(name: str) -> str:
    pairs = {
        "Plant": ([2, 0, 1], [(2, 1)]), "5 tre": ([0, 1, 2, 3, 4], [(0, 2), (0, 3), (0, 4), (1, 4)]),
        "Piepho": ([1, 2, 3, 4], [(1, 3), (2, 4)]), "no pa": ([0, 1, 2], []),
        "all s": ([0, 1, 2], [(0, 1), (0, 2), (1, 2)]),
    }  # fmt: skip
    order, differ = next(v for k, v in pairs.items() if name.startswith(k[:5]))
    found = letters_of(order, {frozenset(p) for p in differ})
    names = {"Plant": ["ctrl", "trt1", "trt2"], "Pieph": ["", "1", "2", "3", "4"]}.get(
        name[:5], list("ABCDE")
    )
    return str({names[k]: found[k] for k in sorted(found)})


def crowder(model: str = "S+R+SR") -> Logistic:
    rows = [
        (lot, extract, y, n)
        for lot in ("O75", "O73")
        for extract, plates in orobanche_counts(lot).items()
        for y, n in plates
    ]
    s = np.array([lot == "O73" for lot, *_ in rows], float)
    r = np.array([extract == "CUCUMBER" for _, extract, *_ in rows], float)
    told = {"S": s, "R": r, "SR": s * r, "1": None}
    columns = [np.ones(len(s)), *[c for k in model.split("+") if (c := told[k]) is not None]]
    fit = quasi_logistic(
        np.array([y for *_, y, _ in rows], float), np.array([n for *_, n in rows], float),
        np.column_stack(columns),
    )  # fmt: skip
    assert fit is not None
    return fit


def logistic(name: str) -> float:
    fit = crowder()
    if name.startswith("deviance "):
        return crowder(name.split()[1]).deviance
    at = {"const": 0, "S": 1, "R": 2, "SR": 3}
    if name.startswith("coef"):
        return float(fit.coefficients[at[name.split()[1]]])
    plain = {"deviance": fit.deviance, "df": fit.df, "Pearson chi2": fit.pearson}
    return float(plain[name]) if name in plain else crowder("1").deviance


def quasi(name: str) -> float:
    fit = crowder()
    at = {"const": 0, "S": 1, "R": 2, "SR": 3}
    if name.startswith("SE"):
        return float(fit.errors[at[name.split()[1]]] * np.sqrt(fit.scale))
    if name == "interaction t":
        return float(fit.coefficients[3] / (fit.errors[3] * np.sqrt(fit.scale)))
    return fit.p_of(3)


def icc(name: str) -> float:
    if not name.startswith("O7"):
        return anova_icc([np.array([4.0, 1, 3, 0])], [np.full(4, 5.0)])
    lot, extract = name.split()[:2]
    plates = orobanche_counts(lot)[extract]
    return anova_icc(
        [np.array([y for y, _ in plates], float)], [np.array([n for _, n in plates], float)]
    )


def plates(name: str) -> float:
    lot = "O75" if "O75" in name or "462" in name else "O73"
    share, treated, lots = orobanche()
    mine = lots == lot
    if "diff" in name:
        return float(share[mine & ~treated].mean() - share[mine & treated].mean())
    p = PermutationTest(1).test(share[mine], treated[mine], np.zeros(mine.sum(), dtype=np.int64)).p
    return p / 2 if lot == "O75" else p  # printed: the share of arrangements, central is twice that


def index(name: str) -> float:
    found = {i.id: i.value for i in indices(range(1, 15), SERIES_A, 50)}
    first_ten = {i.id: i.value for i in indices(range(1, 11), SERIES_A[:10], 50)}
    keys = {
        "final": "final", "MGT": "mean_time", "s2": "variance", "SE of MGT": "error", "CV %": "cv",
        "mean rate": "rate", "CVG": "velocity", "T50 Cool": "t50_coolbear", "T50 Far": "t50_farooq",
        "T50 of SOWN": "t50_sown", "Maguire = ": "maguire", "Timson: ": "timson", "/days": "timson_daily",
        "PV": "peak", "MDG": "mean_daily", "GV Cza": "value", "U": "uncertainty", "Z": "synchrony",
        "GV D&P: sumDGS/(inspections": "value_dp",
    }  # fmt: skip
    if name.startswith("Timson first"):
        value = first_ten["timson"]
    else:
        value = found[next(v for k, v in keys.items() if name.startswith(k))]
    assert value is not None
    return value


def trap(name: str) -> float:
    arm = [struck(4, 3)] * 3 + [waiting()] * 17
    late = [struck(7, 6)] * 18 + [waiting()] * 2
    times = [arm_times(singles(arm, late), i, 14) for i in (0, 1)]
    if "RMST" in name:
        value = times["for B" in name].waiting
    elif "MGT" in name:
        value = times[name.startswith("B")].struck_mean
    else:
        without = {i.id: i.value for i in indices(range(1, 13), SERIES_A[2:], 50)}
        value = without["maguire" if "Maguire" in name else "cv"]
    assert value is not None
    return value


def shared_looks(name: str) -> float:
    ends = (0.0, 3.0, 5.0, 8.0, 12.0)
    after = np.repeat(ends[:-1], [4, 7, 6, 2])
    by = np.repeat(ends[1:], [4, 7, 6, 2])
    days, _, mass = self_consistent(after, by, 5)
    last = re.findall(r"[\d.]+|inf", name)[1]
    return 1 - float(mass.sum()) if last == "inf" else float(mass[list(days).index(float(last))])


def simpson(name: str) -> float:
    one, zero = ((8, 10, 24, 40), (4, 30, 1, 10))
    if "Haenszel" in name:
        return stratified_score([8, 4], [10, 30], [24, 1], [40, 10]).estimate
    return newcombe(*(one if "run 1" in name else zero)).estimate


def bayes(name: str) -> float:
    told = numbers(name)
    prior = 0.5 if name.startswith("Jeffreys") else 1.0
    x0, n0, x1, n1 = told[:4]
    return chance_higher(x1, n1, x0, n0, prior=prior)


FOUND: dict[str, Callable[[str], float]] = {
    "wilson": lambda n: side(wilson(*numbers(n)[:2]), n),
    "tiny": lambda n: side(wilson(1, 1), n),
    "newcombe": lambda n: side(newcombe(*numbers(n)[:4]), n),
    "score": lambda n: side(one_block(*numbers(n)[:4]), n),
    "paired": lambda n: side(newcombe_paired(*numbers(n)[:4]), n),
    "mcnemar": lambda n: (
        paired_p(794, 150, 86, 570) if "p" in n else newcombe_paired(794, 150, 86, 570).estimate
    ),
    "mh": lambda _: stratified_score([8], [10], [5], [10]).estimate,
    "simpson": lambda n: simpson(n),
    "floor": lambda n: minimum_p_of(np.arange(2 * numbers(n)[0]) < numbers(n)[0], np.zeros(2 * numbers(n)[0], dtype=np.int64)),
    "mw": lambda n: lot_p(*PLACENTA) if "two" in n else lot_p(*SCIPY_AGES),
    "cliff": lambda n: delta(*PLACENTA) if n == "placenta" else delta(*SCIPY_AGES),
    "ordinal": lambda n: lot_p(*GRADES) if "permutation" in n else delta(GRADES[1], GRADES[0]),
    "logistic": lambda n: logistic(n),
    "quasi": lambda n: quasi(n),
    "icc": lambda n: icc(n),
    "plates": lambda n: plates(n),
    "jars": lambda n: (
        lot_p([1.0, 0.8, 0.8], [0.2, 0.4, 0.4], ranks=False) if "p" in n else 13 / 15 - 5 / 15
    ),
    "signs": lambda _: PermutationTest(1).test(
        np.array([0.2, 0, 0.4, 0, 0.1, 0, 0.3, 0, 0, 0, 0.2, 0]), np.arange(12) % 2 == 0,
        np.repeat(np.arange(6), 2),
    ).p,
    "indices": lambda n: index(n),
    "trap": lambda n: trap(n),
    "shared looks": lambda n: shared_looks(n),
    "bayes": lambda n: bayes(n),
}  # fmt: skip


@pytest.mark.parametrize(
    "row", [r for r in ROWS if r["what"] not in ("letters", "holm")], ids=lambda r: f"{r['what']}: {r['name']}"[:60]
)  # fmt: skip
def test_a_published_number_comes_out(row: dict[str, str]) -> None:
    value, tolerance = float(row["value"]), float(row["tolerance"])
    assert FOUND[row["what"]](row["name"]) == pytest.approx(value, abs=max(tolerance, 1e-6))


@pytest.mark.parametrize(
    "row", [r for r in ROWS if r["what"] == "letters"], ids=lambda r: r["name"][:30]
)
def test_letters_are_those_published(row: dict[str, str]) -> None:
    assert ast.literal_eval(letters(row["name"])) == ast.literal_eval(row["value"])


@pytest.mark.parametrize(
    "row", [r for r in ROWS if r["what"] == "holm"], ids=lambda r: r["name"][-20:]
)
def test_holm_gives_the_published_values(row: dict[str, str]) -> None:
    ps = ast.literal_eval(row["name"][row["name"].index("[") : row["name"].index("]") + 1])
    found = holm(ps)
    if "adj of" in row["name"]:
        found = [found[ps.index(float(row["name"].split()[-1]))]]
        assert found == pytest.approx([float(row["value"])], abs=1e-12)
    else:
        assert found == pytest.approx(ast.literal_eval(row["value"]), abs=1e-12)
