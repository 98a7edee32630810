"""How many more boards would settle what is open, from the spread that was seen."""

from __future__ import annotations

import numpy as np

from nublet.core.design.power import Comparison, smallest_difference
from nublet.core.evidence.fit import Fit, pair_variances

MOST_BOARDS = 60


def more_boards(fit: Fit, worth: float) -> int | None:
    """How many boards more than there are would tell a difference apart 8 times in 10.

    Parameters
    ----------
    fit : Fit
    worth : float
        The difference, on the scale that was fitted.

    Returns
    -------
    int or None
        0 where there are enough; ``None`` where nothing is known of the spread, or more than 60 boards would be needed.

    Notes
    -----
    The spread of the panels is taken to stay as it was seen, and new boards to carry every build-up. By the told-apart rule over
    all pairs (:func:`nublet.core.design.power.smallest_difference`).

    Examples
    --------
    >>> from nublet.core.evidence.models.blocks import fit_blocks
    >>> from nublet.core.evidence.readings import PanelValue
    >>> rows = {"A": [5, 4, 4.5, 5], "B": [4, 4, 3.5, 3], "C": [2.5, 3, 2, 3.5]}
    >>> values = [
    ...     PanelValue(panel=f"{s}{b}", system=s, board=f"b{b}", species=None, value=v) for s in rows for b, v in enumerate(rows[s])
    ... ]
    >>> more_boards(fit_blocks(values), 1.0)
    5
    """
    k, b = len(fit.systems), len(fit.boards)
    if not fit.has_variance or not fit.residual_ms or k < 2:
        return None
    variance = float(pair_variances(fit.unscaled).mean())
    # As if every board carried every build-up: the SD that gives the errors that were seen.
    sd = float(np.sqrt(fit.residual_ms * variance * b / 2))
    for n in range(b, MOST_BOARDS + 1):
        found = smallest_difference(Comparison(n_build_ups=k, n_boards=n, block_size=k), sd)
        if found is not None and found <= worth:
            return n - b
    return None
