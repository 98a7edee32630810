"""How fast the shop's hands work: as it has set, as is usual, and as its own log shows."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from django.db.models import Q

from nublet.core.errors import PlanError
from nublet.core.materials.doings import PACE_OF
from nublet.core.materials.paces import HANDLING_MIN, PACE_LIMITS, PACES, PaceKind
from nublet.web.bench.models import BenchPlan, PanelWork, PlanState, ShopBench

# The latest of the log: a hand gets quicker.
_MOST_WORKS = 600
_LEAST_PANELS = 3


@dataclass(frozen=True, kw_only=True)
class ShopPace:
    """One kind of work: minutes a square metre as the shop has set it (``None`` for the usual) and as usual.

    ``logged_min`` is what the log says that a panel takes, on ``n_panels`` panels, and ``planned_min`` what was planned for them;
    ``logged_minutes_per_m2`` what to set to plan as it was logged. ``None`` while too little is written down.
    """

    kind: PaceKind
    words: str
    own: float | None
    usual: float
    n_panels: int
    logged_min: float | None
    planned_min: float | None
    logged_minutes_per_m2: float | None


def shop_paces(bench: ShopBench) -> tuple[ShopPace, ...]:
    """Every kind of work with what the log shows. Two queries."""
    logged = _logged(bench)
    found = []
    for kind, pace in PACES.items():
        now = bench.paces.get(kind, pace.minutes_per_m2)
        pairs = logged.get(kind, [])
        is_known = len(pairs) >= _LEAST_PANELS
        took = sum(minutes for minutes, _, _ in pairs)
        # Handling is no matter of the area: what is left of either is.
        spread = sum(minutes - HANDLING_MIN for minutes, _, _ in pairs)
        planned = sum((wanted - HANDLING_MIN) * now / then for _, wanted, then in pairs)
        low, high = PACE_LIMITS
        found.append(
            ShopPace(
                kind=kind,
                words=pace.words,
                own=bench.paces.get(kind),
                usual=pace.minutes_per_m2,
                n_panels=len(pairs),
                logged_min=round(took / len(pairs), 2) if is_known else None,
                planned_min=round(planned / len(pairs) + HANDLING_MIN, 2) if is_known else None,
                logged_minutes_per_m2=round(min(high, max(low, now * max(0.0, spread) / planned)), 2)
                if is_known and planned > 0
                else None,
            )
        )
    return tuple(found)


def check_paces(paces: Mapping[str, object]) -> dict[str, float]:
    """The shop's own minutes a square metre; ``None`` goes back to the usual. Raises ``PlanError``."""
    low, high = PACE_LIMITS
    found = {}
    for kind, minutes in paces.items():
        if kind not in PACES:
            raise PlanError(
                f"{kind!r} is no work that has a pace. Choose one of: {', '.join(PACES)}.", field="paces"
            )
        if minutes is None:
            continue
        if not isinstance(minutes, int | float) or not low <= minutes <= high:
            raise PlanError(
                f"{PACES[kind].words}: {minutes} min a square metre cannot be. Give {low:g} to {high:g}.",
                field=f"paces.{kind}",
            )
        found[str(kind)] = float(minutes)
    return found


def _logged(bench: ShopBench) -> dict[PaceKind, list[tuple[float, float, float]]]:
    """Of each kind the panels in the log: minutes taken, minutes planned, and the pace that they were planned by."""
    works = list(
        PanelWork.objects.filter(
            Q(kind__in=["wipe", "abrade"]) | Q(kind="work"),
            panel__trial__shop=bench.shop_id,
            begun_at__isnull=False,
            ended_at__isnull=False,
            skipped_because="",
        )
        .order_by("-pk")
        .values_list("panel__trial", "panel__code", "item", "kind", "begun_at", "ended_at")[:_MOST_WORKS]
    )
    plans = {
        plan.trial_id: plan
        for plan in BenchPlan.objects.filter(
            trial__in={row[0] for row in works}, state=PlanState.DONE
        ).order_by("pk")
    }
    wanted = {
        (trial, panel, step["id"]): step
        for trial, plan in plans.items()
        for group in plan.spec["groups"]
        for panel in group["panels"]
        for step in group.get("steps", [])
    }
    found: dict[PaceKind, list[tuple[float, float, float]]] = defaultdict(list)
    for trial, code, item, kind, begun, ended in works:
        step = wanted.get((trial, code, item))
        if step is None or begun is None or ended is None or ended <= begun:
            continue
        minutes = (ended - begun).total_seconds() / 60
        pace: PaceKind | None = (
            "wipe" if kind == "wipe" else "abrade" if kind == "abrade" else PACE_OF.get(item)
        )
        planned = (
            step["wipe"]["minutes_per_panel"]
            if kind == "wipe" and step.get("wipe")
            else step["abrade_minutes_per_panel"]
            if kind == "abrade"
            else step["minutes_per_panel"]
        )
        if pace is not None and planned > HANDLING_MIN:
            own = plans[trial].paces.get(pace, PACES[pace].minutes_per_m2)
            found[pace].append((minutes, planned, own))
    return found
