"""Blind codes for panels."""

from __future__ import annotations

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
