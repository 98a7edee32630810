"""A test on panels with sections weighed: build-ups between panels, sections within them, and every cell of both."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy import linalg, special

from nublet.core.errors import ReadingsError
from nublet.core.evidence.dealing import at_size, deal_blocks, put_in
from nublet.core.evidence.fit import Fit, pair_variances
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.factors import odd_cell, weigh_factors
from nublet.core.evidence.models.ranks import friedman
from nublet.core.evidence.models.sections import SectionsFit, fit_sections
from nublet.core.evidence.outcomes import (
    CellEvidence,
    OddCell,
    PairEvidence,
    Rules,
    SectionsEvidence,
    SedEvidence,
    TestEvidence,
)
from nublet.core.evidence.permutation import Family, Layout, all_pairs, permuted_tails
from nublet.core.evidence.readings import PanelValue
from nublet.core.evidence.verdicts import Permuted, is_by_logarithms, judge_pairs, permuted_of
from nublet.core.evidence.weighing import (
    as_weighed,
    factor_of,
    intervals_of,
    margins_of,
    say_disagreements,
    systems_of,
    told_as,
    told_back,
    told_mean,
)

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]


def weigh_sections(
    test: str,
    species: str,
    look: str | None,
    values: tuple[PanelValue, ...],
    *,
    rules: Rules | None = None,
    factors: Sequence[FactorLevels] = (),
) -> TestEvidence:
    """Weigh one test on panels with sections, best first.

    Parameters
    ----------
    values : tuple of PanelValue
        With their sections, in the response's unit.
    factors : sequence of FactorLevels
        What the build-ups on whole panels cross, if anything.

    Raises
    ------
    ReadingsError
        If build-ups and sections cannot be weighed together.
    """
    rules = rules or Rules()
    weighed, said = as_weighed(values, rules)
    has_ends = rules.school == "means" and not is_by_logarithms(rules)
    fit = fit_sections(weighed, ends=rules.response.ends if has_ends else None)
    kept = set(fit.panels.systems)
    inside = [value for value in weighed if value.system in kept]
    crossed = weigh_factors(fit.panels, factors) if rules.school == "means" else None
    dealt = deal_blocks(fit.panels, fit.panel_values, rules)
    pairs = judge_pairs(fit.panels, dealt, rules)
    sections = _sections(fit, inside, weighed, dealt, rules)
    says = [said, _say_sections(fit), "" if crossed is None else crossed.says]
    everything = (*pairs, *sections.sections.pairs, *sections.within_system, *sections.within_section)
    says += say_disagreements(everything)
    return TestEvidence(
        test=test,
        species=species,
        look=look,
        systems=systems_of(fit.panels, fit.panel_values, pairs, rules),
        pairs=tuple(told_back(pair, rules) for pair in pairs),
        values=values,
        fit=fit.panels,
        says=" ".join(filter(None, says)),
        response=rules.response,
        school=rules.school,
        told_as=told_as(rules),
        effects=(*fit.effects, *(() if crossed is None else crossed.effects))
        if rules.school == "means"
        else (),
        friedman=friedman(fit.panel_values),
        sections=sections,
        margins=() if crossed is None else margins_of(crossed, fit.panels, fit.panel_values, rules),
        odd=_odd(fit, rules),
        worth=rules.worth,
        alpha=rules.alpha,
    )


def _odd(fit: SectionsFit, rules: Rules) -> OddCell | None:
    meeting = fit.sections.effect("system:section")
    if meeting is None or meeting.p >= rules.alpha or rules.school == "ranks":
        return None
    row, column = odd_cell(fit.cells)
    return OddCell(system=fit.panels.systems[row], section=fit.sections.systems[column])


def _sections(
    fit: SectionsFit,
    inside: Sequence[PanelValue],
    everything: Sequence[PanelValue],
    dealt: Permuted | None,
    rules: Rules,
) -> SectionsEvidence:
    over_all = _permute_sections(fit, rules)
    within_system = _within_system(fit, inside, rules)
    within_section, systems_sed = _within_section(fit, inside, dealt, rules)
    one = factor_of("section", fit.sections, over_all, rules)
    return SectionsEvidence(
        sections=one,
        cells=(*_cells(fit, inside, rules), *_cells_set_aside(fit, everything, rules)),
        sed=SedEvidence(
            systems=_root_mean_square(fit.panels),
            sections=_root_mean_square(fit.sections),
            sections_within_system=_mean_of([_root_mean_square(each) for each in fit.within.values()]),
            systems_within_section=systems_sed,
        ),
        within_system=tuple(told_back(pair, rules) for pair in within_system),
        within_section=tuple(told_back(pair, rules) for pair in within_section),
        section_residual_df=fit.section_error.df,
        section_residual_ms=fit.section_error.ms,
        set_aside=fit.set_aside,
    )


def _cells(fit: SectionsFit, inside: Sequence[PanelValue], rules: Rules) -> tuple[CellEvidence, ...]:
    n_panels = Counter((value.system, value.section) for value in inside)
    errors = fit.cell_errors() if fit.panels.has_variance else None
    found = []
    for i, system in enumerate(fit.panels.systems):
        for s, section in enumerate(fit.sections.systems):
            mean, se, ci = float(fit.cells[i, s]), None, None
            if errors is not None:
                se = float(errors[0][i, s])
                half = float(special.stdtrit(float(errors[1][i, s]), 0.975)) * se
                ci = (told_mean(mean - half, rules), told_mean(mean + half, rules))
            found.append(
                CellEvidence(
                    system=system, section=section, mean=told_mean(mean, rules), se=se, ci=ci, n_panels=n_panels[system, section]
                )
            )  # fmt: skip
    return tuple(found)


def _cells_set_aside(fit: SectionsFit, everything: Sequence[PanelValue], rules: Rules) -> list[CellEvidence]:
    """What build-ups that lack a section show on those that they carry, each section weighed by itself."""
    found = []
    for section in fit.sections.systems:
        own = [value for value in everything if value.section == section]
        try:
            apart = fit_blocks(own)
        except ReadingsError:
            continue
        se, ci = intervals_of(apart, rules)
        found += [
            CellEvidence(
                system=system,
                section=section,
                mean=told_mean(float(apart.means[i]), rules),
                se=se[i],
                ci=ci[i],
                n_panels=sum(value.system == system for value in own),
            )
            for i, system in enumerate(apart.systems)
            if system in fit.set_aside
        ]
    return found


def _root_mean_square(fit: Fit) -> float | None:
    """The standard error of a difference between two systems of a fit, over all pairs."""
    if not fit.has_variance or not fit.residual_ms:
        return None
    return float(np.sqrt(fit.residual_ms * pair_variances(fit.unscaled).mean()))


def _mean_of(parts: Sequence[float | None]) -> float | None:
    known = [part for part in parts if part is not None]
    return float(np.sqrt(np.mean(np.square(known)))) if known else None


def _permute_sections(fit: SectionsFit, rules: Rules) -> Permuted | None:
    """Sections dealt anew within each panel."""
    if rules.draws is None:
        return None
    group = _places([v.system for v in fit.section_values], fit.sections.systems)
    layout = Layout(
        group=group, block=_places([v.board for v in fit.section_values]), unscaled=fit.sections.unscaled
    )
    tails = permuted_tails(_numbers(fit.section_values), layout, [None], rules.draws)
    return None if tails is None else permuted_of(tails[0], alpha=rules.alpha)


def _within_system(fit: SectionsFit, inside: Sequence[PanelValue], rules: Rules) -> list[PairEvidence]:
    """Sections of each build-up against each other: one family over all build-ups."""
    systems, n = fit.panels.systems, fit.n_sections
    pairs = all_pairs(n)
    permuted = None
    if rules.draws is not None:
        contrasts = linalg.block_diag(*[pairs] * len(systems))
        layout = Layout(
            group=_cell_of(fit, inside),
            block=_places([value.panel for value in inside]),
            unscaled=linalg.block_diag(*[fit.within[system].unscaled for system in systems]),
        )
        tails = permuted_tails(_numbers(inside), layout, [Family(contrasts=contrasts)], rules.draws)
        if tails is not None:
            permuted = permuted_of(tails[0], alpha=rules.alpha, n_apart=len(systems))
    return [
        pair
        for i, system in enumerate(systems)
        for pair in judge_pairs(
            fit.within[system], _stretch(permuted, i, len(pairs)), rules, at=system, n_families=len(systems)
        )
    ]


def _within_section(
    fit: SectionsFit, inside: Sequence[PanelValue], dealt: Permuted | None, rules: Rules
) -> tuple[list[PairEvidence], float | None]:
    """Build-ups at each section against each other, one family over all sections; and their standard error."""
    sections = fit.sections.systems
    first, second = np.triu_indices(len(fit.panels.systems), 1)
    permuted = _deal_at_sections(fit, inside, dealt, rules)
    found: list[PairEvidence] = []
    squares: list[float] = []
    for s, section in enumerate(sections):
        errors = fit.between_cells(s) if fit.panels.has_variance and fit.sections.has_variance else None
        at_section = replace(fit.panels, means=fit.cells[:, s], effects=())
        if errors is not None:
            se, df = errors[0][first, second], errors[1][first, second]
            squares += [float(each) ** 2 for each in se]
            at_section = _with_errors(at_section, float(df.min()), se, (first, second))
        else:
            at_section = replace(at_section, has_variance=False)
        found += judge_pairs(
            at_section, _stretch(permuted, s, len(first)), rules, at=section, n_families=len(sections)
        )
    return found, float(np.sqrt(np.mean(squares))) if squares else None


def _with_errors(fit: Fit, df: float, se: FloatArray, pairs: tuple[IntArray, IntArray]) -> Fit:
    """The fit with a covariance in which each pair's difference has its own standard error."""
    first, second = pairs
    unscaled = np.zeros_like(fit.unscaled)
    unscaled[first, second] = unscaled[second, first] = -(se**2) / 2
    stratum = replace(fit.strata[0], ms=1.0, df=df)  # type: ignore[arg-type]
    return replace(fit, unscaled=unscaled, strata=(stratum,))


