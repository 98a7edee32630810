"""Blind codes for panels, and the order in which a judge reads them."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from itertools import product

import numpy as np

# Left out because pencil on end grain confuses them: B 8, I 1 L, O 0 Q, S 5, U V, Z 2.
CODE_LETTERS = "ACDEFGHJKMNPRTWXY"
CODE_DIGITS = "34679"


def draw_codes(n_codes: int, *, rng: np.random.Generator) -> list[str]:
    """Draw distinct short codes in random order.

    Parameters
    ----------
    n_codes : int
        How many. Up to 85 have a letter and a digit (``K7``); more get a further letter (``K7M``).
    rng : numpy.random.Generator
        The source of chance; the same state gives the same codes.

    Returns
    -------
    list of str
        Distinct codes. Neither their letters nor their order carry anything about the panel.
    """
    alphabets = [CODE_LETTERS, CODE_DIGITS]
    while np.prod([len(alphabet) for alphabet in alphabets]) < n_codes:
        alphabets.append(CODE_LETTERS)
    pool = ["".join(parts) for parts in product(*alphabets)]
    return [pool[index] for index in rng.choice(len(pool), size=n_codes, replace=False)]


def shuffle_read_order(codes: Sequence[str], *, seed: int, judge: int, look: str) -> list[str]:
    """Return the panel codes in one judge's own order for one look.

    The order depends on the seed, the judge and the look alone, so that a judge who comes back finds it
    unchanged.
    """
    look_key = int.from_bytes(hashlib.sha256(look.encode()).digest()[:4], "big")
    rng = np.random.default_rng(np.random.SeedSequence([seed, judge, look_key]))
    ordered = sorted(codes)
    return [ordered[index] for index in rng.permutation(len(ordered))]
