"""What is to be weighed in one table: each test on each wood, by the design that its panels have, within what can be afforded."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from nublet.core.errors import ReadingsError
from nublet.core.evidence.arrangements import N_ARRANGEMENTS, Arrangements
from nublet.core.evidence.by_sections import weigh_sections
from nublet.core.evidence.fit import Fit
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.outcomes import Rules, School, TestEvidence
from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.evidence.scored import weigh_scores
from nublet.core.evidence.weighing import as_weighed, fit_of, weigh_test
from nublet.core.protocols.responses import Response

Design = Literal["auto", "blocks", "sections", "factors"]

# Every pair of every test is listed up to so many in all; beyond, the tests with the most build-ups list none.
MOST_PAIRS = 300_000
# Values dealt anew in all: about 20 seconds of one core. To draw a layout's arrangements costs as much as to use them so often.
_MOST_DEALT = 1_000_000_000
_DRAWING_COSTS = 6
_FEWEST_DRAWN = 500
_TABLE_PAYS_FROM = 150


# The blocks models that were made already, by test and species.
Fits = Mapping[tuple[str, str], Fit | None]


@dataclass(frozen=True, kw_only=True)
class Task:
    """One test on one wood, or on all: its readings at the look, and one value a panel or section."""

    test: str
    species: str
    look: str | None
    values: tuple[PanelValue, ...]
    rows: Sequence[Reading]

    @property
    def n_systems(self) -> int:
        """Build-ups that have a value."""
        return len({value.system for value in self.values})

    @property
    def has_sections(self) -> bool:
        """Whether any panel has more than one section, or different panels have different ones: those are no replicates."""
        on = Counter(value.panel for value in self.values)
        return any(n > 1 for n in on.values()) or len({v.section for v in self.values if v.section}) > 1


def check_design(readings: Sequence[Reading], design: Design, factors: Sequence[FactorLevels]) -> None:
    """Refuse a design that the table has not. Raises ``ReadingsError``."""
    if design == "sections" and not any(reading.section for reading in readings):
        raise ReadingsError(
            "No row names a section, so there are none to weigh within panels. Fill the column 'section', or ask for blocks.",
            field="section",
        )
    if design == "factors" and sum(len(each.levels) > 1 for each in factors) < 2:
        raise ReadingsError(
            "Fewer than two factors vary, so there is nothing to cross. Name each build-up's levels in columns factor:NAME, or ask "
            "for blocks.",
            field="factor",
        )


def rules_for(
    tasks: Sequence[Task],
    *,
    response: Response,
    school: School,
    worth: float | None,
    alpha: float,
    seed: int,
) -> tuple[Rules, Fits]:
    """The rules of one analysis: how many pairs are listed, which tables pay, and how often values can be dealt anew; and the fits.

    All follow from the table alone, so that the same table gives the same bytes.
    """
    sizes = Counter(task.n_systems for task in tasks)
    most_systems, total = 0, 0
    for size, n_tests in sorted(sizes.items()):
        total += n_tests * size * (size - 1) // 2
        if total > MOST_PAIRS:
            break
        most_systems = size
    rules = Rules(
        response=response,
        school=school,
        alpha=alpha,
        worth=response.worth_knowing if worth is None else worth,
        draws=_draws(tasks, most_systems, seed),
        most_systems=most_systems,
    )
    if school == "ranks" or response.weighed_first not in ("means", "log-means"):
        return rules, {}
    fits = {(task.test, task.species): fit_or_none(task, rules) for task in tasks}
    return replace(rules, tabled=_tabled(tasks, fits, rules)), fits


def _draws(tasks: Sequence[Task], most_systems: int, seed: int) -> Arrangements | None:
    """As many arrangements as can be afforded in all tests together; none where they would be too few to say anything."""
    costs = []
    layouts: set[tuple[int, int]] = set()
    for task in tasks:
        k, n = task.n_systems, len(task.values)
        if k > most_systems:
            continue
        n_boards = len({value.board for value in task.values})
        costs.append(n + (0 if n == k * n_boards else k * (k - 1) // 2))
        if (n, n_boards) not in layouts:
            layouts.add((n, n_boards))
            costs.append(_DRAWING_COSTS * n)
    affordable = math.floor(_MOST_DEALT / max(sum(costs), 1))
    return Arrangements(seed, min(N_ARRANGEMENTS, affordable)) if affordable >= _FEWEST_DRAWN else None


def _tabled(tasks: Sequence[Task], fits: Fits, rules: Rules) -> frozenset[tuple[int, float]]:
    """Which studentized ranges so many pairs ask for that a table of each pays."""
    asked: Counter[tuple[int, float]] = Counter()
    for task in tasks:
        k, fit = task.n_systems, fits.get((task.test, task.species))
        if fit is not None and not task.has_sections and k <= rules.most_systems:
            asked[k, float(fit.residual_df)] += k * (k - 1) // 2
    return frozenset(each for each, n in asked.items() if n > _TABLE_PAYS_FROM)


def fit_or_none(task: Task, rules: Rules) -> Fit | None:
    """The blocks model of a test, a section of a build-up standing for one; ``None`` where boards do not link them."""
    values = as_weighed(task.values, rules)[0]
    if task.has_sections:
        values = tuple(replace(v, system=f"{v.system}\x1f{v.section}", section="") for v in values)
    try:
        return fit_of(values, rules)
    except ReadingsError:
        return None


def weigh_task(
    task: Task, rules: Rules, design: Design, factors: Sequence[FactorLevels], fits: Fits
) -> list[TestEvidence]:
    """Weigh one test: as a whole, or one section at a time where build-ups and sections cannot be weighed together."""
    if not task.has_sections:
        return [_weigh(task, rules, factors, has_sections=False, fit=fits.get((task.test, task.species)))]
    if design == "blocks":
        return [_weigh(task, rules, factors, has_sections=False)]
    try:
        return [_weigh(task, rules, factors, has_sections=True)]
    except ReadingsError as error:
        if design == "sections":
            raise
        apart = [
            replace(
                task,
                values=tuple(v for v in task.values if v.section == section),
                rows=[r for r in task.rows if (r.section or "") == section],
            )
            for section in sorted({value.section for value in task.values})
        ]
        return [
            replace(
                _weigh(each, rules, factors, has_sections=False),
                section=each.values[0].section,
                says=error.message,
            )
            for each in apart
        ]


def _weigh(
    task: Task, rules: Rules, factors: Sequence[FactorLevels], *, has_sections: bool, fit: Fit | None = None
) -> TestEvidence:
    scored = weigh_scores(
        task.test, task.species, task.look, task.rows, rules=rules, has_sections=has_sections
    )
    if scored is not None:
        return scored
    if has_sections:
        return weigh_sections(task.test, task.species, task.look, task.values, rules=rules, factors=factors)
    values = _one_a_panel(task.values)
    return weigh_test(task.test, task.species, task.look, values, rules=rules, factors=factors, fit=fit)


def _one_a_panel(values: tuple[PanelValue, ...]) -> tuple[PanelValue, ...]:
    """The panel is the unit: where its sections are not weighed apart it counts with their mean."""
    by_panel: dict[str, list[PanelValue]] = {}
    for value in values:
        by_panel.setdefault(value.panel, []).append(value)
    if len(by_panel) == len(values):
        return values
    return tuple(
        replace(own[0], section="", value=sum(v.value for v in own) / len(own)) for own in by_panel.values()
    )
