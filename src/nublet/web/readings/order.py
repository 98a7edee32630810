"""Each reader's own order of the pieces, and as what a person reads."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nublet.core.design.codes import shuffle_read_order
from nublet.core.protocols.looks import Reader
from nublet.web.people.models import Person
from nublet.web.people.policies import may
from nublet.web.trials.models import Trial

# What whoever reads must be allowed to do: judges what judges do, the hands at the bench what keepers log.
READERS: Mapping[Reader, str] = {"judges": "judge", "hands": "log_work"}


def order_of(codes: Iterable[str], trial: Trial, person: Person, look_id: str, n_replaced: int) -> list[str]:
    """Pieces of a trial in the person's own order at a look; those that fall due later take their places, and no other moves."""
    return shuffle_read_order(
        sorted(set(codes)), secret=trial.order_secret, judge=person.pk, look=look_id, n_replaced=n_replaced
    )


def readers_of(person: Person, trial: Trial) -> tuple[Reader, ...]:
    """As what a person reads in a trial: as one of its judges, as hands at the bench, as both or not at all."""
    found: list[Reader] = []
    if trial.judges.filter(pk=person.pk).exists():
        found.append("judges")
    if may(person, READERS["hands"]):
        found.append("hands")
    return tuple(found)
