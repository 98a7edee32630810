"""An analysis as plain JSON values, the form that ``nublet analyse --json`` prints."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from nublet.core.evidence.analysis import Analysis
from nublet.core.evidence.fit import Effect
from nublet.core.evidence.judges import JudgesResult
from nublet.core.evidence.models.ladders import LadderEvidence
from nublet.core.evidence.models.ranks import FriedmanResult
from nublet.core.evidence.outcomes import (
    FactorEvidence,
    PairEvidence,
    SectionsEvidence,
    SystemEvidence,
    TestEvidence,
)


def analysis_to_json(analysis: Analysis) -> dict[str, Any]:
    """Return the analysis as dicts and lists; ``None`` where nothing can be said, never a NaN."""
    return {
        "tests": [_test(test) for test in analysis.tests],
        "interaction": [
            {
                "test": test,
                "f": found.f,
                "df": list(found.df),
                "p": found.p,
                "depends_on_wood": test in analysis.depends_on_wood,
            }
            for test, found in analysis.interaction
        ],
        "factors": [
            {
                "factor": factor.factor,
                "levels": list(factor.levels),
                "systems": {each.system: each.level for each in factor.systems},
            }
            for factor in analysis.factors
        ],
        "judges": None if analysis.judges is None else _judges(analysis.judges),
        "left_out": [{"why": part.why, "rows": part.n_rows} for part in analysis.left_out],
        "checks": [
            {"check": check.check, "level": check.level, "says": check.says} for check in analysis.checks
        ],
    }


def _test(test: TestEvidence) -> dict[str, Any]:
    fit = test.fit
    found = {
        "test": test.test,
        "species": test.species,
        "look": test.look,
        "section": test.section or None,
        "design": test.design,
        "school": test.school,
        "told_as": test.told_as,
        "n_panels": len({value.panel for value in test.values}),
        "residual_df": None if fit is None else fit.residual_df,
        "residual_ms": None if fit is None else fit.residual_ms,
        "better": test.better,
        "worth_knowing": test.worth,
        "systems": [_system(row) for row in test.systems],
        "pairs": [_pair(pair) for pair in test.pairs],
        "effects": [_effect(effect) for effect in test.effects],
        "margins": [level for factor in test.margins for level in _levels(factor)],
        "friedman": _friedman(test.friedman),
        "ladder": None if test.ladder is None else _ladder(test, test.ladder),
        "says": test.says,
    }
    return found if test.sections is None else {**found, **_sections(test.sections)}


def _system(row: SystemEvidence) -> dict[str, Any]:
    found: dict[str, Any] = {
        "system": row.system,
        "n_panels": row.n_panels,
        "mean": row.mean,
        "se": row.se,
        "ci": _interval(row.ci),
        "letters": row.letters,
    }
    if row.steps:
        found["steps"] = [{"words": step.words, "share": step.share} for step in row.steps]
    if row.time is not None:
        time = row.time
        found["median"] = {
            "after": time.after, "by": time.by, "low": time.low, "high": time.high, "level": time.level
        }  # fmt: skip
    return found


def _pair(pair: PairEvidence) -> dict[str, Any]:
    found: dict[str, Any] = {
        "a": pair.a,
        "b": pair.b,
        "difference": pair.difference,
        "se": pair.se,
        "ci": _interval(pair.ci),
        "p_tukey": pair.p_tukey,
        "p_permutation": pair.p_permutation,
        "exact": pair.is_exact,
        "verdict": pair.verdict,
        "disagree": pair.disagrees,
    }
    return {**found, "at": pair.at} if pair.at else found


def _effect(effect: Effect) -> dict[str, Any]:
    return {
        "effect": effect.effect,
        "stratum": effect.stratum,
        "f": effect.f,
        "df": list(effect.df),
        "p": effect.p,
    }


def _levels(factor: FactorEvidence, *, named: str = "level") -> list[dict[str, Any]]:
    return [
        {
            **({"factor": factor.factor} if named == "level" else {}),
            named: level.level,
            "mean": level.mean,
            "se": level.se,
            "ci": _interval(level.ci),
            "letters": level.letters,
        }
        for level in factor.levels
    ]


def _sections(found: SectionsEvidence) -> dict[str, Any]:
    return {
        "section_residual_df": found.section_residual_df,
        "section_residual_ms": found.section_residual_ms,
        "sections": _levels(found.sections, named="section"),
        "cells": [
            {
                "system": cell.system,
                "section": cell.section,
                "mean": cell.mean,
                "se": cell.se,
                "ci": _interval(cell.ci),
                "n_panels": cell.n_panels,
            }
            for cell in found.cells
        ],
        "sed": {
            "systems": found.sed.systems,
            "sections": found.sed.sections,
            "sections_within_system": found.sed.sections_within_system,
            "systems_within_section": found.sed.systems_within_section,
        },
        "section_pairs": [_pair(pair) for pair in found.sections.pairs],
        "sections_within_system": [_pair(pair) for pair in found.within_system],
        "systems_within_section": [_pair(pair) for pair in found.within_section],
        "set_aside": list(found.set_aside),
    }


def _friedman(found: FriedmanResult | None) -> dict[str, Any] | None:
    if found is None:
        return None
    return {
        "statistic": found.statistic,
        "df": found.df,
        "p": found.p,
        "kendall_w": found.kendall_w,
        "n_boards": found.n_boards,
    }


def _ladder(test: TestEvidence, ladder: LadderEvidence) -> dict[str, Any]:
    def named(name: str) -> float | str:
        try:
            return float(name)
        except ValueError:
            return name

    def step(place: int | None) -> float | str | None:
        return None if place is None else named(ladder.steps[place])

    return {
        "ladder": test.test,
        "threshold": ladder.threshold,
        "steps": [named(name) for name in ladder.steps],
        "systems": [
            {
                "system": row.system,
                "n": row.n,
                "mean_steps_passed": row.mean_steps_passed,
                "median_after": step(row.median_after),
                "median_by": step(row.median_by),
                "ci": [step(row.low_after), step(row.high_by)],
                "ci_level": row.level,
                "n_passed_all": row.n_passed_all,
            }
            for row in ladder.systems
        ],
        "friedman": _friedman(test.friedman),
        "pairs": [_pair(pair) for pair in test.pairs],
        "contradicted": list(ladder.contradicted),
        "unsure": list(ladder.unsure),
    }


def _judges(found: JudgesResult) -> dict[str, Any]:
    return {
        "judges": list(found.judges),
        "alpha_ordinal": found.alpha_ordinal,
        "icc_2_1": found.icc_2_1,
        "n_by_all": found.n_by_all,
        "pairs": [
            {"a": pair.a, "b": pair.b, "kappa_quadratic": pair.kappa_quadratic, "n": pair.n}
            for pair in found.pairs
        ],
        "leniency": [
            {"judge": each.judge, "mean_difference": each.mean_difference, "n": each.n}
            for each in found.leniency
        ],
        "repeatability": [
            {
                "judge": each.judge,
                "n": each.n,
                "same_share": each.same_share,
                "mean_difference": each.mean_difference,
                "sd": each.sd,
                "kappa_quadratic": each.kappa_quadratic,
            }
            for each in found.repeatability
        ],
        "views": [
            {
                "view": each.view,
                "other": each.other,
                "n": each.n,
                "mean_difference": each.mean_difference,
                "differ_share": each.differ_share,
            }
            for each in found.views
        ],
    }


def _interval(ci: Sequence[float] | None) -> list[float] | None:
    return None if ci is None else list(ci)
