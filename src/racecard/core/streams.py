"""Chance from a trial's seed: a stream of its own for every purpose, so that none betrays another.

A trial's seed has 128 bits from the operating system. What is drawn from it for one purpose comes
from a SHA-256 of seed and purpose, so that who sees the sticking order or the blind codes learns
neither the seed nor the bench. Trials from before that have seeds below 2^31, which can be searched;
they keep their seeds and the streams they were drawn with.
"""

import hashlib
from collections.abc import Sequence

import numpy as np

SEED_BITS = 128
LEAST_LONG = 2**64
"""Seeds from here on draw from keyed streams."""


def is_short(seed: int) -> bool:
    """Whether a seed is so short that the bench can be found from what was drawn with it."""
    return seed < LEAST_LONG


def shown_seed(seed: int) -> str:
    """The seed as a page, a report or a file writes it."""
    return str(seed) if is_short(seed) else f"{seed:032x}"


def entropy(
    seed: int, purpose: str, *numbers: int, legacy: Sequence[int] | None = None
) -> int | list[int]:
    """What a generator is seeded with for one purpose.

    Args:
        seed: the trial's seed, 0 <= seed < 2 ** 128.
        purpose: what is drawn, such as "bench" or "codes".
        numbers: what else tells this draw from others of its purpose.
        legacy: what a short seed is joined with, where that is not `numbers`.
    """
    if is_short(seed):
        joined = numbers if legacy is None else legacy
        return [seed, *joined] if joined else seed
    key = f"{seed:032x}:{purpose}:{','.join(map(str, numbers))}"
    return int.from_bytes(hashlib.sha256(key.encode()).digest(), "big")


def generator(
    seed: int, purpose: str, *numbers: int, legacy: Sequence[int] | None = None
) -> np.random.Generator:
    """A generator for one purpose; arguments as for `entropy`.

    Args:
        seed: the trial's seed, 0 <= seed < 2 ** 128.
        purpose: what is drawn, such as "bench" or "codes".
        numbers: what else tells this draw from others of its purpose.
        legacy: what a short seed is joined with, where that is not `numbers`.
    """
    return np.random.default_rng(entropy(seed, purpose, *numbers, legacy=legacy))
