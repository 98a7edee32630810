"""Made-up specifications of plans, as JSON."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

WEEK = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
AGENTS = ["coffee", "milk", "vinegar", "red-wine", "ethanol", "bleach", "ammonia", "water"]


def _window(low: st.SearchStrategy[float], width: st.SearchStrategy[float]) -> st.SearchStrategy[list[float]]:
    return st.builds(lambda a, b: [a, round(a + b, 3)], low, width)


minutes = st.sampled_from([0.25, 0.3, 0.5, 1, 1.5, 2, 2.75])


def hours() -> st.SearchStrategy[list[dict[str, Any]]]:
    span = st.sampled_from(
        [
            ("09:00", "17:30"),
            ("08:00", "12:00"),
            ("13:00", "18:15"),
            ("18:30", "21:00"),
            ("07:00", "19:00"),
            ("22:00", "02:00"),
        ]
    )
    days = st.lists(st.sampled_from(WEEK), min_size=2, max_size=7, unique=True)
    return st.lists(
        st.builds(lambda s, d: {"days": d, "from": s[0], "to": s[1]}, span, days), min_size=1, max_size=2
    )


def steps(name: str) -> st.SearchStrategy[list[dict[str, Any]]]:
    wipe = st.fixed_dictionaries(
        {
            "after_min": _window(st.sampled_from([0, 3, 15, 30]), st.sampled_from([2, 5, 12, 25, 600])),
            "minutes_per_panel": minutes,
        }
    )
    step = st.fixed_dictionaries(
        {
            "minutes_per_panel": minutes,
            "wipe": st.none() | wipe,
            "recoat_after_h": st.none()
            | _window(st.sampled_from([0.1, 1, 2, 6, 12, 24]), st.sampled_from([2, 24, 48, 200])),
            "pot_life_min": st.none() | st.sampled_from([5, 30, 240]),
        },
        optional={
            "product": st.sampled_from(["oil", "varnish"]),
            "solvent_open": st.booleans(),
            "abrade_minutes_per_panel": st.sampled_from([0, 0.5, 2]),
            "weigh_minutes_per_panel": st.sampled_from([0, 0.25]),
        },
    )
    # Sanding before the coats, buffing after them: work with a wait and no more.
    worked = st.fixed_dictionaries(
        {
            "kind": st.just("work"),
            "minutes_per_panel": minutes,
            "recoat_after_h": st.none() | st.sampled_from([[0, None], [4, None], [0, 24]]),
        }
    )
    return st.lists(step | worked, max_size=3).map(
        lambda found: [s | {"id": f"{name}{i + 1}"} for i, s in enumerate(found)]
    )


def exposures(*, with_acts: bool = True) -> st.SearchStrategy[list[dict[str, Any]]]:
    look = st.fixed_dictionaries(
        {
            "after_min": st.sampled_from([0, 5, 20, 60, 1440, 10_080]),
            "tolerance_min": st.sampled_from([1, 5, 30, 120, 720]),
            "minutes_per_panel": minutes,
        }
    )
    exposure = st.fixed_dictionaries(
        {
            "lay_minutes_per_panel": minutes,
            "duration_min": st.sampled_from([0.2, 2, 10, 20, 60, 240, 960, 1440]),
            "tolerance_min": st.sampled_from([0, 0.5, 2, 15, 60]),
            "lift_minutes_per_panel": minutes,
            "heat_block": st.sampled_from([False, False, False, True]),
            "looks": st.lists(look, max_size=2, unique_by=lambda found: found["after_min"]),
        }
    )
    named = st.tuples(st.sampled_from(AGENTS), exposure | acted() if with_acts else exposure)
    return st.lists(named, max_size=3, unique_by=lambda pair: pair[0]).map(
        lambda found: [e | {"id": f"{agent}-{i}"} for i, (agent, e) in enumerate(found)]
    )


@st.composite
def acted(draw: st.DrawFn) -> dict[str, Any]:
    """An exposure of acts of its own: a few unlike ones, or many turns of one; looks after the last, and after others."""
    window = st.tuples(
        st.sampled_from([0, 0, 5, 60, 600]), st.none() | st.sampled_from([1, 5, 30, 480, 2880])
    ).map(lambda pair: [pair[0], None if pair[1] is None else pair[0] + pair[1]])
    n = draw(st.sampled_from([1, 2, 3, 4, 4, 12]))
    acts = [
        {
            "id": f"act{i}", "minutes_per_panel": draw(minutes), "then_min": draw(window),
            "occupies": draw(st.sampled_from([None, None, None, "iron", "heat_block"])), "hot": draw(st.sampled_from([False, False, True])),
        }
        for i in range(n)
    ]  # fmt: skip
    acts[-1]["then_min"] = None
    looks = [
        {
            "after_min": draw(st.sampled_from([0, 20, 1440])), "tolerance_min": draw(st.sampled_from([5, 60, 720])),
            "minutes_per_panel": draw(minutes), **({"after": f"act{i}"} if i < n - 1 else {}),
        }
        for i in range(n)
        if draw(st.booleans())
    ]  # fmt: skip
    return {"acts": acts, "looks": looks[:3]}


@st.composite
def plan_specs(draw: st.DrawFn, *, with_acts: bool = True) -> dict[str, Any]:
    """Specifications of up to three groups; many of them cannot be done."""
    groups = []
    for name in "ABC"[: draw(st.integers(1, 3))]:
        group = {
            "id": name,
            "panels": draw(st.integers(1, 5)),
            "steps": draw(steps(name)),
            "cure_h": draw(st.sampled_from([0, 5, 24, 168])),
            "exposures": draw(exposures(with_acts=with_acts)),
        }
        if draw(st.booleans()):
            group["condition_h"] = draw(st.sampled_from([0, 24, 100]))
        if group["steps"] or group["exposures"]:
            groups.append(group)
    if not groups:
        groups = [{"id": "A", "panels": 2, "steps": [{"id": "A1", "minutes_per_panel": 1}]}]
    spec: dict[str, Any] = {
        "start": draw(st.sampled_from(["2027-03-01T09:00", "2027-03-06T12:30", "2027-03-03T23:10"])),
        "hours": draw(hours()),
        "people": draw(st.integers(1, 3)),
        "heat_blocks": draw(st.integers(1, 2)),
        "groups": groups,
    }
    if draw(st.booleans()):
        spec["cleanup_min"] = draw(st.sampled_from([5, 20]))
        spec["airing_min"] = draw(st.sampled_from([0, 30, 600]))
    if draw(st.booleans()):
        spec["rack_places"] = draw(st.integers(1, 6))
    if draw(st.booleans()):
        spec["days_off"] = ["2027-03-02", "2027-03-08"]
    return together(spec) if draw(st.booleans()) else spec


def together(spec: dict[str, Any]) -> dict[str, Any]:
    """The same exposed together: a group's first panel is of the first board, its second of the second, and so on."""
    groups = [
        group | {"boards": [f"board {i + 1}" for i in range(group["panels"])]} for group in spec["groups"]
    ]
    return spec | {"groups": groups, "together": True}


