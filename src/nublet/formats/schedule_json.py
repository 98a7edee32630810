"""A plan's specification from JSON, and the plan to JSON; the shapes are in ``docs/formats.md``."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date, datetime
from itertools import groupby
from typing import Any, cast, get_args

from nublet.core.errors import PlanError
from nublet.core.planning.calendar import moment_at
from nublet.core.planning.plan import NoPlan, Operation, Plan
from nublet.core.planning.spec import (
    WEEKDAYS,
    CoatStep,
    Hands,
    PanelGroup,
    PlanSpec,
    StepKind,
    Weekday,
    WipeOff,
    WorkingHours,
)
from nublet.formats.plain_reader import PlainReader
from nublet.formats.schedule_busy import busy_from_plain, busy_to_plain
from nublet.formats.schedule_exposures import exposure_from_plain, exposure_to_plain

_READ = PlainReader(PlanError)
_KEYS = {
    "start",
    "hours",
    "people",
    "heat_blocks",
    "irons",
    "groups",
    "rack_places",
    "cleanup_min",
    "airing_min",
    "days_off",
    "together",
    "busy",
}
_PERSON_KEYS = {"name", "hours", "days_off"}
_GROUP_KEYS = {"id", "panels", "steps", "cure_h", "exposures", "condition_h", "boards"}
_STEP_KEYS = {
    "id", "minutes_per_panel", "wipe", "recoat_after_h", "pot_life_min", "product", "solvent_open",
    "abrade_minutes_per_panel", "weigh_minutes_per_panel", "kind", "ends_when_even",
}  # fmt: skip
_CLOCK = re.compile(r"([01]?\d|2[0-3]):([0-5]\d)|24:00")


def read_plan_spec(text: str) -> PlanSpec:
    """Read a specification from JSON text.

    Raises
    ------
    PlanError
        If it is not JSON, or a key is unknown, missing or of the wrong kind; ``field`` is the key's path.
    """
    return plan_spec_from_plain(_READ.json(text))


def plan_spec_from_plain(plain: object) -> PlanSpec:
    """A specification from a plain mapping. Raises ``PlanError``."""
    spec = _READ.mapping(plain, "the specification", _KEYS, required=("start", "groups"))
    start = _moment(spec["start"], "start")
    hours = None if "hours" not in spec else _hours(spec["hours"], "hours")
    days_off = _days(spec.get("days_off", []), "days_off")
    rack = spec.get("rack_places")
    return PlanSpec(
        start=start,
        people=_people(spec.get("people", 1), hours, days_off),
        heat_blocks=_READ.whole(spec.get("heat_blocks", 1), "heat_blocks"),
        irons=_READ.whole(spec.get("irons", 1), "irons"),
        rack_places=None if rack is None else _READ.whole(rack, "rack_places"),
        cleanup_min=_READ.number(spec.get("cleanup_min", 0), "cleanup_min"),
        airing_min=_READ.number(spec.get("airing_min", 0), "airing_min"),
        busy=busy_from_plain(spec.get("busy")),
        is_together=_READ.flag(spec.get("together", False), "together"),
        groups=tuple(
            _group(item, f"groups.{index}")
            for index, item in enumerate(_READ.items(spec["groups"], "groups"))
        ),
    )


def plan_to_json(answer: Plan | NoPlan) -> dict[str, Any]:
    """A plan, or why there is none, as plain mappings, lists, texts and numbers."""
    if isinstance(answer, NoPlan):
        return {
            "feasible": False,
            "reasons": [reason.says for reason in answer.reasons],
            "relaxations": [
                {
                    "groups": list(reason.groups), "item": reason.item, "items": list(reason.items), "what": relaxation.what, "was": relaxation.was,
                    "needed": relaxation.needed, "more_min": relaxation.more_min,
                }
                for reason in answer.reasons
                for relaxation in reason.relaxations
            ],
        }  # fmt: skip
    return {
        "feasible": True,
        "end": _at(answer, answer.end_s),
        "lower_bound_end": _at(answer, answer.lower_bound_s),
        "sittings": answer.n_sittings,
        "waiting_min": round(answer.waiting_s / 60, 1),
        "operations": [plain for operation in answer.operations for plain in _operations(answer, operation)],
        "says": list(answer.says),
    }


def plan_spec_to_plain(spec: PlanSpec) -> dict[str, Any]:
    """A specification as the plain mapping that :func:`plan_spec_from_plain` reads."""
    return {
        "start": spec.start.isoformat(),
        "heat_blocks": spec.heat_blocks,
        "irons": spec.irons,
        "rack_places": spec.rack_places,
        "cleanup_min": spec.cleanup_min,
        "airing_min": spec.airing_min,
        "together": spec.is_together,
        **({"busy": busy_to_plain(spec.busy)} if spec.busy.end_s else {}),
        "people": [
            {
                "name": person.name,
                "hours": [
                    {
                        "days": [day for day in WEEKDAYS if day in hours.days],
                        "from": _clock_text(hours.from_min),
                        "to": _clock_text(hours.to_min),
                    }
                    for hours in person.hours
                ],
                "days_off": sorted(day.isoformat() for day in person.days_off),
            }
            for person in spec.people
        ],
        "groups": [
            {
                "id": group.id,
                "panels": list(group.panels),
                "cure_h": group.cure_h,
                "condition_h": group.condition_h,
                "boards": list(group.boards),
                "steps": [_step_to_plain(step) for step in group.steps],
                "exposures": [exposure_to_plain(exposure) for exposure in group.exposures],
            }
            for group in spec.groups
        ],
    }


def _step_to_plain(step: CoatStep) -> dict[str, Any]:
    wipe = step.wipe
    return {
        "id": step.id,
        "kind": step.kind,
        "minutes_per_panel": step.minutes_per_panel,
        "wipe": None
        if wipe is None
        else {"after_min": [wipe.from_min, wipe.to_min], "minutes_per_panel": wipe.minutes_per_panel},
        "recoat_after_h": [step.recoat_from_h, step.recoat_to_h],
        "pot_life_min": step.pot_life_min,
        **({"product": step.product} if step.product else {}),
        "solvent_open": step.is_solvent_open,
        "abrade_minutes_per_panel": step.abrade_minutes_per_panel,
        "weigh_minutes_per_panel": step.weigh_minutes_per_panel,
        **({"ends_when_even": list(step.ends_when_even)} if step.ends_when_even else {}),
    }


def _clock_text(minutes: float) -> str:
    return f"{int(minutes) // 60:02d}:{int(minutes) % 60:02d}"


def _operations(plan: Plan, operation: Operation) -> Iterator[dict[str, Any]]:
    """An operation; where it goes across groups, a part for each panel or run of panels of one group."""
    for group, panels in groupby(operation.panels, key=lambda panel: panel.group):
        yield {
            "group": group,
            "step": operation.item,
            "kind": operation.kind,
            **({"act": operation.act} if operation.act else {}),
            **({"board": operation.board} if operation.board else {}),
            "look_after_min": operation.look_after_min,
            "person": operation.person + 1,
            "panels": [
                {"panel": panel.panel, "start": _at(plan, panel.start_s), "end": _at(plan, panel.end_s)}
                for panel in panels
            ],
        }


def _at(plan: Plan, seconds: int) -> str:
    return moment_at(plan.spec.start, seconds).isoformat(timespec="seconds")


def _people(
    value: object, hours: tuple[WorkingHours, ...] | None, days_off: frozenset[date]
) -> tuple[Hands, ...]:
    if not isinstance(value, list):
        number = _READ.whole(value, "people")
        if not 1 <= number <= 100:
            raise PlanError(f"people is {number}; give a number from 1, or a list of people.", field="people")
        if hours is None:
            raise PlanError("hours is missing. Give the shop's hours, or each person's own.", field="hours")
        return tuple(Hands(name=f"person {i + 1}", hours=hours, days_off=days_off) for i in range(number))
    people = []
    for index, item in enumerate(value):
        people.append(hands_from_plain(item, f"people.{index}", hours=hours, days_off=days_off))
    return tuple(people)


def hands_from_plain(
    item: object,
    path: str,
    *,
    hours: tuple[WorkingHours, ...] | None = None,
    days_off: frozenset[date] = frozenset(),
) -> Hands:
    """One pair of hands from a plain mapping; the shop's hours and days off stand beside its own. Raises ``PlanError``."""
    plain = _READ.mapping(item, path, _PERSON_KEYS, required=("name",))
    own = _hours(plain["hours"], f"{path}.hours") if "hours" in plain else hours
    if own is None:
        raise PlanError(f"{path} has no hours, and the shop has none either. Give one of them.", field=path)
    return Hands(
        name=_READ.text(plain["name"], f"{path}.name"),
        hours=own,
        days_off=days_off | _days(plain.get("days_off", []), f"{path}.days_off"),
    )


