"""Exposures of a plan's specification, from JSON and to it; the shapes are in ``docs/formats.md``."""

from __future__ import annotations

import re
from typing import Any, cast, get_args

from nublet.core.errors import PlanError
from nublet.core.planning.exposure_work import ActWork, ExposureWork, Held, LookTime
from nublet.core.protocols.agents import NATURES, Nature, natures_of
from nublet.formats.plain_reader import PlainReader

_READ = PlainReader(PlanError)
_EXPOSURE_KEYS = {
    "id", "lay_minutes_per_panel", "duration_min", "tolerance_min", "lift_minutes_per_panel", "heat_block", "looks",
    "natures", "acts",
}  # fmt: skip
_ACT_KEYS = {"id", "minutes_per_panel", "then_min", "occupies", "hot"}
_LOOK_KEYS = {"after_min", "tolerance_min", "minutes_per_panel"}


def exposure_from_plain(item: object, path: str) -> ExposureWork:
    """An exposure from a plain mapping: laid and lifted, or acts of its own. Raises ``PlanError``."""
    if isinstance(item, dict) and item.get("acts") is not None:
        return _acted(item, path)
    required = ("id", "lay_minutes_per_panel", "duration_min", "tolerance_min", "lift_minutes_per_panel")
    plain = _READ.mapping(item, path, _EXPOSURE_KEYS, required=required)
    name = _READ.text(plain["id"], f"{path}.id")
    looks = _READ.items(plain.get("looks") or [], f"{path}.looks")

    def number(key: str) -> float:
        return _READ.number(plain[key], f"{path}.{key}")

    return ExposureWork(
        id=name,
        lay_minutes_per_panel=number("lay_minutes_per_panel"),
        duration_min=number("duration_min"),
        tolerance_min=number("tolerance_min"),
        lift_minutes_per_panel=number("lift_minutes_per_panel"),
        needs_heat_block=_READ.flag(plain.get("heat_block", False), f"{path}.heat_block"),
        looks=tuple(_look(look, f"{path}.looks.{index}") for index, look in enumerate(looks)),
        natures=_natures(plain, name, path),
    )


def _acted(item: object, path: str) -> ExposureWork:
    """An exposure of acts of its own in place of laying and lifting. Its acts say what is hot and when."""
    plain = _READ.mapping(item, path, {"id", "acts", "looks", "natures"}, required=("id", "acts"))
    name = _READ.text(plain["id"], f"{path}.id")
    natures = _natures(plain, name, path)
    acts = tuple(
        _act(act, f"{path}.acts.{index}")
        for index, act in enumerate(_READ.items(plain["acts"], f"{path}.acts"))
    )
    if not acts:
        raise PlanError(f"{path}.acts is empty. Give at least one act.", field=f"{path}.acts")
    looks = _READ.items(plain.get("looks") or [], f"{path}.looks")
    return ExposureWork(
        id=name,
        acts=acts,
        looks=tuple(
            _look(look, f"{path}.looks.{index}", may_follow=True) for index, look in enumerate(looks)
        ),
        natures=natures if "natures" in plain else natures - {"hot"},
    )


def _act(item: object, path: str) -> ActWork:
    plain = _READ.mapping(item, path, _ACT_KEYS, required=("id", "minutes_per_panel"))
    window, occupies = plain.get("then_min"), plain.get("occupies")
    then: tuple[float, float | None] | None = None
    if isinstance(window, list) and len(window) == 2 and window[1] is None:
        then = (_READ.number(window[0], f"{path}.then_min.0"), None)
    elif window is not None:
        then = _READ.pair(window, f"{path}.then_min", "least and greatest minutes")
    held = None if occupies is None else _READ.choice(occupies, f"{path}.occupies", get_args(Held))
    return ActWork(
        id=_READ.text(plain["id"], f"{path}.id"),
        minutes_per_panel=_READ.number(plain["minutes_per_panel"], f"{path}.minutes_per_panel"),
        then_min=then,
        occupies=cast("Held | None", held),
        is_hot=_READ.flag(plain.get("hot", False), f"{path}.hot"),
    )


def _natures(plain: Any, name: str, path: str) -> frozenset[Nature]:
    """What it must be kept from: as stated, else as its id tells, for the safe side."""
    if "natures" not in plain:
        return natures_of(re.sub(r"[-_]+", " ", name))
    stated = _READ.texts(plain["natures"], f"{path}.natures")
    for index, nature in enumerate(stated):
        _READ.choice(nature, f"{path}.natures.{index}", tuple(NATURES))
    return frozenset(cast("list[Nature]", stated))


def _look(item: object, path: str, *, may_follow: bool = False) -> LookTime:
    known = _LOOK_KEYS | {"after"} if may_follow else _LOOK_KEYS
    plain = _READ.mapping(item, path, known, required=tuple(sorted(_LOOK_KEYS)))
    return LookTime(
        after=_READ.text(plain["after"], f"{path}.after") if plain.get("after") else "",
        **{key: _READ.number(plain[key], f"{path}.{key}") for key in sorted(_LOOK_KEYS)},
    )


def exposure_to_plain(exposure: ExposureWork) -> dict[str, Any]:
    """An exposure as the plain mapping that :func:`exposure_from_plain` reads."""
    if exposure.acts:
        done: dict[str, Any] = {"acts": [_act_to_plain(act) for act in exposure.acts]}
    else:
        done = {
            "lay_minutes_per_panel": exposure.lay_minutes_per_panel,
            "duration_min": exposure.duration_min,
            "tolerance_min": exposure.tolerance_min,
            "lift_minutes_per_panel": exposure.lift_minutes_per_panel,
            "heat_block": exposure.needs_heat_block,
        }
    return {
        "id": exposure.id,
        **done,
        "natures": sorted(exposure.natures),
        "looks": [
            {
                "after_min": look.after_min,
                "tolerance_min": look.tolerance_min,
                "minutes_per_panel": look.minutes_per_panel,
                **({"after": look.after} if look.after else {}),
            }
            for look in exposure.looks
        ],
    }


def _act_to_plain(act: ActWork) -> dict[str, Any]:
    return {
        "id": act.id,
        "minutes_per_panel": act.minutes_per_panel,
        "then_min": None if act.then_min is None else list(act.then_min),
        "occupies": act.occupies,
        "hot": act.is_hot,
    }
