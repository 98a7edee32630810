"""The demo: the Lummerdale Light Railway's trials at Tarn Yard Finishing. Every reading is simulated."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

import numpy as np
from django.db import transaction

from nublet.core.protocols.looks import Look
from nublet.web.bench import clock
from nublet.web.build_ups.actions import add_build_up, change_build_up, set_benchmark
from nublet.web.demo.bench_days import load_bench_days, set_demo_instruments
from nublet.web.demo.exposing import load_trays
from nublet.web.demo.pictures import load_photographs, load_practice
from nublet.web.demo.shelf import fill_demo_shelf
from nublet.web.demo.simulated import enter_repeats, enter_simulated
from nublet.web.demo.width import load_benches, load_six_woods, load_swatches, with_and_without, with_ladders
from nublet.web.designs.actions import draw_design, measure_board, start
from nublet.web.designs.deviations import spoil_panel
from nublet.web.designs.models import TrialPanel
from nublet.web.people.actions import add_person, open_shop
from nublet.web.people.models import Person, Shop
from nublet.web.trials.actions import create_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

DEMO_SHOP = "Tarn Yard Finishing"
DEMO_PASSWORD = "lummerdale-halt"
DEMO_SEED = 1879

DEMO_LOGINS = (
    ("nell", "Nell Arkwright-Osei", "owner"),
    ("tobias", "Tobias Wrenfield", "judge"),
    ("imara", "Imara Stolt", "judge"),
)
_CANDIDATES = (
    "Fellgate Hardoil 2K",
    "Marrowby Tung",
    "Cobble Lane Wiping Varnish",
    "Skarn Waterborne Satin",
    "Ousel Dewaxed Shellac",
    "Pikelaw Board Oil",
)
_Measures = tuple[Any, ...]
# Length and width, mm, then what to saw around: from, to, and what it is.
_COUNTER_BOARDS: dict[str, _Measures] = {
    "Beech 1": (3450, 165),
    "Beech 2": (3500, 160, (1480, 1520, "knot")),
    "Beech 3": (3450, 170),
    "Beech 4": (3500, 165, (3440, 3500, "crack")),
    "Larch 1": (2150, 320, (1000, 1040, "knot")),
    "Larch 2": (2100, 315, (0, 60, "crack")),
    "Larch 3": (2300, 320, (530, 560, "knot"), (1530, 1560, "knot")),
    "Larch 4": (2050, 310),
}
# Glued up wide and long, for panels of two sections.
_WIDE_BOARDS: dict[str, _Measures] = {
    "Beech 1": (4050, 320),
    "Beech 2": (4200, 325, (980, 1010, "knot")),
    "Beech 3": (4050, 320),
    "Beech 4": (4100, 330, (4040, 4100, "crack")),
    "Larch 1": (4200, 320, (0, 60, "crack")),
    "Larch 2": (4100, 315),
    "Larch 3": (4300, 320, (1930, 1960, "knot")),
    "Larch 4": (4050, 320),
}
_RACK_BOARDS: dict[str, _Measures] = {
    "Elm 1": (2100, 180, (410, 470, "knot")),
    "Elm 2": (1529, 175),
    "Elm 3": (1800, 160, (1700, 1800, "sapwood")),
    "Sycamore 1": (1750, 160),
    "Sycamore 2": (1700, 165),
    "Sycamore 3": (1800, 160),
}


@transaction.atomic
def load_demo(*, now: datetime | None = None) -> bool:
    """Load the demo as it would be at ``now``, by default this moment, unless it is there. Returns whether it was loaded."""
    if Shop.objects.filter(name=DEMO_SHOP).exists():
        return False
    nell = open_shop(
        shop_name=DEMO_SHOP, username="nell", display_name=DEMO_LOGINS[0][1], password=DEMO_PASSWORD
    )
    judges = [nell] + [
        add_person(nell, username=username, display_name=name, role=role, password=DEMO_PASSWORD)
        for username, name, role in DEMO_LOGINS[1:]
    ]
    products = fill_demo_shelf(nell)
    saloon = _make_trial(
        nell,
        judges,
        products,
        name="Saloon tables",
        question="The dining saloon's tables are being refinished. Which finish stands up to wine, coffee, wet "
        "glasses and hot plates, and can be mended between services?",
        seed=DEMO_SEED,
        is_crossed=True,
    )
    _grade_all(saloon, judges, protocol_of(saloon).looks, rng=np.random.default_rng(DEMO_SEED))
    enter_repeats(saloon, judges, protocol_of(saloon).looks, rng=np.random.default_rng(DEMO_SEED + 9))
    counter = _make_trial(
        nell,
        judges,
        products,
        name="Buffet counter",
        question="The buffet counter meets spilt spirits and standing water all day. Which finish lasts a season?",
        seed=DEMO_SEED + 1,
    )
    lifted, day_after = protocol_of(counter).looks
    rng = np.random.default_rng(DEMO_SEED + 1)
    _grade_all(counter, judges, [lifted], rng=rng)
    counter.refresh_from_db()
    # At 24 h one judge is through, one is half way, and one has not begun.
    _grade_all(counter, judges[:1], [day_after], rng=rng)
    _grade_all(counter, judges[1:2], [day_after], rng=rng, share=0.5)
    _spoil_one(nell, counter)
    _plan_luggage_racks(nell, judges, products)
    at = now or clock.now()
    load_bench_days(nell, judges, products, seed=DEMO_SEED + 2, now=at)
    load_swatches(nell, judges, products, seed=DEMO_SEED + 3)
    load_benches(nell, judges, products, seed=DEMO_SEED + 4, now=at)
    load_six_woods(nell, judges, products, seed=DEMO_SEED + 5)
    load_trays(nell, judges, products, seed=DEMO_SEED + 6, now=at)
    load_practice(judges, seed=DEMO_SEED + 7, now=at)
    load_photographs(nell, saloon, seed=DEMO_SEED + 8)
    hardoil = saloon.build_ups.get(name="Fellgate Hardoil 2K")
    set_benchmark(nell, saloon.pk, hardoil.pk, is_benchmark=True)
    return True


def plug_in(addresses: Mapping[str, str]) -> None:
    """Tell the demo shop where the simulated instruments listen."""
    owner = Person.objects.get(username=DEMO_LOGINS[0][0])
    set_demo_instruments(owner, addresses)


def _measure_boards(owner: Person, trial: Trial, measures: Mapping[str, _Measures]) -> None:
    for row in trial.boards.all():
        if row.name in measures:
            length, width, *defects = measures[row.name]
            fields = {
                "length_mm": length,
                "width_mm": width,
                "defects": [{"from_mm": start, "to_mm": end, "kind": kind} for start, end, kind in defects],
            }
            measure_board(owner, trial.pk, row.pk, fields)


def _spoil_one(owner: Person, trial: Trial) -> None:
    panel = TrialPanel.objects.filter(trial=trial).order_by("code")[0]
    spoil_panel(
        owner, trial.pk, panel=panel.code, reason="A cup of lamp oil went over it on the drying rack."
    )


def _plan_luggage_racks(owner: Person, judges: Sequence[Person], products: Mapping[str, int]) -> None:
    """A trial that is still being built up: layers over layers, and one experiment that its owner declared."""
    trial = create_trial(
        owner,
        is_simulated=True,
        name="Luggage racks",
        question="The racks take wet coats and hard corners. Is a topcoat over an oil worth its price?",
        uses=["shelf-bedside-display"],
        species=["elm", "sycamore"],
        protocol="scratch-and-mend",
        boards_per_species=3,
        judges=[judge.pk for judge in judges],
    )
    _measure_boards(owner, trial, _RACK_BOARDS)
    hardoil, satin = products["Fellgate Hardoil 2K"], products["Skarn Waterborne Satin"]
    tung, shellac = products["Marrowby Tung"], products["Ousel Dewaxed Shellac"]
    _add_layers(
        owner, trial, "Hardoil under Glasswing", (hardoil, 2, {}), (products["Glasswing Hard Topcoat"], 1, {})
    )
    _add_layers(
        owner,
        trial,
        "Tung, shellac, satin",
        (tung, 1, {}),
        (shellac, 2, {"applicator": "pad"}),
        (satin, 2, {"applicator": "foam", "wait_before_h": 4.0, "abrade_between": "320 grit, lightly"}),
    )
    _add_layers(
        owner,
        trial,
        "Satin over wax",
        (products["Bellwether Soft Wax"], 1, {}),
        (satin, 2, {"applicator": "foam"}),
        reason="The halt's old racks were waxed: will a new film hold if nobody strips them?",
    )


def _add_layers(
    owner: Person, trial: Trial, name: str, *layers: tuple[int, int, dict[str, Any]], reason: str = ""
) -> None:
    row = add_build_up(owner, trial.pk, name=name, product=layers[0][0])
    recipe = {
        "preparation": {"grits": [80, 120, 150], "water_popped": True},
        "layers": [{"product": product, "coats": coats, **more} for product, coats, more in layers],
        "experiment_reason": reason,
    }
    change_build_up(owner, trial.pk, row.pk, name=name, recipe=recipe)


def _make_trial(
    owner: Person,
    judges: Sequence[Person],
    products: Mapping[str, int],
    *,
    name: str,
    question: str,
    seed: int,
    is_crossed: bool = False,
) -> Trial:
    trial = create_trial(
        owner,
        is_simulated=True,
        # Nobody logged these: they were exposed by hand.
        times_on_paper=True,
        name=name,
        question=question,
        uses=["dining-table"],
        species=["beech", "larch"],
        boards_per_species=4,
        # Room for two sections with three spots more than the six.
        panel_length_mm=940 if is_crossed else 400,
        protocol="table-basics",
        judges=[judge.pk for judge in judges],
    )
    for candidate in _CANDIDATES:
        add_build_up(owner, trial.pk, product=products[candidate])
    _measure_boards(owner, trial, _WIDE_BOARDS if is_crossed else _COUNTER_BOARDS)
    if is_crossed:
        with_ladders(owner, trial)
        with_and_without(
            owner,
            trial,
            products,
            bases=_CANDIDATES,
            top="Glasswing Hard Topcoat",
            not_on="Pikelaw Board Oil",
        )
    return draw_design(owner, trial.pk, seed=seed)


def _grade_all(
    trial: Trial,
    judges: Sequence[Person],
    looks: Sequence[Look],
    *,
    rng: np.random.Generator,
    share: float = 1.0,
) -> None:
    """Enter simulated grades of the first share of the panels, as readings with one entry each."""
    if not trial.is_started:
        start(next(judge for judge in judges if judge.keeps_key), trial.pk)
    hands = next((judge for judge in judges if judge.keeps_key), None)
    enter_simulated(trial, judges, hands, looks, rng=rng, share=share)
