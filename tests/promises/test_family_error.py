"""False "told apart" among build-ups that are alike, for every model that tells apart; and "alike" among those that are not.

By default a reduced run; ``NUBLET_FULL_PROMISES=1`` makes the one whose figures stand in docs/evidence.md.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from itertools import combinations, product

import numpy as np
import pytest

from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.by_sections import weigh_sections
from nublet.core.evidence.levels import levels_in_order
from nublet.core.evidence.models.ladders import Climbed
from nublet.core.evidence.models.preference import Choice
from nublet.core.evidence.on_ladders import weigh_climbed
from nublet.core.evidence.outcomes import PairEvidence, Rules, TestEvidence
from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.evidence.scored import weigh_preference, weigh_scores
from nublet.core.evidence.stages import stage_limits
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import GRADE, RESPONSES
from tests.core.builders import block_readings, block_values
from tests.sizes import FULL

N_TRIALS = 2000 if FULL else 120
MOST = 0.06
Draw = Callable[[np.random.Generator], Iterable[PairEvidence]]
DRAWS = Arrangements(0, 1000)
_RULES = Rules(response=GRADE, draws=DRAWS)


def judged(rng: np.random.Generator, y: np.ndarray, n_judges: int = 3) -> np.ndarray:
    """Whole grades of three judges, averaged."""
    seen = y[..., None] + rng.normal(0, 0.3, (*y.shape, n_judges))
    return np.asarray(np.clip(np.rint(seen), 1, 5).mean(axis=-1))


def grades(
    rng: np.random.Generator, k: int, b: int, means: np.ndarray | float
) -> dict[str, list[float | None]]:
    y = np.reshape(means, (-1, 1)) + rng.normal(0, 0.3, b) + rng.normal(0, 0.6, (k, b))
    return {f"S{i:02d}": list(row) for i, row in enumerate(judged(rng, y))}


def weighed(table: dict[str, list[float | None]], rules: Rules = _RULES) -> TestEvidence:
    return weigh_test("t", "all", None, tuple(block_values(table)), rules=rules)


def among(pairs: Iterable[PairEvidence], names: Iterable[str]) -> list[PairEvidence]:
    kept = set(names)
    return [pair for pair in pairs if {pair.a, pair.b} <= kept]


def blocks(k: int, b: int, mean: float, school: str = "means") -> Draw:
    rules = replace(_RULES, school="ranks" if school == "ranks" else "means")
    return lambda rng: weighed(grades(rng, k, b, mean), rules).pairs


def half_at_the_ceiling(k: int, b: int, mean: float, school: str = "means") -> Draw:
    rules = replace(_RULES, school="ranks" if school == "ranks" else "means")

    def draw(rng: np.random.Generator) -> list[PairEvidence]:
        table = grades(rng, k, b, mean)
        stuck = list(table)[: k // 2]
        return among(
            weighed({**table, **dict.fromkeys(stuck, [5.0] * b)}, rules).pairs, set(table) - set(stuck)
        )

    return draw


def beside_bare_wood(k: int, b: int, school: str = "means") -> Draw:
    rules = replace(_RULES, school="ranks" if school == "ranks" else "means")

    def draw(rng: np.random.Generator) -> list[PairEvidence]:
        means = np.full(k, 4.0)
        means[0] = 1.3
        table = grades(rng, k, b, means)
        return among(weighed(table, rules).pairs, list(table)[1:])

    return draw


def incomplete(rng: np.random.Generator) -> Iterable[PairEvidence]:
    """Seven build-ups in blocks of three: each pair meets once on seven boards, twice over."""
    fano = [(0, 1, 3), (1, 2, 4), (2, 3, 5), (3, 4, 6), (4, 5, 0), (5, 6, 1), (6, 0, 2)] * 2
    table = grades(rng, 7, 14, 3.3)
    lacking = {
        f"S{i:02d}": [v if i in fano[b] else None for b, v in enumerate(row)]
        for i, row in enumerate(table.values())
    }
    return weighed(lacking).pairs


def split_plot(rng: np.random.Generator, *, k: int = 4, b: int = 5, s: int = 3) -> TestEvidence:
    y = 3.3 + rng.normal(0, 0.3, (1, b, 1)) + rng.normal(0, 0.5, (k, b, 1)) + rng.normal(0, 0.4, (k, b, s))
    seen = judged(rng, y)
    values = tuple(
        PanelValue(panel=f"{i}-{j}", system=f"S{i}", board=f"b{j}", species=None, section=f"c{c}", value=float(seen[i, j, c]))
        for i in range(k) for j in range(b) for c in range(s)
    )  # fmt: skip
    return weigh_sections("t", "all", None, values, rules=_RULES)


def sections(kind: str) -> Draw:
    def draw(rng: np.random.Generator) -> Iterable[PairEvidence]:
        found = split_plot(rng)
        assert found.sections is not None
        own = found.sections
        of_kind = {
            "systems": found.pairs,
            "sections": own.sections.pairs,
            "within system": own.within_system,
            "within section": own.within_section,
        }
        return of_kind[kind]

    return draw


def factors(rng: np.random.Generator) -> Iterable[PairEvidence]:
    """One factor does nothing beside another that does much."""
    names = [f"{base}{top}" for base, top in product("abc", "xyz")]
    means = np.array([{"a": 2.5, "b": 3.3, "c": 4.0}[name[0]] for name in names])
    table = dict(zip(names, grades(rng, 9, 4, means).values(), strict=True))
    crossed = levels_in_order({name: {"base": name[0], "top": name[1]} for name in names})
    found = weigh_test("t", "all", None, tuple(block_values(table)), rules=_RULES, factors=crossed)
    return found.margins[1].pairs


def scored(
    response_id: str, draw_table: Callable[[np.random.Generator], dict[str, list[float | None]]]
) -> Draw:
    rules = Rules(response=RESPONSES[response_id], draws=DRAWS)

    def draw(rng: np.random.Generator) -> Iterable[PairEvidence]:
        found = weigh_scores("t", "all", None, block_readings(draw_table(rng)), rules=rules)
        return () if found is None else found.pairs

    return draw


def words(rng: np.random.Generator) -> dict[str, list[float | None]]:
    boards = rng.normal(0, 0.5, 6)
    return {f"S{i}": list(np.clip(np.rint(1 + boards + rng.normal(0, 0.8, 6)), 0, 3)) for i in range(5)}


def peels(rng: np.random.Generator) -> dict[str, list[float | None]]:
    share = rng.beta(1, 2, 8)
    return {f"S{i}": list((rng.random(8) < share).astype(float)) for i in range(4)}


def drinks(rng: np.random.Generator) -> dict[str, list[float | None]]:
    boards = rng.normal(0, 0.3, 5)
    return {f"S{i}": list(np.exp(4 + boards + rng.normal(0, 0.5, 5))) for i in range(5)}


def ratios(rng: np.random.Generator) -> Iterable[PairEvidence]:
    return weighed(drinks(rng), Rules(response=RESPONSES["uptake"], draws=DRAWS)).pairs


def times(rng: np.random.Generator) -> Iterable[PairEvidence]:
    looks = np.array([0.0, 60, 120, 240, 480, 1440, 2880])
    rows = []
    for b, board in enumerate(rng.normal(0, 0.4, 6)):
        for s in range(4):
            time = float(np.exp(6 + board + rng.normal(0, 0.7)))
            by = next((float(look) for look in looks if look >= time), None)
            after = float(looks[looks < time][-1])
            rows.append(
                Reading(
                    test="t", system=f"S{s}", board=f"b{b}", panel=f"{s}-{b}", grade=after if by is None else by,
                    after=None if by is None else after, is_beyond=by is None,
                )
            )  # fmt: skip
    found = weigh_scores(
        "t", "all", None, rows, rules=Rules(response=RESPONSES["minutes-to-hard"], draws=DRAWS)
    )
    return () if found is None else found.pairs


def ladders(rng: np.random.Generator) -> Iterable[PairEvidence]:
    boards = rng.normal(0, 0.6, 5)
    climbed = [
        Climbed(panel=f"{s}-{b}", system=f"S{s}", board=f"b{b}", species=None, at_least=n, at_most=n)
        for s in range(5)
        for b, board in enumerate(boards)
        for n in [int(np.clip(np.rint(3 + board + rng.normal(0, 1.2)), 0, 6))]
    ]
    steps = ["10 min", "1 h", "2 h", "6 h", "16 h", "24 h"]
    return weigh_climbed(
        "l", "all", None, climbed, steps, Rules(response=RESPONSES["highest-step"], draws=DRAWS)
    ).pairs


def preferences(rng: np.random.Generator) -> Iterable[PairEvidence]:
    """Each of eight judges has a taste of his own; on the whole none of four is preferred."""
    choices = []
    for judge in range(8):
        taste = rng.normal(0, 1, 4)
        for a, b in combinations(range(4), 2):
            for _ in range(3):
                won = float(rng.random() < 1 / (1 + np.exp(taste[b] - taste[a])))
                choices.append(
                    Choice(judge=f"J{judge}", a=f"S{a}", b=f"S{b}", won=0.5 if rng.random() < 0.1 else won)
                )
    return weigh_preference(
        "t", "all", None, choices, rules=Rules(response=RESPONSES["preferred"], draws=DRAWS)
    ).pairs


def staged(rng: np.random.Generator) -> Iterable[PairEvidence]:
    """Five build-ups looked at after 3, 5 and 7 boards, each look by its own limit: any pair told apart at any look."""
    table = grades(rng, 5, 7, 3.3)
    found: list[PairEvidence] = []
    for limit in stage_limits((3, 2, 2)):
        by_then = {system: row[: limit.n_boards] for system, row in table.items()}
        found += weighed(by_then, replace(_RULES, alpha=limit.alpha)).pairs
    return found


NULLS: dict[str, Draw] = {
    "blocks 4 x 4": blocks(4, 4, 3.3),
    "blocks 3 x 5": blocks(3, 5, 3.3),
    "blocks 8 x 5, near the ceiling": blocks(8, 5, 4.5),
    "blocks, half at the ceiling": half_at_the_ceiling(8, 5, 4.2),
    "blocks, beside bare wood": beside_bare_wood(6, 5),
    "ranks 6 x 5": blocks(6, 5, 3.3, "ranks"),
    "ranks, half at the ceiling": half_at_the_ceiling(8, 6, 4.2, "ranks"),
    "ranks, beside bare wood": beside_bare_wood(6, 5, "ranks"),
    "incomplete blocks": incomplete,
    "sections: build-ups": sections("systems"),
    "sections: sections": sections("sections"),
    "sections: within a build-up": sections("within system"),
    "sections: build-ups at a section": sections("within section"),
    "factors: one that does nothing": factors,
    "ordered words": scored("touch", words),
    "yes or no": scored("peels", peels),
    "times": times,
    "ratios": ratios,
    "ladders": ladders,
    "preference": preferences,
    "stages of 3, 2 and 2 boards": staged,
}


@pytest.mark.parametrize("name", NULLS)
def test_false_alarms_of_a_family(name: str) -> None:
    rng = np.random.default_rng([31, len(name)])
    alarms = sum(any(pair.told_apart for pair in NULLS[name](rng)) for _ in range(N_TRIALS))
    share = alarms / N_TRIALS
    print(f"{name}: {share:.3f} of {N_TRIALS}")
    chance = 0.0 if FULL else 3 * np.sqrt(MOST * (1 - MOST) / N_TRIALS)
    assert share <= MOST + chance


def at_the_bound(k: int, b: int, mean: float) -> Draw:
    """One build-up a whole difference worth knowing below all others: to call it alike is wrong."""

    def draw(rng: np.random.Generator) -> list[PairEvidence]:
        means = np.full(k, mean)
        means[0] -= 1.0
        y = means[:, None] + rng.normal(0, 0.3, b) + rng.normal(0, 0.35, (k, b))
        table = {f"S{i:02d}": list(row) for i, row in enumerate(judged(rng, y))}
        pairs = weighed(table, replace(_RULES, worth=1.0)).pairs
        return [pair for pair in pairs if "S00" in (pair.a, pair.b)]

    return draw


@pytest.mark.parametrize(("k", "b", "mean"), [(2, 6, 3.6), (4, 8, 3.6), (6, 6, 3.3)])
def test_alike_is_seldom_wrong(k: int, b: int, mean: float) -> None:
    rng, draw = np.random.default_rng([32, k]), at_the_bound(k, b, mean)
    wrong = sum(any(pair.verdict == "alike" for pair in draw(rng)) for _ in range(N_TRIALS))
    print(f"alike at the bound, {k} x {b}: {wrong / N_TRIALS:.3f}")
    assert wrong / N_TRIALS <= 0.05 + (0.0 if FULL else 3 * np.sqrt(0.05 * 0.95 / N_TRIALS))