def _hours(value: object, path: str) -> tuple[WorkingHours, ...]:
    found = []
    for index, item in enumerate(_READ.items(value, path)):
        where = f"{path}.{index}"
        plain = _READ.mapping(item, where, {"days", "from", "to"}, required=("days", "from", "to"))
        days = _READ.texts(plain["days"], f"{where}.days")
        for number, day in enumerate(days):
            _READ.choice(day, f"{where}.days.{number}", WEEKDAYS)
        found.append(
            WorkingHours(
                days=frozenset(cast("list[Weekday]", days)),
                from_min=_clock(plain["from"], f"{where}.from"),
                to_min=_clock(plain["to"], f"{where}.to"),
            )
        )
    return tuple(found)


def _group(item: object, path: str) -> PanelGroup:
    plain = _READ.mapping(item, path, _GROUP_KEYS, required=("id", "panels"))
    name = _READ.text(plain["id"], f"{path}.id")
    panels = plain["panels"]
    if isinstance(panels, list):
        names = tuple(_READ.texts(panels, f"{path}.panels"))
    else:
        number = _READ.whole(panels, f"{path}.panels")
        if not 1 <= number <= 1000:
            raise PlanError(f"{path}.panels is {number}; give 1 to 1000.", field=f"{path}.panels")
        names = tuple(f"{name}-{index + 1}" for index in range(number))
    return PanelGroup(
        id=name,
        panels=names,
        steps=tuple(
            _step(step, f"{path}.steps.{index}", name)
            for index, step in enumerate(_READ.items(plain.get("steps") or [], f"{path}.steps"))
        ),
        cure_h=_READ.number(plain.get("cure_h", 0), f"{path}.cure_h"),
        condition_h=_READ.number(plain.get("condition_h", 0), f"{path}.condition_h"),
        boards=tuple(_READ.texts(plain.get("boards") or [], f"{path}.boards")),
        exposures=tuple(
            exposure_from_plain(exposure, f"{path}.exposures.{index}")
            for index, exposure in enumerate(_READ.items(plain.get("exposures") or [], f"{path}.exposures"))
        ),
    )


