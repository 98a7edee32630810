"""Batches: a container as it stands on the shelf, and the last day on which it is good."""

from __future__ import annotations

from datetime import date, timedelta

from nublet.core.errors import ShelfError


def use_by(*, opened_on: date | None, best_before: date | None, keeps_opened_d: float | None) -> date | None:
    """Return the earlier of the printed date and the last day after opening; ``None`` when neither is known.

    Parameters
    ----------
    opened_on, best_before : date or None
        When it was opened, and the date that is printed on it.
    keeps_opened_d : float or None
        Days that the label gives it once opened.

    Raises
    ------
    ShelfError
        If it was opened before the year 1990 or the printed date is older still: a slip of the pen.

    Examples
    --------
    >>> use_by(opened_on=date(2026, 3, 1), best_before=date(2027, 1, 1), keeps_opened_d=30)
    datetime.date(2026, 3, 31)
    >>> use_by(opened_on=None, best_before=None, keeps_opened_d=30) is None
    True
    """
    for field, day in (("opened_on", opened_on), ("best_before", best_before)):
        if day is not None and not 1990 <= day.year <= 2200:
            raise ShelfError(f"The year {day.year} cannot be. Give 1990 to 2200.", field=field)
    known = [] if best_before is None else [best_before]
    if opened_on is not None and keeps_opened_d is not None:
        known.append(opened_on + timedelta(days=int(keeps_opened_d)))
    return min(known, default=None)
