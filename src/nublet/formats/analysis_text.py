"""An analysis as text for a terminal."""

from __future__ import annotations

from nublet.core.evidence.analysis import Analysis
from nublet.core.evidence.outcomes import PairEvidence, SectionsEvidence, SystemEvidence, TestEvidence
from nublet.core.evidence.readings import ALL_SPECIES

_MOST_PAIRS = 12


def describe(analysis: Analysis) -> str:
    """The analysis as lines for people: what every test shows, the judges, and whether to trust it."""
    lines: list[str] = []
    if analysis.depends_on_wood:
        lines += [
            f"It depends on the wood: {', '.join(analysis.depends_on_wood)}. Read each wood by itself there; the mean over "
            '"all" is nobody\'s.',
            "",
        ]
    if any(test.better is None for test in analysis.tests):
        lines += ["Nobody said which end is better, so the order is from high to low: --better high|low.", ""]
    for test in analysis.tests:
        lines += [*_test(test, analysis), ""]
    for test_name, found in analysis.interaction:
        lines.append(
            f"build-up × wood, {test_name}: F({found.df[0]}, {found.df[1]}) = {found.f:.2f}, p {found.p:.3g}"
        )
    lines += [""] if analysis.interaction else []
    if analysis.judges is not None and analysis.judges.pairs:
        lines += [
            f"{pair.a} and {pair.b}: kappa {_number(pair.kappa_quadratic)} over {pair.n} places"
            for pair in analysis.judges.pairs
        ]
        lines.append("")
    lines += [f"{check.level:4}  {check.says}" for check in analysis.checks]
    return "\n".join(lines)


def _test(test: TestEvidence, analysis: Analysis) -> list[str]:
    mark = (
        " (depends on the wood)"
        if test.species == ALL_SPECIES and test.test in analysis.depends_on_wood
        else ""
    )
    section = f" · {test.section}" if test.section else ""
    n_panels = len({value.panel for value in test.values})
    lines = [f"{test.test} · {test.species}{mark}{section} · look {test.look or '-'} · {n_panels} panels"]
    width = max(len(row.system) for row in test.systems)
    digits = _digits(test)
    lines += [f"  {row.system:{width}}  {_row(row, digits)}  {row.letters}" for row in test.systems]
    for effect in test.effects:
        lines.append(
            f"  {effect.effect}: F({effect.df[0]}, {effect.df[1]:g}) = {effect.f:.2f}, p {effect.p:.3g} (by {effect.stratum}s)"
        )
    if test.friedman is not None:
        lines.append(
            f"  boards agree on the order: Kendall's W {test.friedman.kendall_w:.2f}, Friedman p {test.friedman.p:.3g}"
        )
    for factor in test.margins:
        named = ", ".join(
            f"{level.level} {_number(level.mean)} {level.letters}".rstrip() for level in factor.levels
        )
        lines.append(f"  {factor.factor}: {named}")
    if test.sections is not None:
        lines += _sections(test.sections)
    lines += _pairs(test.pairs)
    return lines + ([f"  {test.says}"] if test.says else [])


def _row(row: SystemEvidence, digits: str) -> str:
    if row.time is not None:
        by = (
            "later than anybody looked"
            if row.time.by is None
            else f"{row.time.after:g} to {row.time.by:g} min"
        )
        return f"median {by} ({row.time.level:.0%} sure: from {row.time.low:g})"
    mean = "no mean" if row.mean is None else f"{row.mean:{digits}}"
    steps = ", ".join(f"{step.words.lower()} {step.share:.0%}" for step in row.steps if step.share > 0)
    interval = "no interval" if row.ci is None else f"{row.ci[0]:{digits}} to {row.ci[1]:{digits}}"
    return f"{mean}  {steps or interval}"


def _sections(found: SectionsEvidence) -> list[str]:
    named = ", ".join(
        f"{level.level} {_number(level.mean)} {level.letters}".rstrip() for level in found.sections.levels
    )
    cells: dict[str, list[str]] = {}
    for cell in found.cells:
        cells.setdefault(cell.system, []).append(f"{cell.section} {_number(cell.mean)}")
    return [f"  sections: {named}", *(f"    {system}: {', '.join(each)}" for system, each in cells.items())]


def _pairs(pairs: tuple[PairEvidence, ...]) -> list[str]:
    found = []
    for verdict in ("told apart", "alike", "open"):
        own = [f"{pair.a} / {pair.b}" for pair in pairs if pair.verdict == verdict]
        if own:
            more = f" and {len(own) - _MOST_PAIRS} more" if len(own) > _MOST_PAIRS else ""
            found.append(f"  {verdict}: {'; '.join(own[:_MOST_PAIRS])}{more}")
    return found


def _number(value: float | None) -> str:
    return (
        "-" if value is None else f"{value:.2f}" if 0.1 <= abs(value) < 1e5 or value == 0 else f"{value:.3g}"
    )


def _digits(test: TestEvidence) -> str:
    """Two decimals for grades; for other values as many as show them."""
    largest = max((abs(row.mean) for row in test.systems if row.mean is not None), default=0.0)
    return "5.2f" if 0.1 <= largest < 1e5 or largest == 0 else "10.3g"
