"""A plan's specification to plain values and back."""

from __future__ import annotations

import json
from typing import Any

from hypothesis import HealthCheck, given, settings

from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain
from tests.core.plan_specs import large_spec, plan_specs


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(plan_specs())
def test_a_specification_comes_back_as_it_was(plain: dict[str, Any]) -> None:
    spec = plan_spec_from_plain(plain)
    assert plan_spec_from_plain(json.loads(json.dumps(plan_spec_to_plain(spec)))) == spec


def test_what_is_left_out_is_written_as_it_is_meant() -> None:
    plain = plan_spec_to_plain(plan_spec_from_plain(large_spec(n_groups=1, people=2)))
    assert [person["name"] for person in plain["people"]] == ["person 1", "person 2"]
    assert plain["people"][0]["hours"][0] == {
        "days": ["mon", "tue", "wed", "thu", "fri"],
        "from": "09:00",
        "to": "17:30",
    }
    group = plain["groups"][0]
    assert group["panels"][:2] == ["A-1", "A-2"]
    assert group["steps"][0]["recoat_after_h"] == [24, 72]
    # What an exposure must be kept from is told by its name, and stated from then on.
    natures = {each["id"]: each["natures"] for each in group["exposures"]}
    assert natures["vinegar-10m"] == ["acid"]
    assert natures["ethanol-1h"] == ["flammable"]
    assert natures["water-6h"] == []
