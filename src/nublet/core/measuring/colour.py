"""Colour: how far two colours are apart, and the hue of one.

References
----------
ISO/CIE 11664-6:2014, CIEDE2000 colour-difference formula; computed by scikit-image.
"""

from __future__ import annotations

import math

Lab = tuple[float, float, float]


def delta_e00(one: Lab, other: Lab) -> float:
    """CIEDE2000 between two colours in L*, a*, b*, with all parametric factors 1.

    Examples
    --------
    The first pair of the published test data:

    >>> round(delta_e00((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485)), 4)
    2.0425
    """
    # Loaded here: it takes a third of a second, and most commands need none of it.
    from skimage.color import deltaE_ciede2000

    return float(deltaE_ciede2000(one, other))


def hue_degrees(a: float, b: float) -> float | None:
    """Hue angle of a colour, 0 to 360°; ``None`` for a grey, which has none.

    Examples
    --------
    >>> hue_degrees(0, 20), hue_degrees(0, 0) is None
    (90.0, True)
    """
    return None if math.hypot(a, b) < 1e-9 else math.degrees(math.atan2(b, a)) % 360