def _step(item: object, path: str, group: str) -> CoatStep:
    plain = _READ.mapping(item, path, _STEP_KEYS, required=("id", "minutes_per_panel"))
    recoat, wipe = plain.get("recoat_after_h"), plain.get("wipe")
    kind = cast("StepKind", _READ.choice(plain.get("kind", "coat"), f"{path}.kind", get_args(StepKind)))
    window: tuple[float, float | None] = (0.0, None)
    if isinstance(recoat, list) and len(recoat) == 2 and recoat[1] is None:
        window = (_READ.number(recoat[0], f"{path}.recoat_after_h.0"), None)
    elif recoat is not None:
        window = _READ.pair(recoat, f"{path}.recoat_after_h", "earliest and latest hours")
    return CoatStep(
        id=_READ.text(plain["id"], f"{path}.id"),
        kind=kind,
        minutes_per_panel=_READ.number(plain["minutes_per_panel"], f"{path}.minutes_per_panel"),
        wipe=None if wipe is None else _wipe(wipe, f"{path}.wipe"),
        recoat_from_h=window[0],
        recoat_to_h=window[1],
        pot_life_min=_READ.measure(plain.get("pot_life_min"), f"{path}.pot_life_min"),
        product=_READ.text(plain.get("product", group), f"{path}.product") if kind == "coat" else "",
        is_solvent_open=_READ.flag(plain.get("solvent_open", kind == "coat"), f"{path}.solvent_open"),
        abrade_minutes_per_panel=_READ.number(
            plain.get("abrade_minutes_per_panel", 0), f"{path}.abrade_minutes_per_panel"
        ),
        weigh_minutes_per_panel=_READ.number(
            plain.get("weigh_minutes_per_panel", 0), f"{path}.weigh_minutes_per_panel"
        ),
        ends_when_even=tuple(_READ.texts(plain.get("ends_when_even") or [], f"{path}.ends_when_even")),
    )


def _wipe(item: object, path: str) -> WipeOff:
    keys = {"after_min", "minutes_per_panel"}
    plain = _READ.mapping(item, path, keys, required=tuple(sorted(keys)))
    low, high = _READ.pair(plain["after_min"], f"{path}.after_min", "earliest and latest minutes")
    return WipeOff(
        from_min=low,
        to_min=high,
        minutes_per_panel=_READ.number(plain["minutes_per_panel"], f"{path}.minutes_per_panel"),
    )


def _moment(value: object, path: str) -> datetime:
    text = _READ.text(value, path)
    try:
        return datetime.fromisoformat(text)
    except ValueError as error:
        raise PlanError(f"{path} is {text!r}; write it as 2027-03-01T09:00.", field=path) from error


def _days(value: object, path: str) -> frozenset[date]:
    found = set()
    for index, text in enumerate(_READ.texts(value, path)):
        try:
            found.add(date.fromisoformat(text))
        except ValueError as error:
            raise PlanError(
                f"{path}.{index} is {text!r}; write a day as 2027-03-01.", field=f"{path}.{index}"
            ) from error
    return frozenset(found)


def _clock(value: object, path: str) -> float:
    text = _READ.text(value, path)
    if not _CLOCK.fullmatch(text):
        raise PlanError(f"{path} is {text!r}; write a time of day as 09:00.", field=path)
    hours, minutes = text.split(":")
    return int(hours) * 60.0 + int(minutes)
