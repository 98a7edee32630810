"""Arrows point one way. The linter holds it for the source; this holds it for what is really imported."""

from __future__ import annotations

import subprocess
import sys

PROBE = """
import pkgutil, sys, importlib, nublet.core, nublet.formats
for room in (nublet.core, nublet.formats):
    for found in pkgutil.walk_packages(room.__path__, room.__name__ + "."):
        # The solver brings pandas along, and is loaded when there is something to solve and not before.
        if found.name not in ("nublet.core.planning.improve", "nublet.core.planning.model"):
            importlib.import_module(found.name)
print(",".join(sorted({name.split(".")[0] for name in sys.modules})))
print(",".join(name for name in sys.modules if name.startswith("nublet.")))
"""


def test_core_and_formats_import_no_framework_and_no_other_room() -> None:
    done = subprocess.run([sys.executable, "-c", PROBE], capture_output=True, text=True, check=True)
    top, ours = (set(line.split(",")) for line in done.stdout.splitlines())
    assert "nublet" in top
    assert not top & {"django", "rest_framework", "MySQLdb", "statsmodels", "pandas"}
    assert not [name for name in ours if name.startswith(("nublet.web", "nublet.cli"))]
