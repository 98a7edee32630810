"""The verdict in sentences."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

from nublet.core.ranking.draws import RankedSystem, Ranking

LIKELY = 0.9
UNLIKELY = 0.5


def say_verdict(
    ranking: Ranking, *, test_names: Mapping[str, str], only_read: Collection[str] = ()
) -> list[str]:
    """Say a ranking in words, the verdict first, then what it rests on.

    Parameters
    ----------
    ranking : Ranking
    test_names : mapping of test id to the name shown
    only_read : collection of str
        Tests that were read on a scale that has no means: they are no part of a score, and are not said to be untested.
    """
    use = ranking.profile.name.lower()
    says = [_verdict(ranking, use)]
    blocked = [row.system for row in ranking.systems if row.p_passes < 0.1]
    if blocked and ranking.p_none_passes < UNLIKELY:
        says.append(f"Unlikely to pass the gates: {join_names(blocked)}.")
    if ranking.left_out:
        says.append(
            f"Left out, because not every test has grades for it yet: {join_names(ranking.left_out)}."
        )
    if ranking.unknown_criteria:
        unknown = [c for c in ranking.profile.criteria if c.id in ranking.unknown_criteria]
        for names, words in (
            (
                [c.name.lower() for c in unknown if not set(c.tests) & set(only_read)],
                "Nothing was tested for {}",
            ),
            (
                [c.name.lower() for c in unknown if set(c.tests) & set(only_read)],
                "What was read for {} has no mean and is no part of the score yet; it stands under Evidence",
            ),
        ):
            if names:
                says.append(
                    f"{words.format(join_names(names))}: it counts as anything from 0 to 100 in every score."
                )
    for criterion, missing in ranking.partly_known:
        name = next(c.name for c in ranking.profile.criteria if c.id == criterion)
        lacking = join_names([test_names.get(test, test) for test in missing])
        says.append(
            f"{name} is known in part: without {lacking}, whose share counts as anything from 0 to 100."
        )
    if _is_gated(ranking):
        says.append(_gate_words(ranking, test_names))
    if ranking.unknown_gates:
        names = [test_names.get(test, test) for test in ranking.unknown_gates]
        says.append(f"Not tested, so not gated: {join_names(names)}.")
    if ranking.assumed_spread:
        says.append(
            "With one board there is no spread to measure: this is a demonstration. The usual spread between "
            "panels, 0.6 grades, was assumed."
        )
    return says


def _verdict(ranking: Ranking, use: str) -> str:
    tied = [row for row in ranking.systems if row.in_tie_group]
    leader = ranking.systems[0]
    if ranking.p_none_passes >= UNLIKELY:
        return (
            f"For a {use}, probably none of these passes every gate "
            f"(none does in {percent(ranking.p_none_passes)} of draws). "
            f"{leader.system} comes nearest: it passes in {percent(leader.p_passes)}."
        )
    # Where no gate was tested every draw "passes": nothing to boast of.
    passing = f" {_pass_words(tied)}" if _is_gated(ranking) else ""
    if len(tied) == 1:
        return (
            f"For a {use}, use {leader.system}: it is the best in {percent(leader.p_best)} of draws.{passing}"
        )
    shares = join_names([percent(row.p_best) for row in tied])
    return (
        f"For a {use}, {join_names([row.system for row in tied])} cannot be told apart "
        f"(best in {shares} of draws).{passing}"
    )


def _is_gated(ranking: Ranking) -> bool:
    return len(ranking.unknown_gates) < len(ranking.profile.gates)


def _gate_words(ranking: Ranking, test_names: Mapping[str, str]) -> str:
    if ranking.without_board_spread:
        named = join_names([test_names.get(test, test) for test in ranking.without_board_spread])
        return f"With one board nothing shows how boards differ, so the gates hold for that board alone ({named})."
    return "A gate is passed when the finish reaches it on the next board of this wood: how boards differ is in it."


def _pass_words(rows: Sequence[RankedSystem]) -> str:
    sure = [row.system for row in rows if row.p_passes >= LIKELY]
    doubtful = [row for row in rows if row.p_passes < LIKELY]
    if not doubtful:
        return f"{'It passes' if len(rows) == 1 else 'All pass'} every gate in at least 9 of 10 draws."
    parts = [f"{row.system} in {percent(row.p_passes)}" for row in doubtful]
    if sure:
        parts.insert(0, f"{join_names(sure)} in at least 9 of 10 draws")
    return f"Passing every gate: {'; '.join(parts)}."


def percent(share: float) -> str:
    """A share in words: ``"63 %"``, and never 0 % or 100 % of something that chance leaves open.

    Examples
    --------
    >>> percent(0.63), percent(0.998), percent(0.0001), percent(0.0)
    ('63 %', 'over 99 %', 'under 1 %', 'none')
    """
    if share <= 0:
        return "none"
    if share >= 1:
        return "all"
    if share < 0.01:
        return "under 1 %"
    if share > 0.99:
        return "over 99 %"
    return f"{round(100 * share)} %"


def join_names(names: Sequence[str]) -> str:
    """``"a, b and c"``."""
    if len(names) < 2:
        return "".join(names)
    return f"{', '.join(names[:-1])} and {names[-1]}"
