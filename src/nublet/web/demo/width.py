"""The demo's trials beyond rings and grades: ladders, boards that are boiled and damped, swatches, a bench outdoors."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any

import numpy as np

from nublet.core.design.factor_records import PREPARATIONS
from nublet.core.plain import as_plain
from nublet.core.protocols.plain import protocol_as_dict
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.steps import with_ladder
from nublet.core.protocols.tests import Protocol
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.making import make
from nublet.web.bench.models import PanelWork, PlannedOperation, WorkEntry, WorkEntryKind
from nublet.web.build_ups.actions import add_build_up
from nublet.web.build_ups.crossing_actions import set_crossing
from nublet.web.demo.simulated import enter_simulated
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.outlook.composer import set_protocol
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_SWATCHES = ("Fellgate Hardoil 2K", "Marrowby Tung", "Ousel Dewaxed Shellac", "Skarn Waterborne Satin")
_SIX_WOODS = ("beech", "sycamore", "elm", "larch", "ash", "cherry")
_OIL_AND_FILM = ("Marrowby Tung", "Skarn Waterborne Satin")
_PREPARED = ("sanded to 120", "charred lightly")
_BENCHES = ("Marrowby Tung", "Cobble Lane Wiping Varnish", "Skarn Waterborne Satin")
# What of the galley's protocol is tried: a boiled half, uptake, damp cycles, a drop on glass, and how it feels.
_GALLEY = ("boil", "uptake", "damp-25", "drying-drop", "feel")
_OUT_FOR = timedelta(days=200)
_SEARCH_S = 0.3


def with_ladders(owner: Person, trial: Trial) -> None:
    """The trial's coffee as a ladder of three steps and its spirits as one of two, composed as on its page."""
    compose(owner, trial, with_ladder(with_ladder(protocol_of(trial), "coffee-1h", 3), "ethanol-1h", 2))


def with_and_without(
    owner: Person,
    trial: Trial,
    products: Mapping[str, int],
    *,
    bases: Sequence[str],
    top: str,
    not_on: str,
) -> None:
    """Bases on panels, with and without a topcoat on sections; on one of them nothing holds."""
    tops: list[dict[str, Any]] = [
        {"name": "nothing on top"},
        {"name": "hard topcoat", "layers": [{"product": products[top]}]},
    ]
    set_crossing(
        owner,
        trial.pk,
        {
            "factors": [_finishes(products, bases), {"kind": "top", "on": "sections", "levels": tops}],
            "out": [[not_on, "hard topcoat"]],
        },
    )
    trial.refresh_from_db()


def _finishes(products: Mapping[str, int], names: Sequence[str]) -> dict[str, Any]:
    levels = [{"name": name, "product": products[name]} for name in names]
    return {"kind": "finish", "on": "panels", "levels": levels}


def for_the_galley(owner: Person, trial: Trial) -> None:
    """What a galley's boards meet in the trial's protocol."""
    basics = protocol_of(trial)
    wanted = tuple(TESTS[name] for name in _GALLEY)
    compose(
        owner,
        trial,
        Protocol(
            id=basics.id,
            version=basics.version,
            name=basics.name,
            says=basics.says,
            looks=PROTOCOLS["board-and-utensils"].looks,
            tests=wanted,
        ),
    )


def compose(owner: Person, trial: Trial, protocol: Protocol) -> None:
    """Put a trial's protocol together, as on its page."""
    set_protocol(owner, trial.pk, protocol_as_dict(protocol))
    trial.refresh_from_db()


def load_swatches(
    owner: Person, judges: Sequence[Person], products: Mapping[str, int], *, seed: int
) -> Trial:
    """Colour swatches: nothing is put on them but light; colour, sheen and preference, all read."""
    trial = _trial(
        owner,
        judges,
        products,
        _SWATCHES,
        seed=seed,
        name="Colour swatches",
        question="The saloon's new tables stand beside the old panelling. Which finish looks right on beech, now and after a "
        "summer of light?",
        uses=["shelf-bedside-display"],
        species=["beech"],
        protocol="colour-swatches",
        times_on_paper=True,
    )
    enter_simulated(trial, judges, owner, protocol_of(trial).all_looks, rng=np.random.default_rng(seed))
    return trial


