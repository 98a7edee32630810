"""Change the constants that decide verdicts, one at a time, and see that a test fails for each.

.venv/bin/python tools/mutants.py           works in copies of the checkout; prints each mutant and whether it was killed
.venv/bin/python tools/mutants.py ALPHA     only those that speak of it
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = "src/nublet/core/"
# The tests of the core touch no table; pytest reads the settings all the same.
SETTINGS = {"NUBLET_SECRET_KEY": "for the tests alone", "DATABASE_URL": "mysql://nobody@127.0.0.1:1/none"}


@dataclass(frozen=True)
class Mutant:
    """A text in a file, and what stands in its place."""

    file: str
    before: str
    after: str


MUTANTS = (
    Mutant(CORE + "protocols/responses.py", "passes_from=4,", "passes_from=3.5,"),
    Mutant(CORE + "protocols/responses.py", "unmarked_from=4.75,", "unmarked_from=4.5,"),
    Mutant(CORE + "protocols/responses.py", "ruined_to=1.25,", "ruined_to=1.6,"),
    Mutant(CORE + "protocols/responses.py", "alone_by=2,", "alone_by=2.5,"),
    Mutant(CORE + "evidence/weighing.py", "ALPHA = 0.05", "ALPHA = 0.06"),
    Mutant(CORE + "evidence/checks.py", "STANDS_ALONE_ALPHA = 0.05", "STANDS_ALONE_ALPHA = 0.2"),
    Mutant(CORE + "evidence/checks.py", "FLOOR_REPLICATES = 3", "FLOOR_REPLICATES = 2"),
    Mutant(CORE + "ranking/draws.py", "TIED_BELOW = 0.9", "TIED_BELOW = 0.8"),
    Mutant(CORE + "ranking/draws.py", "GATE_PENALTY = 1000.0", "GATE_PENALTY = 10.0"),
    Mutant(
        CORE + "ranking/shipped.py",
        "AskedGate(asked=_WINE, threshold=4)",
        "AskedGate(asked=_WINE, threshold=3)",
    ),
    Mutant(CORE + "ranking/shipped.py", '"red wine", minutes=(60, 360)', '"red wine", minutes=(120, 360)'),
    Mutant(CORE + "bench/judging.py", '"late-wipe": _Rule(0.1, 1.0)', '"late-wipe": _Rule(0.1, 2.0)'),
    Mutant(
        CORE + "bench/judging.py",
        '"uncured-exposure": _Rule(0.02, 0.25)',
        '"uncured-exposure": _Rule(0.02, 0.4)',
    ),
    Mutant(CORE + "planning/chains.py", '"hot"} if hazards & _AIR', '"hot"} if not hazards & _AIR'),
)


def is_killed(mutant: Mutant | None) -> bool:
    """Whether the core's tests fail with it, or, without one, at all."""
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        shutil.copytree(ROOT / "src", copy / "src")
        shutil.copytree(ROOT / "tests", copy / "tests")
        shutil.copy(ROOT / "pyproject.toml", copy)
        if mutant is not None:
            path = copy / mutant.file
            text = path.read_text()
            if text.count(mutant.before) != 1:
                raise SystemExit(f"{mutant.file} has {mutant.before!r} {text.count(mutant.before)} times")
            path.write_text(text.replace(mutant.before, mutant.after))
        done = subprocess.run(
            [sys.executable, "-m", "pytest", "tests/core", "-q", "-x", "-n", "2", "-p", "no:cacheprovider"],
            cwd=copy, capture_output=True, check=False, env={"PATH": "/usr/bin:/bin", "PYTHONPATH": f"{copy}/src", **SETTINGS},
        )  # fmt: skip
        if done.returncode not in (0, 1, 2):  # 2 is how workers end at the first failure
            raise SystemExit(f"The tests could not be run:\n{(done.stdout + done.stderr).decode()}")
        return done.returncode != 0


if __name__ == "__main__":
    if is_killed(None):
        raise SystemExit("The tests fail as things are: nothing would be learnt.")
    survived = 0
    chosen = [mutant for mutant in MUTANTS if all(word in str(mutant) for word in sys.argv[1:])]
    for mutant in chosen:
        killed = is_killed(mutant)
        survived += not killed
        print(
            f"{'killed' if killed else 'SURVIVED':9} {mutant.file.removeprefix(CORE)}: {mutant.after}",
            flush=True,
        )
    print(f"{len(chosen) - survived} of {len(chosen)} killed")
    sys.exit(survived > 0)
