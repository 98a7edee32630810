"""What a design can and cannot show, in sentences and figures, before any wood is cut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nublet.core.design.graded import graded_sd, smallest_near_the_top
from nublet.core.design.incomplete import balancing_counts
from nublet.core.design.power import (
    WORTH_KNOWING,
    Comparison,
    Spread,
    power_curve,
    smallest_difference,
)
from nublet.core.design.section_power import USUAL_SHARE, SectionReach, section_reach
from nublet.core.protocols.responses import GRADE

FLOOR_BOARDS = 3
COMFORTABLE_BOARDS = 5
MOST_BOARDS = 60
DEMONSTRATION = (
    "One board is a demonstration: it shows what can happen, but nothing can be told apart, because nothing shows how "
    f"much panels differ by themselves. {FLOOR_BOARDS} boards are a floor, {COMFORTABLE_BOARDS} are comfortable."
)


@dataclass(frozen=True, kw_only=True)
class Reach:
    """What so many boards would notice: grades, ``None`` when no difference ever is."""

    n_boards: int
    told_apart: float | None
    named_pair: float | None


@dataclass(frozen=True, kw_only=True)
class Outlook:
    """What a design can show.

    Attributes
    ----------
    spread : Spread
        The standard deviation between panels that everything rests on.
    here : Reach
        With the boards of each species as planned; of the species with the fewest.
    fewer, more : Reach or None
        With the next smaller and larger number of boards that this design can have.
    pooled : Reach or None
        Over all species together, when there are several.
    n_boards_worth_knowing : int or None
        Boards of each species needed to tell the smallest difference worth knowing apart.
    curve : tuple of (difference, power)
        Of the told-apart rule, on one species.
    curve_fewer, curve_more : tuple of (difference, power)
        The same with the boards of ``fewer`` and ``more``; empty when there are none.
    sections : SectionReach or None
        What the sections of a panel show, where there are several.
    says : tuple of str
        The answer in sentences, the first the most important.
    """

    spread: Spread
    here: Reach
    fewer: Reach | None
    more: Reach | None
    pooled: Reach | None
    n_boards_worth_knowing: int | None
    curve: tuple[tuple[float, float], ...]
    curve_fewer: tuple[tuple[float, float], ...]
    curve_more: tuple[tuple[float, float], ...]
    sections: SectionReach | None
    says: tuple[str, ...]


def look_ahead(
    comparisons: Sequence[Comparison],
    spread: Spread,
    *,
    n_sections: int = 0,
    n_judges: int | None = None,
    within: Spread | None = None,
    worth: float = WORTH_KNOWING,
) -> Outlook:
    """Say what a design can show.

    With ``n_judges`` panels are graded in whole steps by so many, and every figure is for that; a spread that comes from
    graded trials has it in it already. Without, figures are for values as fine as one likes, and a sentence says what
    whole grades make of them.

    Parameters
    ----------
    comparisons : sequence of Comparison
        One for each species.
    spread : Spread
    n_sections : int
        Sections on each panel.
    within : Spread or None
        Of a section about its panel; without one a usual share of the spread between panels.
    worth : float
        The smallest difference worth knowing, grades.
    """
    weakest = min(comparisons, key=lambda c: c.n_boards)
    told, graded_by = spread, n_judges or 1
    if n_judges is not None and spread.source != "own_trials" and spread.sd > 0:
        spread = replace(spread, sd=graded_sd(spread.sd, n_judges))
    here = _reach(weakest, spread)
    beside = _beside(weakest)
    fewer, more = (_reach(c, spread) if c else None for c in beside)
    curve_fewer, curve_more = (tuple(power_curve(c, spread.sd)) if c else () for c in beside)
    pooled = _reach(_pool(comparisons), spread) if len(comparisons) > 1 else None
    n_worth = boards_for(worth, weakest, spread.sd)
    sections = _sections(weakest, n_sections, spread, within)
    return Outlook(
        spread=told,
        here=here,
        fewer=fewer,
        more=more,
        pooled=pooled,
        n_boards_worth_knowing=n_worth,
        curve=tuple(power_curve(weakest, spread.sd)),
        curve_fewer=curve_fewer,
        curve_more=curve_more,
        sections=sections,
        says=(
            *_say(weakest, told, here, fewer, more, pooled, n_worth, worth, comparisons),
            *_say_sections(sections),
            *_say_graded(weakest, told, here, graded_by, is_in_figures=n_judges is not None),
        ),
    )


def _say_graded(
    weakest: Comparison, spread: Spread, here: Reach, n_judges: int, *, is_in_figures: bool
) -> list[str]:
    """What whole grades do to the figures, and what the top of the scale does."""
    if here.told_apart is None or spread.sd == 0:
        return []
    judges = "one judge" if n_judges == 1 else f"{n_judges} judges"
    if is_in_figures:
        first = f"Panels are graded in whole steps by {judges}; that is in these figures."
    else:
        rounded = smallest_difference(weakest, graded_sd(spread.sd, n_judges))
        first = "These figures are for values finer than a grade" + (
            f"; in whole grades by {judges} it takes {rounded:.1f}." if rounded is not None else "."
        )
    top = smallest_near_the_top(weakest, spread.sd, n_judges=n_judges)
    if top is None:
        return [
            first,
            "Next to a build-up that is nearly unmarked no difference is noticed 8 times in 10: the scale ends.",
        ]
    return [
        first,
        f"Next to a build-up that is nearly unmarked (grade {GRADE.best:g}) it takes {top:.1f}, because the scale ends there.",
    ]


def _say(
    weakest: Comparison,
    spread: Spread,
    here: Reach,
    fewer: Reach | None,
    more: Reach | None,
    pooled: Reach | None,
    n_worth: int | None,
    worth: float,
    comparisons: Sequence[Comparison],
) -> list[str]:
    n = weakest.n_boards
    boards = _boards(n) + (" of each wood" if len(comparisons) > 1 else "")
    says: list[str] = []
    if n == 1:
        says.append(DEMONSTRATION)
    elif here.told_apart is None:
        says.append(
            f"With {boards} nothing is left over to show how much panels differ: nothing can be told apart."
        )
    else:
        says.append(
            f"With {boards} you will notice a {here.told_apart:.1f}-grade difference between two build-ups 8 times in 10, "
            f"{spread.says}."
        )
        if weakest.n_build_ups > 2 and here.named_pair is not None:
            says.append(
                f"That is for any two, judged as the evidence page judges; for one pair that you name before you cut, "
                f"{here.named_pair:.1f} grades are enough."
            )
    says += _say_incomplete(weakest)
    if pooled is not None and pooled.told_apart is not None:
        says.append(
            f"Over all woods together: {pooled.told_apart:.1f} grades, if the build-ups behave alike on them."
        )
    says += _say_other_boards(n, fewer, more)
    if n_worth is not None and n_worth != n and here.told_apart is not None:
        says.append(
            f"To tell {'one grade' if worth == 1 else f'{worth:g} grades'} apart: {_boards(n_worth)}{' of each wood' if len(comparisons) > 1 else ''}."
        )
    if 1 < n < FLOOR_BOARDS:
        says.append(f"{FLOOR_BOARDS} boards are a floor, {COMFORTABLE_BOARDS} are comfortable.")
    return says


def _sections(
    weakest: Comparison, n_sections: int, spread: Spread, within: Spread | None
) -> SectionReach | None:
    if n_sections < 2:
        return None
    sd = spread.sd * USUAL_SHARE if within is None else within.sd
    return section_reach(weakest, n_sections, sd, is_usual=within is None)


def _say_sections(reach: SectionReach | None) -> list[str]:
    """What is seen between the sections of a panel, which share its wood and its coats."""
    if reach is None:
        return []
    first = (
        f"The {reach.n_sections} sections of a panel share its wood and its coats, so what differs between them is seen more "
        "sharply than what differs between panels"
    )
    if reach.over_all is None or reach.within_build_up is None:
        return [f"{first}."]
    whence = "half of the usual spread's variance" if reach.is_usual else "your own finished trials"
    return [
        f"{first}: two of them by {reach.over_all:.1f} grades over all build-ups, by {reach.within_build_up:.1f} on one build-up "
        f"(SD {reach.sd:.2f} within a panel, from {whence})."
    ]


def _say_incomplete(weakest: Comparison) -> list[str]:
    """What boards that do not carry every build-up cost."""
    if weakest.block_size >= weakest.n_build_ups:
        return []
    share = (
        100
        * (weakest.n_build_ups * (weakest.block_size - 1))
        / (weakest.block_size * (weakest.n_build_ups - 1))
    )
    return [
        f"Each board carries {weakest.block_size} of the {weakest.n_build_ups} build-ups, every two equally often "
        f"together: a comparison is worth {share:.0f} % of one on boards that carry all, with as many panels "
        "(balanced incomplete blocks)."
    ]


def _say_other_boards(n: int, fewer: Reach | None, more: Reach | None) -> list[str]:
    """What a board more would bring, and a board fewer would leave."""
    buys = []
    if more is not None and more.told_apart is not None:
        buys.append(f"{_more(more.n_boards - n)} would bring it to {more.told_apart:.1f}")
    if fewer is not None:
        left = (
            "leave a demonstration"
            if fewer.n_boards == 1 or fewer.told_apart is None
            else f"raise it to {fewer.told_apart:.1f}"
        )
        buys.append(f"{_fewer(n - fewer.n_boards)} would {left}")
    return [f"{'; '.join(buys)}."] if buys else []


def _reach(comparison: Comparison, spread: Spread) -> Reach:
    return Reach(
        n_boards=comparison.n_boards,
        told_apart=smallest_difference(comparison, spread.sd),
        named_pair=smallest_difference(comparison, spread.sd, rule="named_pair"),
    )


def _beside(comparison: Comparison) -> tuple[Comparison | None, Comparison | None]:
    """The same design with the next fewer and the next more boards that it can have."""
    v, b, k = comparison.n_build_ups, comparison.n_boards, comparison.block_size
    counts = (
        list(range(1, MOST_BOARDS + 1)) if k == v else balancing_counts(v, k, most=min(MOST_BOARDS, 3 * b))
    )
    below = max((n for n in counts if n < b), default=None)
    above = min((n for n in counts if n > b), default=None)

    def of(n: int | None) -> Comparison | None:
        return None if n is None else Comparison(n_build_ups=v, n_boards=n, block_size=k)

    return of(below), of(above)


def _pool(comparisons: Sequence[Comparison]) -> Comparison:
    """All species as one, by the smallest blocks among them."""
    return Comparison(
        n_build_ups=comparisons[0].n_build_ups,
        n_boards=sum(c.n_boards for c in comparisons),
        block_size=min(c.block_size for c in comparisons),
    )


def boards_for(difference: float, comparison: Comparison, sd: float) -> int | None:
    """The fewest boards in complete blocks that tell a difference apart 8 times in 10."""
    if comparison.block_size < comparison.n_build_ups or sd == 0:
        return None

    def enough(n: int) -> bool:
        reach = smallest_difference(
            Comparison(n_build_ups=comparison.n_build_ups, n_boards=n, block_size=comparison.block_size),
            sd,
        )
        return reach is not None and reach <= difference

    low, high = 1, MOST_BOARDS
    if not enough(high):
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def _boards(n: int) -> str:
    return "one board" if n == 1 else f"{n} boards"


def _more(n: int) -> str:
    return "One more board" if n == 1 else f"{n} more boards"


def _fewer(n: int) -> str:
    return "one fewer" if n == 1 else f"{n} fewer"