def load_benches(
    owner: Person, judges: Sequence[Person], products: Mapping[str, int], *, seed: int, now: datetime
) -> Trial:
    """Halt benches: put out more than half a year ago, looked at since, with the looks of a year and of two to come."""
    prepared = [{"name": name, "preparation": as_plain(PREPARATIONS[name])} for name in _PREPARED]
    trial = _trial(
        owner,
        judges,
        products,
        _BENCHES,
        seed=seed,
        crossing={
            "factors": [
                {"kind": "preparation", "on": "panels", "levels": prepared},
                _finishes(products, _BENCHES),
            ],
            "bare_at": ["charred lightly"],
        },
        name="Halt benches",
        question="The halts' benches stand in sun and rain. Which finish greys least, never peels, and is coated again in a "
        "morning; and does charring the wood first help?",
        uses=["outdoor-bench"],
        species=["larch"],
        protocol="outdoors",
    )
    out_at = now - _OUT_FOR
    plan = make(ask_for_plan(owner, trial.pk, start_at=out_at - timedelta(days=60)), limit_s=_SEARCH_S)
    operations = plan.operations.order_by("start_at", "pk")
    write_down(
        owner,
        trial,
        [
            (operation, out_at, out_at + (operation.end_at - operation.start_at))
            if operation.act == "out"
            else (operation, operation.start_at, operation.end_at)
            for operation in operations
        ],
    )
    come = [look for look in protocol_of(trial).all_looks if look.after_min < _OUT_FOR.total_seconds() / 60]
    enter_simulated(trial, judges, owner, come, rng=np.random.default_rng(seed))
    return trial


def load_six_woods(
    owner: Person, judges: Sequence[Person], products: Mapping[str, int], *, seed: int
) -> Trial:
    """Oil against waterborne over six woods, all read."""
    trial = _trial(
        owner,
        judges,
        products,
        _OIL_AND_FILM,
        seed=seed,
        boards=2,
        name="Carriage panelling",
        question="The carriages are panelled in whatever came to hand. Oil or a film: does one do for every wood?",
        uses=["shelf-bedside-display"],
        species=list(_SIX_WOODS),
        protocol="table-basics",
        times_on_paper=True,
    )
    enter_simulated(trial, judges, owner, protocol_of(trial).all_looks, rng=np.random.default_rng(seed))
    return trial


def _trial(
    owner: Person,
    judges: Sequence[Person],
    products: Mapping[str, int],
    candidates: Sequence[str],
    *,
    seed: int,
    crossing: Mapping[str, Any] | None = None,
    boards: int = 3,
    **fields: object,
) -> Trial:
    trial = create_trial(
        owner,
        is_simulated=True,
        boards_per_species=boards,
        judges=[judge.pk for judge in judges],
        **fields,
    )
    for name in candidates:
        add_build_up(owner, trial.pk, product=products[name])
    if crossing is not None:
        set_crossing(owner, trial.pk, crossing)
    draw_design(owner, trial.pk, seed=seed)
    return start(owner, trial.pk)


def write_down(
    owner: Person, trial: Trial, done: Sequence[tuple[PlannedOperation, datetime, datetime]]
) -> None:
    """Operations as done from one moment to another, each with its entry: all at once, for nothing of it was missed."""
    panels = {panel.code: panel for panel in TrialPanel.objects.filter(trial=trial)}
    known = [(operation, [str(panel[0]) for panel in operation.panels]) for operation, _, _ in done]
    WorkEntry.objects.bulk_create(
        WorkEntry(
            trial=trial,
            entry=WorkEntryKind.DONE,
            **_work_of(operation),
            panels=codes,
            at=ended,
            begun_at=begun,
            hands_id=operation.hands_id,
            client_id=uuid.uuid4(),
            made_by=owner,
        )
        for (operation, codes), (_, begun, ended) in zip(known, done, strict=True)
    )
    PanelWork.objects.bulk_create(
        PanelWork(
            panel=panels[code],
            **_work_of(operation),
            begun_at=begun + number * (ended - begun) / len(codes),
            ended_at=begun + (number + 1) * (ended - begun) / len(codes),
            hands_id=operation.hands_id,
        )
        for (operation, codes), (_, begun, ended) in zip(known, done, strict=True)
        for number, code in enumerate(codes)
    )


def _work_of(operation: PlannedOperation) -> dict[str, Any]:
    return {
        "kind": operation.kind,
        "item": operation.item,
        "look_after_min": operation.look_after_min,
        "nth": operation.nth,
        "act": operation.act,
    }
