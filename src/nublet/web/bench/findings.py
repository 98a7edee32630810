"""What the log shows to have missed its window, kept as the trial's deviations."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.bench.findings import Finding
from nublet.core.bench.judging import judge, judge_block, judge_climate, judge_mix, say_duration
from nublet.core.materials.panel_coats import panel_coats
from nublet.core.planning.trial_exposures import BEFORE_ACT, SET_OUT
from nublet.core.quantities import Prose, say
from nublet.web.bench import clock
from nublet.web.bench.adapters import BenchLog, log_of
from nublet.web.bench.models import BenchPlan, PanelWork
from nublet.web.build_ups.adapters import sections_by_build_up, to_recipes
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.models import DeviationKind, TrialDeviation, TrialPanel
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_FOUND = "Found from the bench log."


@dataclass(frozen=True, kw_only=True)
class Missed:
    """One thing that went otherwise, of one panel: what it is known by, how it is judged, and in words.

    ``says`` names the panel and the coat by its number, and no product. ``exposure`` is the test that it is about, empty for a coat.
    """

    panel: str
    key: str
    judgement: str
    says: Prose
    reason: str = _FOUND
    exposure: str = ""
    spoils_exposure: str = ""
    spoils_look_min: float | None = None


def find_missed(log: BenchLog, trial: Trial, codes: Iterable[str]) -> list[Missed]:
    """What the log shows of some panels: missed windows, work given up, cold or damp air, spent mixes. Three queries."""
    wanted = set(codes)
    spec = replace(
        log.spec,
        groups=tuple(group for group in log.spec.groups if wanted & set(group.panels)) or log.spec.groups,
    )
    found = [
        Missed(
            panel=each.panel,
            key=_key(each),
            judgement=each.judgement,
            says=each.says,
            spoils_exposure=each.item if each.judgement == "spoiled" and not each.whole_panel else "",
            spoils_look_min=each.look_after_min,
            exposure="" if each.whole_panel else each.item,
        )
        for each in judge(spec, log.done(), closed=log.closed)
        if each.panel in wanted
    ]
    limits = _climate_limits(trial)
    blocks = {
        test.id: test.temperature_c
        for test in protocol_of(trial).tests
        if test.occupies & {"heat_block", "iron"} and test.temperature_c is not None
    }
    for row in log.works:
        if row.panel.code in wanted:
            found += _of_row(row, limits.get((row.panel.build_up_id, row.item), (None, None)), blocks)
    return found


def keep_findings(actor: Person, trial: Trial, plan: BenchPlan, codes: Sequence[str]) -> None:
    """Bring the deviations of some panels in line with the log; call it inside the change's transaction.

    What no longer holds is withdrawn, not deleted, and comes back when it holds again.
    """
    missed = {
        (each.panel, each.key): each
        for each in find_missed(log_of(plan), trial, codes)
        if each.judgement != "usable"
    }
    rows = {
        (row.panel.code, row.found_key): row
        for row in TrialDeviation.objects.filter(
            trial=trial, panel__code__in=codes, found_key__isnull=False
        ).select_related("panel")
        if row.panel is not None
    }
    panels = {row.code: row for row in TrialPanel.objects.filter(trial=trial, code__in=codes)}
    for known, row in rows.items():
        now_holds = missed.get((known[0], known[1] or ""))
        if now_holds is None and row.withdrawn_at is None:
            row.withdrawn_at = clock.now()
            row.save()
            record(actor, "withdraw_deviation", trial, says=row.says)
        elif now_holds is not None and (
            row.withdrawn_at is not None or row.says != now_holds.says or row.judgement != now_holds.judgement
        ):
            row.withdrawn_at, row.says, row.reason = None, now_holds.says, now_holds.reason
            row.judgement = now_holds.judgement
            row.spoils_exposure, row.spoils_look_min = now_holds.spoils_exposure, now_holds.spoils_look_min
            row.save()
    for (panel, key), each in missed.items():
        if (panel, key) not in rows:
            TrialDeviation.objects.create(
                trial=trial,
                kind=DeviationKind.WINDOW_MISSED,
                panel=panels[panel],
                says=each.says,
                reason=each.reason,
                recorded_by=actor,
                found_key=key,
                judgement=each.judgement,
                spoils_exposure=each.spoils_exposure,
                spoils_look_min=each.spoils_look_min,
            )
            record(actor, DeviationKind.WINDOW_MISSED, trial, says=each.says)


def _key(finding: Finding) -> str:
    look = "" if finding.look_after_min is None else f" {finding.look_after_min:g}"
    # As it was before there were acts where there is none: what is kept goes by it.
    act = f" {finding.act}" if finding.act else ""
    return f"{finding.kind} {finding.item}{look}{act}"


def _of_row(
    row: PanelWork, limits: tuple[float | None, float | None], blocks: Mapping[str, float]
) -> list[Missed]:
    code = row.panel.code
    found: list[Missed] = []
    if row.is_even:
        return found
    if row.skipped_because and row.kind != "weigh":
        look = f" {say_duration(60 * row.look_after_min)} after lifting" if row.kind == "look" else ""
        is_other_test = row.kind == "act" and row.act not in (SET_OUT, BEFORE_ACT)
        found.append(
            Missed(
                panel=code,
                key=f"skipped {row.kind} {row.item} {row.look_after_min:g}{f' {row.act}' if row.act else ''}",
                judgement="spoiled" if is_other_test else "deviation",
                says=f"{code}, {row.item}: {row.act or row.kind}{look} was skipped.",
                reason=row.skipped_because,
                exposure=row.item if row.kind in ("lay", "lift", "act", "look") else "",
                # Without one of its acts it is another test.
                spoils_exposure=row.item if is_other_test else "",
            )
        )
        return found
    if row.block_c is not None and row.item in blocks:
        says = judge_block(row.block_c, blocks[row.item])
        if says is not None:
            found.append(
                Missed(
                    panel=code,
                    key=f"block-off {row.item}",
                    judgement="deviation",
                    says=say("{}, {}: {}", code, row.item, says),
                    exposure=row.item,
                )
            )
    if row.kind != "coat" or row.begun_at is None:
        return found
    wrong = judge_climate(row.temperature_c, row.humidity_pct, coldest_c=limits[0], dampest_pct=limits[1])
    if row.mix is not None:
        age_min = (row.begun_at - row.mix.made_at).total_seconds() / 60
        wrong += judge_mix(age_min, row.mix.pot_life_min)
    return [
        Missed(
            panel=code,
            key=f"{kind} {row.item}",
            judgement="deviation",
            says=say("{}, {}: {}", code, row.item, says),
        )
        for kind, says in wrong
    ]


def _climate_limits(trial: Trial) -> dict[tuple[int, str], tuple[float | None, float | None]]:
    """Coldest °C and dampest % by the labels, by build-up and coat."""
    rows = list(TrialBuildUp.objects.filter(trial=trial).select_related("version"))
    limits = {}
    sections = sections_by_build_up(trial, rows)
    for pk, recipe in to_recipes(rows, trial.shop_id).items():
        for coat in panel_coats(recipe, sections[pk]):
            label = coat.of.product.label
            limits[pk, coat.id] = (label.temperature_from_c, label.humidity_to_pct)
    return limits
