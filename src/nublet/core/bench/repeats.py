"""Blind repeats: about one site in ten comes round a second time, unannounced, so that each judge's repeatability is known.

Which, and when, is drawn by HMAC-SHA-256 under the trial's secret for orders (RFC 2104), as each judge's order is: who comes back
finds it unchanged, and nobody can foretell it.
"""

from __future__ import annotations

import hmac
from collections.abc import Iterable, Sequence

SHARE = 0.1
# With fewer sites at a look a reader would remember what they saw.
TINY = 20
# So many other panels at least lie between the two times, or one where no more are left.
_BETWEEN = 2


def chosen_again(sites: Iterable[str], *, secret: str, judge: int, look: str) -> frozenset[str]:
    """The sites that come again to a judge at a look.

    Parameters
    ----------
    sites : iterable of str
        All of the trial at that look, due or not, by any names: what is drawn does not change as more fall due.
    secret : str
    judge : int
    look : str

    Examples
    --------
    >>> len(chosen_again(map(str, range(60)), secret="s", judge=1, look="24h"))
    6
    >>> chosen_again(map(str, range(12)), secret="s", judge=1, look="24h")
    frozenset()
    """
    listed = sorted(set(sites))
    if len(listed) < TINY:
        return frozenset()
    drawn = sorted(listed, key=lambda site: _number(secret, f"again:{judge}:{look}:{site}"))
    return frozenset(drawn[: round(SHARE * len(listed))])


def woven(
    order: Sequence[str], again: Iterable[str], *, secret: str, judge: int, look: str
) -> list[tuple[str, int]]:
    """A reader's order of panels with those that come again put in: each panel with its turn, 0 or 1.

    One comes again after two others at least; where none is left after it, it does not come again.
    """
    found = [(code, 0) for code in order]
    wanted = sorted(set(again) & set(order), key=lambda code: _number(secret, f"turn:{judge}:{look}:{code}"))
    for code in wanted:
        first = found.index((code, 0))
        earliest = min(first + 1 + _BETWEEN, len(found))
        if earliest - first < _BETWEEN:
            continue
        places = len(found) - earliest + 1
        found.insert(earliest + _number(secret, f"place:{judge}:{look}:{code}") % places, (code, 1))
    return found


def is_swapped(pair: tuple[str, str], *, secret: str, judge: int) -> bool:
    """Whether of two pieces that a judge chooses between the second is shown at the left: half of the pairs, by lot."""
    return bool(_number(secret, f"side:{judge}:{pair[0]}:{pair[1]}") & 1)


def _number(secret: str, what: str) -> int:
    return int.from_bytes(hmac.digest(secret.encode(), what.encode(), "sha256")[:8], "big")
