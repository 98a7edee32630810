"""What permutation says of a family of pairs: which places may be dealt to which, and what stands beside what.

**Step by step.** Dealt among all, a build-up that stands far from the others (bare wood in nearly every trial) is dealt among
them too, and its distance drowns theirs. So the family is first dealt as a whole. Where that tells neighbours in the order of
means apart, the widest such gap parts the family, and each side is dealt by itself, and so on. A side of m among k build-ups is
held to 1 - (1 - α)^(m / k), told as the p-value 1 - (1 - p)^(k / m): the levels of sides that are alike then add up to no more
than α (Ryan 1960; Einot and Gabriel 1975).

**Without spread.** Build-ups all of whose panels stand at an end of the scale lend the others their narrowness: pairs of the others
are dealt without them as well, and the larger p-value counts. So it does, where ranks decide alone and nothing parted the family,
on each side of the widest gap: what stands apart and could not be told apart still makes the deals of the whole inexact.

**Factors.** The levels of one factor are dealt within a board among build-ups that are alike in all other factors.

References
----------
Ryan, T. A. (1960). Significance tests for multiple comparison of proportions, variances, and other statistics. Psychological
Bulletin 57, 318-328.
Einot, I. and Gabriel, K. R. (1975). A study of the powers of several methods of multiple comparisons. JASA 70, 574-583.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nublet.core.errors import ReadingsError
from nublet.core.evidence.fit import Fit
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.factors import Margin
from nublet.core.evidence.outcomes import Rules
from nublet.core.evidence.permutation import Family, Layout, Tail, all_pairs, permuted_tails
from nublet.core.evidence.readings import PanelValue
from nublet.core.evidence.verdicts import Permuted, permuted_of

FloatArray = NDArray[np.float64]


def layout_of(fit: Fit, values: Sequence[PanelValue]) -> tuple[FloatArray, Layout]:
    """The values and where they stand, as a permutation asks for them."""
    system = {name: index for index, name in enumerate(fit.systems)}
    board = {name: index for index, name in enumerate(fit.boards)}
    return np.array([value.value for value in values]), Layout(
        group=np.array([system[value.system] for value in values], dtype=np.intp),
        block=np.array([board[value.board] for value in values], dtype=np.intp),
        unscaled=fit.unscaled,
    )


def deal_blocks(fit: Fit, values: Sequence[PanelValue], rules: Rules) -> Permuted | None:
    """Deal whole panels within their boards, for all pairs of systems; ``None`` where nothing can be dealt.

    Parameters
    ----------
    fit : Fit
        Of these values.
    values : sequence of PanelValue
    rules : Rules
    """
    if rules.draws is None or len(fit.systems) < 2:
        return None
    found = _step_down(fit, values, rules, len(fit.systems))
    if found is None:
        return None
    groups = [set(fit.error_systems) if rules.school == "means" else _varying(values)]
    if rules.school == "ranks" and not found.sides:
        groups += _beside_the_widest_gap(fit)
    for group in groups:
        if 1 < len(group) < len(fit.systems):
            found = _larger_among(group, fit, values, found, rules)
    return found


def _step_down(fit: Fit, values: Sequence[PanelValue], rules: Rules, n_all: int) -> Permuted | None:
    tail = _tail(fit, values, rules)
    if tail is None:
        return None
    found = permuted_of(tail, alpha=rules.alpha)
    smallest = float(at_size(np.array(tail.smallest_p), len(fit.systems), n_all))
    found = replace(found, p=at_size(found.p, len(fit.systems), n_all), is_mute=smallest >= rules.alpha)
    for side in _sides(fit, found, rules):
        if len(side) < 2:
            continue
        own = [value for value in values if value.system in side]
        try:
            apart = _step_down(fit_blocks(own), own, rules, n_all)
        except ReadingsError:
            continue
        if apart is not None and not (apart.is_mute and rules.school == "ranks"):
            found = put_in(found, fit.systems, apart, sorted(side))
            found = replace(found, sides=(*found.sides, side, *apart.sides))
    return found


def _tail(fit: Fit, values: Sequence[PanelValue], rules: Rules) -> Tail | None:
    if rules.draws is None:
        return None
    y, layout = layout_of(fit, values)
    tails = permuted_tails(y, layout, [None], rules.draws)
    return None if tails is None else tails[0]


def at_size(p: FloatArray, n: int, n_all: int) -> FloatArray:
    """A p-value of a family of n of all as it is told."""
    return np.asarray(1 - (1 - p) ** (n_all / n))


def _sides(fit: Fit, found: Permuted, rules: Rules) -> list[frozenset[str]]:
    """The two sides of the widest gap between neighbours that are told apart; none where no neighbours are."""
    k = len(fit.systems)
    if k < 3 or bool(found.coarse.all()):
        return []
    p = np.ones((k, k))
    p[np.triu_indices(k, 1)] = found.p
    p = np.minimum(p, p.T)
    order = np.argsort(fit.means, kind="stable")
    gaps = np.diff(fit.means[order])
    gaps = np.where(p[order[:-1], order[1:]] < rules.alpha, gaps, -1.0)
    cut = int(np.argmax(gaps)) + 1
    if gaps[cut - 1] <= 0:
        return []
    return [frozenset(fit.systems[i] for i in order[:cut]), frozenset(fit.systems[i] for i in order[cut:])]


def put_in(whole: Permuted, systems: Sequence[str], part: Permuted, own: Sequence[str]) -> Permuted:
    """Put a part's pairs in the place of the same pairs of the whole."""
    at = _places(systems, own)
    p, coarse = whole.p.copy(), whole.coarse.copy()
    p[at], coarse[at] = part.p, part.coarse
    return replace(whole, p=p, coarse=coarse, is_exact=whole.is_exact and part.is_exact)