def _deal_at_sections(
    fit: SectionsFit, inside: Sequence[PanelValue], dealt: Permuted | None, rules: Rules
) -> Permuted | None:
    """Whole panels dealt anew within their boards, with all their sections; sides that were dealt apart, apart."""
    systems, n = fit.panels.systems, fit.n_sections
    whole = _permute_at_sections(fit, inside, systems, rules)
    if whole is None or dealt is None:
        return whole
    for side in dealt.sides:
        own = tuple(sorted(side))
        part = _permute_at_sections(fit, [value for value in inside if value.system in side], own, rules)
        if part is None:
            continue
        part = replace(part, p=at_size(part.p, len(own), len(systems)))
        size = len(systems) * (len(systems) - 1) // 2
        n_own = len(own) * (len(own) - 1) // 2
        at_each = [
            put_in(_stretch(whole, s, size) or whole, systems, _stretch(part, s, n_own) or part, own)
            for s in range(n)
        ]
        whole = replace(
            whole,
            p=np.concatenate([each.p for each in at_each]),
            coarse=np.concatenate([each.coarse for each in at_each]),
            is_exact=whole.is_exact and part.is_exact,
        )
    return whole


def _permute_at_sections(
    fit: SectionsFit, inside: Sequence[PanelValue], systems: Sequence[str], rules: Rules
) -> Permuted | None:
    if rules.draws is None:
        return None
    sections = fit.sections.systems
    unscaled = []
    for section in sections:
        try:
            apart = fit_blocks([value for value in inside if value.section == section])
        except ReadingsError:
            return None
        if apart.systems != tuple(systems):
            return None
        unscaled.append(apart.unscaled)
    # Cells by section, then system, so that each section's pairs are one stretch of the family.
    ordered = sorted(inside, key=lambda value: (value.panel, value.section))
    at_section = _places([value.section for value in ordered], sections)
    group = at_section * len(systems) + _places([value.system for value in ordered], systems)
    boards = _places([value.board for value in ordered])
    is_whole = len(ordered) == len({value.panel for value in ordered}) * len(sections)
    by_place = boards * len(sections) + at_section
    layout = Layout(
        group=group.astype(np.intp),
        # Panels that lack a section cannot change places whole: their sections do one by one, which is no less cautious.
        block=boards if is_whole else _places(by_place.tolist()),
        centre=_places(by_place.tolist()),
        unit=_places([value.panel for value in ordered]) if is_whole else None,
        unscaled=linalg.block_diag(*unscaled),
    )
    contrasts = linalg.block_diag(*[all_pairs(len(systems))] * len(sections))
    tails = permuted_tails(_numbers(ordered), layout, [Family(contrasts=contrasts)], rules.draws)
    return None if tails is None else permuted_of(tails[0], alpha=rules.alpha)


