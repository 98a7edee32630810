"""What all tests share."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import settings

# Playwright's synchronous API runs an event loop in the test's thread, which Django would take for async code.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
os.environ.setdefault("NUBLET_SECRET_KEY", "for the tests alone")
# Tests that touch no table run without a database; the launcher gives the others theirs.
os.environ.setdefault("DATABASE_URL", "mysql://nobody@127.0.0.1:1/none")

# The same cases in each run: what one has shown, the next shows too. NUBLET_EXPLORE=1 looks for others. No case has to be quick:
# that would depend on the machine.
settings.register_profile("same", derandomize=not os.environ.get("NUBLET_EXPLORE"), deadline=None)
settings.load_profile("same")


@pytest.fixture
def opened(tmp_path: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An installation with its tables and an owner, as ``NUBLET_VAR`` of a launcher: a copy of the run's one."""
    from tests.cli.launched import copy_opened

    own = tmp_path_factory.getbasetemp()
    # Each worker has a folder of its own in that of the run.
    original = (own.parent if "PYTEST_XDIST_WORKER" in os.environ else own) / "opened"
    copy_opened(original, tmp_path / "var")
    return tmp_path / "var"
