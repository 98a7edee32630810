"""Blind codes for panels, and the order in which a judge reads them."""

from __future__ import annotations

import hashlib
import hmac
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


def stream_of_chance(seed: int, name: str) -> np.random.Generator:
    """A stream of chance for one purpose.

    Its state is a SHA-256 of seed and name, so that streams of one seed tell nothing of each other, whatever is seen of one.
    """
    digest = hashlib.sha256(f"{seed}:{name}".encode()).digest()
    return np.random.default_rng(int.from_bytes(digest, "big"))


def shuffle_read_order(
    codes: Sequence[str], *, secret: str, judge: int, look: str, n_replaced: int = 0
) -> list[str]:
    """Return the panel codes in one judge's own order for one look.

    Parameters
    ----------
    codes : sequence of str
    secret : str
        The trial's secret for orders, which decides nothing else: what is seen of the order tells nothing of the lots.
    judge : int
    look : str
    n_replaced : int
        Panels replaced so far: each replacement shuffles anew, so that a new code does not stand where one vanished.

    Notes
    -----
    The codes are sorted by HMAC-SHA-256 of judge, look and code under the secret (RFC 2104): without it the order cannot be
    told from chance, and a judge who comes back finds it unchanged.
    """

    def key(code: str) -> bytes:
        return hmac.digest(secret.encode(), f"{judge}:{look}:{n_replaced}:{code}".encode(), "sha256")

    return sorted(codes, key=key)
