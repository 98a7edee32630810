"""The ranking of a stored trial for a use: rows in, core functions, results out."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.errors import RankingError, ReadingsError
from nublet.core.evidence.by_response import ResponseEvidence
from nublet.core.evidence.policy import choose_section, main_response, species_choices, tests_on
from nublet.core.evidence.readings import ALL_SPECIES
from nublet.core.evidence.words import say_wood
from nublet.core.materials.build_ups import CONTROL_NAME
from nublet.core.protocols.tests import Protocol
from nublet.core.ranking.draws import Ranking, rank_systems
from nublet.core.ranking.profiles import reweigh
from nublet.core.ranking.uses import key_of
from nublet.core.ranking.words import say_verdict
from nublet.web.evidence.selectors import NOT_YET, names_of, weigh_each
from nublet.web.shelf.adapters import uses_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class RankingView:
    """The ranking for one use with its sentences."""

    ranking: Ranking
    species: str
    species_choices: tuple[str, ...]
    section: str
    section_choices: tuple[str, ...]
    look: str
    is_simulated: bool
    says: tuple[str, ...]


def rank_for_use(
    trial: Trial,
    *,
    use: str,
    species: str = "",
    section: str = "",
    weights: dict[str, float] | None = None,
) -> RankingView:
    """Rank the trial's build-ups for a use, the control left out.

    Raises
    ------
    RankingError, ReadingsError
        If the use is unknown, a weight is not usable, or there is nothing to rank by.
    """
    uses = uses_of(trial.shop_id)
    if use not in uses:
        raise RankingError(f"There is no use {use!r}. Choose one of: {', '.join(sorted(uses))}.", field="use")
    section = choose_section(trial.sections, section)
    protocol = protocol_of(trial)
    profile = reweigh(uses[use].asked_of(protocol), weights or {})
    test_names = names_of(protocol)
    weighed, waits = weigh_each(trial, protocol, profile.look, section)
    averaged = {
        each.response: each.analysis
        for each in weighed
        # What is weighed by ranks, shares, times or ratios has no points from 0 to 100 yet.
        if each.analysis is not None
        and each.response.better is not None
        and each.response.weighed_first == "means"
    }
    if not averaged:
        raise ReadingsError(waits or NOT_YET)
    main = averaged.get(main_response(protocol)) or next(iter(averaged.values()))
    species = species or main.default_species
    tests = {
        key_of(test.test, response.id): test
        for response, analysis in averaged.items()
        if analysis is main or species in (ALL_SPECIES, *species_choices(analysis))
        for test in tests_on(analysis, species)
    }
    names = _names_of_keys(protocol, weighed)
    only_read = frozenset(
        key_of(test, each.response.id)
        for each in weighed
        for test in each.looks
        if key_of(test, each.response.id) not in tests
    )
    ranking = rank_systems(profile, tests, excluded=[CONTROL_NAME], seed=trial.pk)
    wood = say_wood(main, species, test_names=test_names)
    return RankingView(
        ranking=ranking,
        species=species,
        species_choices=species_choices(main),
        section=section,
        section_choices=tuple(trial.sections),
        look=profile.look,
        is_simulated=trial.is_simulated,
        says=(
            *say_verdict(ranking, test_names=names, only_read=only_read),
            *((wood,) if wood else ()),
        ),
    )


def _names_of_keys(protocol: Protocol, weighed: list[ResponseEvidence]) -> dict[str, str]:
    """What stands for each key of a ranking in a sentence: the test, and what was read where that is no grade."""
    names = dict(names_of(protocol))
    for each in weighed:
        for test in each.looks:
            key = key_of(test, each.response.id)
            if key != test:
                names[key] = f"{names.get(test, test)}, {each.response.name_within}"
    return names
