"""Preparation and finishing as work of a plan: what is done before the first coat and after the last, with the waits between."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from nublet.core.materials.paces import PaceKind, minutes_per_panel
from nublet.core.materials.preparations import Preparation, Washing
from nublet.core.materials.recipes import Recipe

# Wetted wood dries overnight or in a warm half day; a damp cloth's water in an hour; solvent flashes off.
_DRY_AFTER_WETTING_H = 4.0
_DRY_AFTER_DAMP_H = 1.0
# Wood that was scrubbed and rinsed is wet deeper than by a cloth.
_DRY_AFTER_WASHING_H = 48.0
WASHED_AS: dict[Washing, str] = {
    "none": "",
    "cleaner": "Scrub with a cleaner, rinse",
    "brightener": "Wash with a brightener, rinse",
    "de-greyer": "Scrub with a de-greyer, rinse",
}
_FLASH_OFF_H = 0.25
_CHAR_COOLS_H = 0.5


@dataclass(frozen=True, kw_only=True)
class Doing:
    """One piece of preparing or finishing. ``id`` names no product and no level: two panels' entries are told apart by their codes.

    ``then_h`` is the least wait before the next; ``after_h`` before it, for what waits for a coat.
    """

    id: str
    pace: PaceKind
    words: str
    times: int = 1
    then_h: float = 0.0
    after_h: float = 0.0
    is_solvent_open: bool = False
    cautions: tuple[str, ...] = ()

    def minutes(self, area_m2: float, paces: Mapping[str, float]) -> float:
        """Hands-on minutes for one panel."""
        return round(minutes_per_panel(self.pace, area_m2, paces, times=self.times), 2)


def doings_of_preparation(preparation: Preparation) -> Iterator[Doing]:
    """What is done to the bare panel, in order: washing, charring, brushing, sanding, wetting and sanding again, cleaning."""
    dust = ("sanding-dust",)
    if preparation.washed != "none":
        yield Doing(
            id="wash",
            pace="scrub",
            words=WASHED_AS[preparation.washed],
            then_h=_DRY_AFTER_WASHING_H,
            cautions=("wood-wash",),
        )
    if preparation.charring != "none":
        share = {"light": 1, "medium": 2, "deep": 3}[preparation.charring]
        yield Doing(
            id="char", pace="char", words="Char", times=share, then_h=_CHAR_COOLS_H, cautions=("torch", "treated-wood")
        )  # fmt: skip
        if preparation.brushed:
            yield Doing(id="brush char", pace="brush-char", words="Brush the char", cautions=dust)
    if preparation.grits:
        sequence = "-".join(str(grit) for grit in preparation.grits)
        yield Doing(
            id="sand", pace="sand", words=f"Sand {sequence}", times=len(preparation.grits), cautions=dust
        )
    if preparation.water_popped:
        yield Doing(id="wet", pace="wet", words="Wet to raise the grain", then_h=_DRY_AFTER_WETTING_H)
        last = preparation.grits[-1] if preparation.grits else 240
        yield Doing(id="sand again", pace="sand", words=f"Sand the raised grain, {last}", cautions=dust)
    if preparation.cleaning != "none":
        yield Doing(
            id="clean",
            pace="clean",
            words={"dry": "Brush off the dust", "damp": "Wipe damp", "solvent": "Wipe with solvent"}[preparation.cleaning],
            then_h={"dry": 0.0, "damp": _DRY_AFTER_DAMP_H, "solvent": _FLASH_OFF_H}[preparation.cleaning],
            is_solvent_open=preparation.cleaning == "solvent",
            cautions=("solvent-vapour",) if preparation.cleaning == "solvent" else (),
        )  # fmt: skip


def doings_of_finishing(recipe: Recipe) -> Iterator[Doing]:
    """What is done after the last coat: buffed once it is dry to the touch, rubbed matt once it is fit for light use."""
    if recipe.final not in ("buffed", "matted"):
        return
    last = recipe.all_layers[-1]
    product = last.product
    dry_h = product.label.touch_dry_h if product.label.touch_dry_h is not None else product.recoat_h[0]
    cure_h = 24 * product.cure_d(with_hardener=last.hardener)
    light_h = 24 * product.label.light_use_d if product.label.light_use_d is not None else cure_h / 2
    if recipe.final == "buffed":
        yield Doing(id="buff", pace="buff", words="Buff", after_h=min(dry_h, cure_h))
    else:
        yield Doing(
            id="rub matt", pace="matt", words="Rub matt", after_h=min(light_h, cure_h), cautions=("sanding-dust",)
        )  # fmt: skip


# What is planned and logged by each id, and by which pace; a lamp's ids are numbered by their coats.
PACE_OF: dict[str, PaceKind] = {
    "wash": "scrub",
    "char": "char",
    "brush char": "brush-char",
    "sand": "sand",
    "wet": "wet",
    "sand again": "sand",
    "clean": "clean",
    "buff": "buff",
    "rub matt": "matt",
}


# Ids of what comes before the first coat, and after the last.
PREPARING = ("wash", "char", "brush char", "sand", "wet", "sand again", "clean")
FINISHING = ("buff", "rub matt")


def lamp_pass(coat: int) -> Doing:
    """Setting a coat under the lamp, at once after it."""
    return Doing(
        id=f"lamp {coat}", pace="lamp", words=f"Set coat {coat} under the lamp", cautions=("uv-lamp",)
    )


def masking(coat: int) -> Doing:
    """Taping off what a coat must not go over."""
    return Doing(id=f"mask {coat}", pace="mask", words=f"Mask the sections that coat {coat} leaves out")


def unmasking(coat: int) -> Doing:
    """Taking the tape off after a coat."""
    return Doing(id=f"unmask {coat}", pace="unmask", words=f"Take the tape off after coat {coat}")


def doing_of(item: str, preparation: Preparation | None, recipe: Recipe | None) -> Doing | None:
    """What an id stands for on panels so prepared and coated; ``None`` for what is none of theirs."""
    found = [
        *(doings_of_preparation(preparation) if preparation is not None else ()),
        *(doings_of_finishing(recipe) if recipe is not None else ()),
    ]
    named = next((doing for doing in found if doing.id == item), None)
    kind, _, number = item.rpartition(" ")
    numbered = {"lamp": lamp_pass, "mask": masking, "unmask": unmasking}
    return numbered[kind](int(number)) if named is None and kind in numbered and number.isdigit() else named
