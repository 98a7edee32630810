"""A trial that is read by a colour meter alone, for the tests of measures over HTTP and in a browser."""

from __future__ import annotations

from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design, start
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial


def make_swatches(owner: Person, judge: Person, *, boards: int) -> Trial:
    """Two candidates and bare wood on some boards, started."""
    trial = create_trial(
        owner,
        name="Swatches",
        question="Which colour?",
        uses=["shelf-bedside-display"],
        species=["beech"],
        boards_per_species=boards,
        judges=[judge.pk],
        protocol="colour-swatches",
        times_on_paper=True,
        blind_repeats=False,
    )
    add_build_up(owner, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=4)
    add_build_up(owner, trial.pk, name="Skarn Waterborne Satin", family="waterborne-clear", coats=3)
    return start(owner, draw_design(owner, trial.pk, seed=3).pk)