def large_spec(
    *, n_hot: int = 0, people: int = 1, n_groups: int = 12, n_panels: int = 8, n_exposures: int = 12
) -> dict[str, Any]:
    """12 groups of 8 panels, 3 coats each, 12 exposures with 2 looks: the planner's large case."""
    liquids = [
        ("water-6h", 360, 5), ("coffee-1h", 60, 2), ("wine-1h", 60, 2), ("ethanol-1h", 60, 2), ("oil-16h", 960, 15), ("vinegar-10m", 10, 1),
        ("tea-2h", 120, 3), ("water-24h", 1440, 20), ("cola-1h", 60, 2), ("mustard-6h", 360, 5), ("milk-1h", 60, 2), ("soy-1h", 60, 2),
    ]  # fmt: skip
    hot = [("wet-heat-70", 20, 2), ("dry-heat-100", 20, 2)][:n_hot]
    looks = [
        {"after_min": 20, "tolerance_min": 5, "minutes_per_panel": 0.3},
        {"after_min": 1440, "tolerance_min": 60, "minutes_per_panel": 0.3},
    ]
    return {
        "start": "2027-03-01T09:00",
        "hours": [{"days": WEEK[:5], "from": "09:00", "to": "17:30"}],
        "people": people,
        "heat_blocks": 1,
        "groups": [
            {
                "id": name,
                "panels": n_panels,
                "steps": [
                    {
                        "id": f"{name}{coat}", "minutes_per_panel": 1.5, "pot_life_min": 240, "recoat_after_h": [24, 72],
                        "wipe": {"after_min": [3, 15], "minutes_per_panel": 1},
                    }
                    for coat in (1, 2, 3)
                ],
                "cure_h": 168,
                "exposures": [
                    {
                        "id": exposure, "lay_minutes_per_panel": 0.3, "duration_min": minutes, "tolerance_min": tolerance,
                        "lift_minutes_per_panel": 0.5, "heat_block": "heat" in exposure, "looks": looks,
                    }
                    for exposure, minutes, tolerance in [*liquids[: n_exposures - n_hot], *hot]
                ],
            }
            for name in "ABCDEFGHIJKLMNOP"[:n_groups]
        ],
    }  # fmt: skip
