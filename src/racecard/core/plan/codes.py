"""Blind codes: short, unlike each other, with a check character.

Three characters name the unit, the fourth checks them: a sum modulo 23 with weights 1, 2, 3. As 23
is prime, one wrong character or two swapped neighbours never give another unit's code.
"""

from collections.abc import Iterable
from functools import lru_cache

from racecard.core.model import Trial
from racecard.core.streams import generator

LETTERS = "ACDEFHJKMNPQRTUVWXY3479"
"""Without B and 8, G and 6, I and 1, L, O and 0, S and 5, Z and 2: they look alike on a wet label."""
_STREAM = 2


@lru_cache(maxsize=16)
def blind_codes(count: int, seed: int) -> tuple[str, ...]:
    """A code for each unit; nothing in it tells the treatment.

    Args:
        count: units, at most 23 ** 3.
        seed: the trial's seed; the codes have a stream of their own.
    """
    base = len(LETTERS)
    rng = generator(seed, "blind codes", legacy=(_STREAM,))
    chosen = rng.permutation(base**3)[:count]
    return tuple(
        _with_check((int(n) // base**2, int(n) // base % base, int(n) % base)) for n in chosen
    )


def is_code(text: str) -> bool:
    """Whether this is a code whose check character agrees; case and spaces do not matter."""
    code = text.upper().strip()
    if len(code) != 4 or any(c not in LETTERS for c in code):
        return False
    return _with_check(LETTERS.index(c) for c in code[:3]) == code


def _with_check(digits: Iterable[int]) -> str:
    parts = tuple(digits)
    check = sum(weight * d for weight, d in zip((1, 2, 3), parts, strict=True)) % len(LETTERS)
    return "".join(LETTERS[d] for d in (*parts, check))


def target_names(trial: Trial) -> dict[str, str]:
    """Names by target: units by code and blind label; treatments only where they may be shown."""
    out = {u.id: u.cell.code for u in trial.units}
    if trial.plan.blind:
        labels = blind_codes(len(trial.planted), trial.key)
        for u, label in zip(trial.planted, labels, strict=True):
            out[u.id] = f"{u.cell.code} · {label}"
    if not trial.is_sealed:
        out |= {str(i): t.name for i, t in enumerate(trial.plan.treatments)}
    return out
