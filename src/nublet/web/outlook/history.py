"""What finished trials showed of a product: its difference from benchmarks that stood beside it, pooled over trials."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from django.http import Http404

from nublet.core.evidence.by_response import looks_that_count, readings_of_rows, rows_by_response
from nublet.core.evidence.history import (
    PooledDifference,
    TrialDifference,
    difference_in_trial,
    pool_differences,
)
from nublet.core.evidence.panel_values import panel_values
from nublet.core.evidence.policy import main_response
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import Response
from nublet.core.protocols.tests import DEFAULT_LOOK
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.evidence.rows import rows_of
from nublet.web.outlook.spreads import finished_trials
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
    responses: dict[str, Response] = {}
    n_trials, n_compared = 0, 0
    for trial, _ in finished_trials(actor.shop_id, is_simulated=is_simulated):
        build_ups = list(
            trial.build_ups.filter(version__isnull=False).select_related("version__build_up").order_by("pk")
        )
        own = [row.name for row in build_ups if _leading_product(row) == product_id]
        if not own:
            continue
        n_trials += 1
        beside = [row for row in build_ups if row.version is not None and row.version.build_up.is_benchmark]
        beside = [row for row in beside if row.name not in own]
        if not beside:
            continue
        n_compared += 1
        response, values = _values(trial)
        responses[response.id] = response
        protocol = protocol_of(trial)
        names |= {test.id: test.short_name for test in protocol.tests}
        for benchmark in beside:
            for test, panels in values.items():
                found = difference_in_trial(trial.name, panels, own, benchmark.name, response)
                if found is not None and benchmark.version is not None:
                    differences[response.id, benchmark.version.build_up.name, test].append(found)
    return ProductHistory(
        n_trials=n_trials,
        n_compared=n_compared,
        is_simulated=is_simulated,
        tests=tuple(_pooled(differences, names, responses)),
    )


def _pooled(
    differences: Mapping[_Key, list[TrialDifference]],
    names: Mapping[str, str],
    responses: Mapping[str, Response],
) -> Iterable[TestHistory]:
    for (response, benchmark, test), own in sorted(differences.items()):
        yield TestHistory(
            test=test,
            name=names.get(test, test),
            response=response,
            response_name=responses[response].name,
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


def _values(trial: Trial) -> tuple[Response, dict[str, list[PanelValue]]]:
    """The main response's panel values of each test, at the look that counts; none where it is not compared by differences."""
    protocol = protocol_of(trial)
    response = main_response(protocol)
    if response.weighed_first != "means" or response.better is None:
        return response, {}
    rows = rows_by_response(rows_of(trial), protocol).get(response, [])
    looks = looks_that_count(rows, protocol, response, DEFAULT_LOOK)
    counted = [
        row
        for row in rows
        if row.look == looks.get(row.test)
        and row.turn == 0
        and row.left_out is None
        and row.value is not None
    ]
    return response, {
        test: panel_values(
            readings_of_rows([row for row in counted if row.test == test], with_look=False), response=response
        )
        for test in looks
    }
