"""What was weighed is kept: sent again byte by byte while its data stands, made anew when anything changes that it came from."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest
from django.utils import timezone
from rest_framework.test import APIClient

from nublet.web.designs.models import TrialPanel
from nublet.web.evidence import kept, selectors
from nublet.web.evidence.kept import kept_or_made, stamp_of
from nublet.web.evidence.models import KeptResult
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial
from tests.web.conftest import grade_spot

Client = Callable[[Person | None], APIClient]


def fresh(trial: Trial) -> Trial:
    return Trial.objects.get(pk=trial.pk)


def test_the_same_stamp_gives_the_same_bytes_and_nothing_is_weighed_again(
    client_of: Client, owner: Person, graded: Trial, monkeypatch: pytest.MonkeyPatch
) -> None:
    keeper = client_of(owner)
    first = keeper.get(f"/api/trials/{graded.pk}/evidence")
    monkeypatch.setattr(selectors, "weigh_evidence", lambda *_, **__: pytest.fail("weighed again"))
    second = keeper.get(f"/api/trials/{graded.pk}/evidence")
    assert second.content == first.content
    assert second["ETag"] == first["ETag"]
    known = keeper.get(f"/api/trials/{graded.pk}/evidence", headers={"If-None-Match": first["ETag"]})
    assert (known.status_code, known.content) == (304, b"")


def test_made_anew_it_is_the_same_bytes(client_of: Client, owner: Person, graded: Trial) -> None:
    keeper = client_of(owner)
    for page in ("evidence", "ranking?use=dining-table"):
        first = keeper.get(f"/api/trials/{graded.pk}/{page}").content
        KeptResult.objects.all().delete()
        assert keeper.get(f"/api/trials/{graded.pk}/{page}").content == first


def test_each_change_that_evidence_could_tell_of_makes_another_stamp(
    owner: Person, judge: Person, graded: Trial
) -> None:
    stamps = [stamp_of(graded)]

    def changed() -> bool:
        stamps.append(stamp_of(fresh(graded)))
        return stamps[-1] not in stamps[:-1]

    panel = TrialPanel.objects.filter(trial=graded)[0]
    assert stamp_of(fresh(graded)) == stamps[0]
    grade_spot(judge, graded, panel.code, "wine-1h", 2)
    assert changed()
    graded.judges.add(owner)
    assert changed()
    build_up = graded.build_ups.all()[0]
    build_up.name = "Another name"
    build_up.save()
    assert changed()
    panel.spoiled_at = timezone.now()
    panel.save()
    assert changed()
    graded.times_on_paper = not graded.times_on_paper
    graded.save()
    assert changed()


def test_a_changed_grade_is_in_the_next_answer(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    before = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    panel = TrialPanel.objects.filter(trial=graded)[0]
    grade_spot(judge, graded, panel.code, "wine-1h", 3)
    after = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    assert after["tests"] != before["tests"]
    assert KeptResult.objects.filter(trial=graded).count() == 1


def test_the_methods_are_part_of_the_stamp(graded: Trial, monkeypatch: pytest.MonkeyPatch) -> None:
    one = stamp_of(graded)
    monkeypatch.setattr(kept, "methods", lambda: "another")
    assert stamp_of(graded) != one


def test_what_is_refused_is_not_kept(client_of: Client, owner: Person, graded: Trial) -> None:
    refused = client_of(owner).get(f"/api/trials/{graded.pk}/evidence", {"response": "nothing"})
    assert refused.status_code == 400
    assert not KeptResult.objects.exists()


def test_only_so_many_are_kept(graded: Trial, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept, "MOST_KEPT", 3)
    for n in range(5):
        body, _ = kept_or_made(graded, {"n": n}, lambda n=n: json.dumps(n).encode())  # type: ignore[misc]
        assert body == str(n).encode()
    assert KeptResult.objects.filter(trial=graded).count() == 3
    calls: list[int] = []
    kept_or_made(graded, {"n": 4}, lambda: calls.append(1) or b"")  # type: ignore[func-returns-value]
    assert calls == []


def test_a_kept_answer_needs_a_fixed_number_of_queries(graded: Trial, django_assert_num_queries: Any) -> None:
    kept_or_made(graded, {"q": 1}, lambda: b"{}")
    with django_assert_num_queries(12):
        kept_or_made(graded, {"q": 1}, lambda: b"")
