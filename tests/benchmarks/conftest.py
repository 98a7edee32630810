"""A run that measures nothing runs each benchmark's body once, so that it cannot rot: of several sizes the smallest does."""

from __future__ import annotations

import pytest

LARGE = ("[large", "-large", "[2000", "test_trials_planned_at_once[3]", "test_large_plan_exposed_together[2]")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave the large sizes out unless they are measured."""
    if config.getoption("benchmark_enable") or not config.getoption("benchmark_disable"):
        return
    left_out = [
        item
        for item in items
        if "tests/benchmarks" in item.nodeid and any(mark in item.nodeid for mark in LARGE)
    ]
    if left_out:
        config.hook.pytest_deselected(items=left_out)
        items[:] = [item for item in items if item not in left_out]
