"""An analysis as plain JSON values, the form that ``nublet analyse --json`` prints."""

from __future__ import annotations

from typing import Any

from nublet.core.evidence.analysis import Analysis
from nublet.core.evidence.weighing import TestEvidence


def analysis_to_json(analysis: Analysis) -> dict[str, Any]:
    """Return the analysis as dicts and lists; ``None`` where nothing can be said, never a NaN."""
    return {
        "tests": [_test_to_json(test) for test in analysis.tests],
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
        "judges": None,
        "left_out": [{"why": part.why, "rows": part.n_rows} for part in analysis.left_out],
        "checks": [
            {"check": check.check, "level": check.level, "says": check.says} for check in analysis.checks
        ],
    }


def _test_to_json(test: TestEvidence) -> dict[str, Any]:
    fit = test.fit
    effects = [
        {
            "effect": effect.effect,
            "stratum": effect.stratum,
            "f": effect.f,
            "df": list(effect.df),
            "p": effect.p,
        }
        for effect in (() if fit is None else fit.effects)
    ]
    return {
        "test": test.test,
        "species": test.species,
        "look": test.look,
        "design": "blocks" if fit is None else fit.design,
        "n_panels": len(test.values),
        "residual_df": None if fit is None else fit.residual_df,
        "residual_ms": None if fit is None else fit.residual_ms,
        "better": test.better,
        "systems": [
            {
                "system": row.system,
                "mean": row.mean,
                "se": row.se,
                "ci": None if row.ci is None else list(row.ci),
                "letters": row.letters,
            }
            for row in test.systems
        ],
        "pairs": [
            {
                "a": pair.a,
                "b": pair.b,
                "difference": pair.difference,
                "se": pair.se,
                "ci": None if pair.ci is None else list(pair.ci),
                "p_tukey": pair.p_tukey,
                "p_permutation": None,
            }
            for pair in test.pairs
        ],
        "effects": effects,
        "friedman": None,
        "ladder": None,
        "says": test.says,
    }