def _places(systems: Sequence[str], own: Sequence[str]) -> NDArray[np.intp]:
    """Where the pairs of some systems stand among the pairs of all, both in sorted order."""
    k = len(systems)
    number = np.zeros((k, k), dtype=np.intp)
    number[np.triu_indices(k, 1)] = np.arange(k * (k - 1) // 2)
    place = [list(systems).index(name) for name in own]
    first, second = np.triu_indices(len(own), 1)
    return np.array([number[place[a], place[b]] for a, b in zip(first, second, strict=True)], dtype=np.intp)


def _varying(values: Sequence[PanelValue]) -> set[str]:
    """The systems but those all of whose values are the lowest or the highest of all."""
    low, high = min(value.value for value in values), max(value.value for value in values)
    seen: dict[str, set[float]] = {}
    for value in values:
        seen.setdefault(value.system, set()).add(value.value)
    return {system for system, found in seen.items() if len(found) > 1 or not found & {low, high}}


def _beside_the_widest_gap(fit: Fit) -> list[set[str]]:
    """The systems on each side of the widest gap between means."""
    order = np.argsort(fit.means, kind="stable")
    cut = int(np.argmax(np.diff(fit.means[order]))) + 1
    return [{fit.systems[i] for i in order[:cut]}, {fit.systems[i] for i in order[cut:]}]


def _larger_among(
    group: set[str], fit: Fit, values: Sequence[PanelValue], found: Permuted, rules: Rules
) -> Permuted:
    """The larger of the p-values among all and among a group, for the pairs of the group."""
    own = [value for value in values if value.system in group]
    try:
        tail = _tail(fit_blocks(own), own, rules)
    except ReadingsError:
        return found
    if tail is None:
        return found
    among = permuted_of(tail, alpha=rules.alpha)
    at = _places(fit.systems, sorted(group))
    p, coarse = found.p.copy(), found.coarse.copy()
    p[at], coarse[at] = np.maximum(p[at], among.p), coarse[at] & among.coarse
    return replace(found, p=p, coarse=coarse, is_exact=found.is_exact and among.is_exact)


def deal_margin(fit: Fit, values: Sequence[PanelValue], margin: Margin, rules: Rules) -> Permuted | None:
    """Deal the levels of one factor within boards, among build-ups that are alike in all others."""
    if rules.draws is None:
        return None
    y, layout = layout_of(fit, values)
    beside = np.array([margin.beside[group] for group in layout.group], dtype=np.intp)
    n_kinds = max(margin.beside) + 1
    _, block = np.unique(layout.block * n_kinds + beside, return_inverse=True)
    family = Family(contrasts=all_pairs(len(margin.weights)) @ margin.weights)
    within = replace(layout, block=block.astype(np.intp), centre=layout.block)
    tails = permuted_tails(y, within, [family], rules.draws)
    return None if tails is None else permuted_of(tails[0], alpha=rules.alpha)
