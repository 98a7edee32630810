"""Whether a panel is large enough for each single site, whatever stands beside it."""

from __future__ import annotations

from collections.abc import Iterable

from nublet.core.design.areas import PanelSize
from nublet.core.errors import DesignError
from nublet.core.protocols.tests import Test
from nublet.core.quantities import amount, say


def check_sites_fit(size: PanelSize, tests: Iterable[Test], *, margin_mm: float) -> None:
    """Refuse a spot or strip that no panel of this size can carry, alone and with its margins.

    Raises
    ------
    DesignError
        Names the test, and the size that would do.
    """
    for index, test in enumerate(tests):
        if not test.site.is_placed:
            continue
        along, across = (side + 2 * margin_mm for side in test.site.footprint_mm)
        if along > size.length_mm or across > size.width_mm:
            raise DesignError(
                say(
                    "{} does not fit on a panel of {} × {}: with margins of {} it takes {} along the grain and {} across. Take a larger "
                    "panel or a smaller site.",
                    test.name,
                    amount("millimetres", size.length_mm, is_bare=True),
                    amount("millimetres", size.width_mm),
                    amount("millimetres", margin_mm),
                    amount("millimetres", along),
                    amount("millimetres", across),
                ),
                field=f"tests.{index}.site",
            )