def _stretch(permuted: Permuted | None, index: int, size: int) -> Permuted | None:
    if permuted is None:
        return None
    own = slice(index * size, (index + 1) * size)
    return replace(permuted, p=permuted.p[own], coarse=permuted.coarse[own])


def _cell_of(fit: SectionsFit, inside: Sequence[PanelValue]) -> IntArray:
    of_system = _places([value.system for value in inside], fit.panels.systems)
    of_section = _places([value.section for value in inside], fit.sections.systems)
    return np.asarray(of_system * fit.n_sections + of_section, dtype=np.intp)


def _numbers(values: Sequence[PanelValue]) -> FloatArray:
    return np.array([value.value for value in values], dtype=float)


def _places(names: Sequence[object], order: Sequence[object] | None = None) -> IntArray:
    """Each name's place among the different ones, in their given or sorted order."""
    place = {name: index for index, name in enumerate(sorted(set(names)) if order is None else order)}  # type: ignore[type-var]
    return np.array([place[name] for name in names], dtype=np.intp)


def _say_sections(fit: SectionsFit) -> str:
    says = []
    if fit.set_aside:
        says.append(
            f"{', '.join(fit.set_aside)} {'does' if len(fit.set_aside) == 1 else 'do'} not carry every section and "
            f"{'is' if len(fit.set_aside) == 1 else 'are'} set aside here: see one section at a time."
        )
    n_whole = len({value.board for value in fit.section_values}) * fit.n_sections
    if len(fit.section_values) < n_whole:
        says.append(
            "Some panels lack a section: their values are freed of the sections' effects, and what panels tell of sections is not "
            "recovered."
        )
    return " ".join(says)
