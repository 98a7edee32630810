"""What finished trials showed of a product: its difference from benchmarks that stood beside it, pooled over trials."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import partial
from itertools import product

from django.http import Http404

from nublet.core.evidence.by_response import looks_that_count, readings_of_rows, rows_by_response
from nublet.core.evidence.history import (
    PooledDifference,
    TrialDifference,
    difference_in_trial,
    pool_differences,
)
from nublet.core.evidence.panel_values import panel_values
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import DEFAULT_LOOK
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.evidence.rows import rows_of
from nublet.web.outlook.spreads import finished_trials, kept_while_the_same
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import outline_of
from nublet.web.shelf.models import ShelfProduct
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class TestHistory:
    """One test, response and benchmark over the trials that have them; ``name`` is the test's short name."""

    __test__ = False

    test: str
    name: str
    response: str
    response_name: str
    benchmark: str
    pooled: PooledDifference


@dataclass(frozen=True, kw_only=True)
class ProductHistory:
    """All that finished trials tell of a product. ``n_trials`` have it, ``n_compared`` of them beside a benchmark."""

    n_trials: int
    n_compared: int
    is_simulated: bool
    tests: tuple[TestHistory, ...]


_Key = tuple[str, str, str]


def history_of(actor: Person, product_id: int) -> ProductHistory:
    """What the shop's finished trials show of a product; simulated trials only where no real one has it.

    Two queries for each of the two kinds, and those of a trial's readings where it changed since it was last asked.

    Raises
    ------
    Http404
        If the shelf has no such product.
    """
    if not ShelfProduct.objects.filter(pk=product_id, shop=actor.shop_id).exists():
        raise Http404
    for is_simulated in (False, True):
        found = _history(actor, product_id, is_simulated=is_simulated)
        if found.n_trials:
            return found
    return found


def _history(actor: Person, product_id: int, *, is_simulated: bool) -> ProductHistory:
    differences: dict[_Key, list[TrialDifference]] = defaultdict(list)
    names: dict[str, str] = {}
    n_trials, n_compared = 0, 0
    finished = finished_trials(actor.shop_id, is_simulated=is_simulated)
    of_trial: dict[int, list[TrialBuildUp]] = defaultdict(list)
    for row in (
        TrialBuildUp.objects.filter(trial__in=[trial.pk for trial, _ in finished], version__isnull=False)
        .select_related("version__build_up")
        .order_by("pk")
    ):
        of_trial[row.trial_id].append(row)
    for trial, state in finished:
        build_ups = of_trial[trial.pk]
        own = [row.name for row in build_ups if _leading_product(row) == product_id]
        if not own:
            continue
        n_trials += 1
        beside = [row for row in build_ups if row.version is not None and row.version.build_up.is_benchmark]
        beside = [row for row in beside if row.name not in own]
        if not beside:
            continue
        n_compared += 1
        protocol = protocol_of(trial)
        names |= {test.id: test.short_name for test in protocol.tests}
        values = kept_while_the_same("history", trial, state, partial(_values, trial))
        for benchmark, ((response, test), panels) in product(beside, values.items()):
            found = difference_in_trial(trial.name, panels, own, benchmark.name, RESPONSES[response])
            if found is not None and benchmark.version is not None:
                differences[response, benchmark.version.build_up.name, test].append(found)
    return ProductHistory(
        n_trials=n_trials,
        n_compared=n_compared,
        is_simulated=is_simulated,
        tests=tuple(_pooled(differences, names)),
    )


def _pooled(
    differences: Mapping[_Key, list[TrialDifference]],
    names: Mapping[str, str],
) -> Iterable[TestHistory]:
    for (response, benchmark, test), own in sorted(differences.items(), key=lambda each: _place(*each[0])):
        yield TestHistory(
            test=test,
            name=names.get(test, test),
            response=response,
            response_name=RESPONSES[response].name,
            benchmark=benchmark,
            pooled=pool_differences(own),
        )


def _leading_product(row: TrialBuildUp) -> object:
    """The shelf number of the product by which a build-up is known."""
    if row.version is None:
        return None
    outline = outline_of(row.version.recipe)
    at = next(n for n, layer in enumerate(outline.layers) if layer is outline.leading_layer)
    return row.version.recipe["layers"][at].get("product")


def _place(response: str, benchmark: str, test: str) -> tuple[int, str, str]:
    """Responses in the order in which they are declared."""
    return list(RESPONSES).index(response), benchmark, test


def _values(trial: Trial) -> dict[tuple[str, str], list[PanelValue]]:
    """Panel values by response and test, at the look that counts, of what is compared by differences and has a better end."""
    protocol = protocol_of(trial)
    found = {}
    for response, rows in rows_by_response(rows_of(trial), protocol).items():
        if response.weighed_first != "means" or response.better is None:
            continue
        looks = looks_that_count(rows, protocol, response, DEFAULT_LOOK)
        for test, look in looks.items():
            counted = [
                row
                for row in rows
                if (row.test, row.look, row.turn) == (test, look, 0)
                and row.left_out is None
                and row.value is not None
            ]
            readings = readings_of_rows(counted, with_look=False)
            found[response.id, test] = panel_values(readings, response=response)
    return found
