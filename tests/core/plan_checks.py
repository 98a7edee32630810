"""A checker of plans that shares nothing with the planner: it reads the two JSON documents and knows the rules of the bench.

:func:`faults_of` answers with a sentence for each rule that is broken.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from typing import Any

from nublet.core.protocols.agents import natures_of

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
# Times are whole seconds: what the plan shows may be off by the rounding of one.
SECOND = 1.0
# A step ends with its wiping, with its coat, or with other work such as sanding.
STEP_ENDS = ("work", "coat", "wipe")


class Done:
    """One piece of work on one panel, in seconds since the start."""

    def __init__(self, spec: dict[str, Any], operation: dict[str, Any], panel: dict[str, Any]) -> None:
        start = datetime.fromisoformat(spec["start"])
        self.group, self.item, self.kind = operation["group"], operation["step"], operation["kind"]
        self.person, self.panel = operation["person"], panel["panel"]
        # Of an act its id, of a look its time, and the act that it comes after where that is named.
        look, act = operation["look_after_min"], operation.get("act", "")
        self.look = look if not act else act if look is None else (act, look)
        self.start = (datetime.fromisoformat(panel["start"]) - start).total_seconds()
        self.end = (datetime.fromisoformat(panel["end"]) - start).total_seconds()

    def __str__(self) -> str:
        return f"{self.kind} {self.item} {self.look or ''} on {self.panel} at {self.start / 60:.2f} min"


def faults_of(spec: dict[str, Any], plan: dict[str, Any]) -> list[str]:
    """What is wrong with a plan for a specification, both as JSON; empty when nothing is."""
    assert plan["feasible"] is True
    done = Works(Done(spec, op, panel) for op in plan["operations"] for panel in op["panels"])
    found: list[str] = []
    for check in (
        complete, in_hours, one_thing_at_a_time, in_windows, passes_from_one_batch, held_things, air_is_clean, sittings_are_safe,
        products_apart, rack_holds, boards_together,
    ):  # fmt: skip
        found += check(spec, plan, done)
    start = datetime.fromisoformat(spec["start"])
    last = max(work.end for work in done)
    if (datetime.fromisoformat(plan["end"]) - start).total_seconds() != last:
        found.append("end is not the last operation's end")
    if plan["lower_bound_end"] > plan["end"]:
        found.append("the lower bound is later than the end")
    return found


def acts_of(exposure: dict[str, Any]) -> list[dict[str, Any]]:
    """What is done in an exposure, in order; laying and lifting are two acts of their own kinds."""
    if exposure.get("acts"):
        return [{"kind": "act", "look": act["id"], **act} for act in exposure["acts"]]
    minutes, tolerance = exposure["duration_min"], exposure["tolerance_min"]
    hot = bool(exposure.get("heat_block"))
    return [
        {
            "kind": "lay", "look": None, "minutes_per_panel": exposure["lay_minutes_per_panel"],
            "then_min": [minutes - tolerance, minutes + tolerance], "occupies": "heat_block" if hot else None, "hot": hot,
        },
        {"kind": "lift", "look": None, "minutes_per_panel": exposure["lift_minutes_per_panel"]},
    ]  # fmt: skip


def look_key(look: dict[str, Any]) -> Any:
    return (look["after"], look["after_min"]) if look.get("after") else look["after_min"]


def wanted_of(group: dict[str, Any]) -> Iterator[tuple[str, str, Any, float, int]]:
    """Item, kind, look, minutes and how often, for one panel of a group."""
    for step in group.get("steps") or []:
        yield step["id"], step.get("kind", "coat"), None, step["minutes_per_panel"], 1
        if step.get("wipe"):
            yield step["id"], "wipe", None, step["wipe"]["minutes_per_panel"], 1
        if step.get("abrade_minutes_per_panel"):
            yield step["id"], "abrade", None, step["abrade_minutes_per_panel"], 1
        if step.get("weigh_minutes_per_panel"):
            yield step["id"], "weigh", None, step["weigh_minutes_per_panel"], 2
    for exposure in group.get("exposures") or []:
        for act in acts_of(exposure):
            yield exposure["id"], act["kind"], act["look"], act["minutes_per_panel"], 1
        for look in exposure.get("looks") or []:
            yield exposure["id"], "look", look_key(look), look["minutes_per_panel"], 1


def panels_of(group: dict[str, Any]) -> list[str]:
    panels = group["panels"]
    return panels if isinstance(panels, list) else [f"{group['id']}-{i + 1}" for i in range(panels)]


def complete(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    asked = set()
    for group in spec["groups"]:
        for panel in panels_of(group):
            for item, kind, look, minutes, times in wanted_of(group):
                own = only(done, group["id"], panel, item, kind, look)
                asked.add((group["id"], panel, item, kind, look))
                if len(own) != times:
                    yield f"{kind} {item} {look} on {panel} is planned {len(own)} times"
                for work in own:
                    if not -1e-6 <= work.end - work.start - minutes * 60 < SECOND:
                        yield f"{work} takes {work.end - work.start} s instead of {minutes * 60}"
    yield from (f"{works} were not asked for" for key, works in done.by.items() if works and key not in asked)


def people_of(spec: dict[str, Any]) -> list[tuple[list[dict[str, Any]], set[str]]]:
    people = spec.get("people", 1)
    off = set(spec.get("days_off", []))
    if isinstance(people, int):
        return [(spec["hours"], off)] * people
    return [(p.get("hours", spec.get("hours")), off | set(p.get("days_off", []))) for p in people]


def open_minutes(spec: dict[str, Any], person: int, day: date) -> list[tuple[float, float]]:
    """Spans of one person's day, in minutes after its midnight, the end of one that began the day before included."""
    hours, off = people_of(spec)[person]
    spans = []
    for shift in (-1, 0):
        that = day + timedelta(days=shift)
        for span in hours:
            if DAYS[that.weekday()] in span["days"] and that.isoformat() not in off:
                begin, end = (int(t[:2]) * 60 + int(t[3:]) for t in (span["from"], span["to"]))
                spans.append((begin + shift * 1440, end + shift * 1440 + (1440 if end <= begin else 0)))
    spans.sort()
    joined: list[tuple[float, float]] = []
    for begin, end in spans:
        if joined and begin <= joined[-1][1]:
            joined[-1] = (joined[-1][0], max(end, joined[-1][1]))
        else:
            joined.append((begin, end))
    return joined


def in_hours(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    start = datetime.fromisoformat(spec["start"])
    for work in done:
        if work.start < 0:
            yield f"{work} is before the start"
        if not 1 <= work.person <= len(people_of(spec)):
            yield f"{work} is by nobody"
            continue
        begins = start + timedelta(seconds=work.start)
        midnight = datetime.combine(begins.date(), time())
        at = (begins - midnight).total_seconds() / 60
        until = at + (work.end - work.start) / 60
        spans = open_minutes(spec, work.person - 1, begins.date())
        after = open_minutes(spec, work.person - 1, begins.date() + timedelta(days=1))
        spans = [
            (a, max(b, *[e + 1440 for s, e in after if s + 1440 <= b], b)) for a, b in spans
        ]  # a span that goes on after midnight
        if not any(a - 1e-9 <= at and until <= b + 1e-9 for a, b in spans):
            yield f"{work} is outside hours ({begins})"


def one_thing_at_a_time(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    for key, what in (
        (lambda w: w.person, "hands"),
        (lambda w: (w.group, w.panel), "panel"),
    ):
        by_key: dict[Any, list[Done]] = {}
        for work in done:
            by_key.setdefault(key(work), []).append(work)
        for works in by_key.values():
            works.sort(key=lambda w: w.start)
            for one, other in pairwise(works):
                if other.start < one.end:
                    yield f"one {what} at two things: {one}; {other}"


class Works(list[Done]):
    """Pieces of work, to be found by what they are."""

    def __init__(self, works: Iterable[Done]) -> None:
        super().__init__(works)
        self.by: dict[tuple[Any, ...], list[Done]] = defaultdict(list)
        for work in sorted(self, key=lambda w: w.start):
            self.by[work.group, work.panel, work.item, work.kind, work.look].append(work)


def only(done: Works, group: str, panel: str, item: str, kind: str, look: Any = None) -> list[Done]:
    return done.by[group, panel, item, kind, look]


def in_windows(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    parts: dict[tuple[str, str], list[Done]] = defaultdict(list)
    for work in done:
        parts[work.group, work.panel].append(work)
    by_panel = {key: Works(own) for key, own in parts.items()}
    for group in spec["groups"]:
        for panel in panels_of(group):
            own = by_panel[group["id"], panel]
            yield from _coat_windows(group, panel, own)
            yield from _exposure_windows(group, panel, own)


def _coat_windows(group: dict[str, Any], panel: str, own: Works) -> Iterator[str]:
    gid = group["id"]
    before: dict[str, Any] | None = None
    ended = before_weighed = 0.0
    for step in group.get("steps") or []:
        coat = only(own, gid, panel, step["id"], step.get("kind", "coat"))[0]
        wiping = only(own, gid, panel, step["id"], "wipe")
        around = [w for w in own if w.item == step["id"] and w.kind in ("abrade", "weigh")]
        first = min([coat, *around], key=lambda w: w.start)
        abraded = [w for w in around if w.kind == "abrade"]
        weighed = sorted((w for w in around if w.kind == "weigh"), key=lambda w: w.start)
        if abraded and abraded[0].end > coat.start:
            yield f"{abraded[0]} is after its coat"
        last = wiping[0] if wiping else coat
        if len(weighed) == 2 and not (weighed[0].end <= coat.start and last.end <= weighed[1].start):
            yield f"{weighed[0]} and the other weighing are not around the coat"
        if before_weighed > first.start:
            yield f"{first} comes before the last coat was weighed"
        before_weighed = weighed[1].end if len(weighed) == 2 else 0
        if before is None:
            if first.start < group.get("condition_h", 0) * 3600:
                yield f"{first} is before the panel has rested"
        else:
            low, high = before.get("recoat_after_h") or [0, None]
            yield from _within(first, ended, low * 3600, None)
            yield from _within(coat, ended, 0, None if high is None else high * 3600)
        if step.get("wipe"):
            low, high = step["wipe"]["after_min"]
            yield from _within(wiping[0], coat.end, low * 60, high * 60)
        ended, before = last.end, step


def _exposure_windows(group: dict[str, Any], panel: str, own: Works) -> Iterator[str]:
    gid = group["id"]
    steps = group.get("steps") or []
    cured = max((w.end for w in own if w.kind in STEP_ENDS), default=None)
    for exposure in group.get("exposures") or []:
        acts = acts_of(exposure)
        works = [only(own, gid, panel, exposure["id"], act["kind"], act["look"])[0] for act in acts]
        if steps and cured is not None:
            yield from _within(works[0], cured, group.get("cure_h", 0) * 3600, None)
        for act, work, following in zip(acts, works, works[1:], strict=False):
            least, most = act["then_min"]
            yield from _within(following, work.end, least * 60, None if most is None else most * 60)
        ended = {act["look"]: work.end for act, work in zip(acts, works, strict=True)}
        order = [act["look"] for act in acts]
        for look in exposure.get("looks") or []:
            work = only(own, gid, panel, exposure["id"], "look", look_key(look))[0]
            low, high = (look["after_min"] + sign * look["tolerance_min"] for sign in (-1, 1))
            after = look.get("after")
            yield from _within(work, ended[after] if after else works[-1].end, low * 60, high * 60)
            if after and after != order[-1] and work.end > works[order.index(after) + 1].start:
                yield f"{work} comes when the act after {after} has begun"


def _within(work: Done, since: float, low: float, high: float | None) -> Iterator[str]:
    waited = work.start - since
    if waited < max(0, low) - 1e-6 or (high is not None and waited > high + 1e-6):
        yield f"{work} comes {waited / 60:.2f} min after, not {low / 60:.2f} to {high if high is None else high / 60}"


def passes_from_one_batch(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    lives = {
        (g["id"], s["id"]): s["pot_life_min"]
        for g in spec["groups"]
        for s in g.get("steps") or []
        if s.get("pot_life_min")
    }
    for operation in plan["operations"]:
        life = lives.get((operation["group"], operation["step"]))
        if operation["kind"] == "coat" and life is not None:
            works = [Done(spec, operation, panel) for panel in operation["panels"]]
            if max(w.end for w in works) - min(w.start for w in works) > life * 60 + len(works) * SECOND:
                yield f"{works[0]} and its pass outlast the pot life"


def lying(spec: dict[str, Any], done: Works) -> Iterator[tuple[dict[str, Any], set[str], list[Done]]]:
    """Exposure, natures, and the work of its acts in order, of each panel."""
    for group in spec["groups"]:
        for exposure in group.get("exposures") or []:
            acts = acts_of(exposure)
            by_name = set(natures_of(exposure["id"].replace("-", " ")))
            # Acts of its own say for themselves when something is hot.
            natures = set(exposure.get("natures", by_name - {"hot"} if exposure.get("acts") else by_name))
            for panel in panels_of(group):
                yield (
                    exposure,
                    natures,
                    [
                        only(done, group["id"], panel, exposure["id"], act["kind"], act["look"])[0]
                        for act in acts
                    ],
                )


def stretches(spec: dict[str, Any], done: Works, asked: Any) -> Iterator[tuple[float, float, Done]]:
    """From an act's start to the next act's end, or to its own of the last, of each act for which something holds."""
    for exposure, _, works in lying(spec, done):
        for number, act in enumerate(acts_of(exposure)):
            if asked(act):
                yield works[number].start, works[min(number + 1, len(works) - 1)].end, works[number]


def held_things(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    for what, have in (("heat_block", spec.get("heat_blocks", 1)), ("iron", spec.get("irons", 1))):
        by_panel: dict[tuple[str, str, str], list[tuple[float, float]]] = {}
        for a, b, work in stretches(spec, done, lambda act, what=what: act.get("occupies") == what):
            own = by_panel.setdefault((work.group, work.panel, work.item), [])
            # What one act holds and the next takes up again was in hand all the while.
            if own and own[-1][1] >= a:
                own[-1] = (own[-1][0], max(b, own[-1][1]))
            else:
                own.append((a, b))
        held = [span for spans in by_panel.values() for span in spans]
        for begin, _ in held:
            if sum(a <= begin < b for a, b in held) > have:
                yield f"more of {what} than there are at {begin / 60:.1f} min"


def air_is_clean(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    hot = list(stretches(spec, done, lambda act: act.get("hot")))
    hot += [
        (works[0].start, works[-1].end, works[0])
        for _, natures, works in lying(spec, done)
        if "hot" in natures
    ]
    vapour = [
        (works[0].start, works[-1].end, works[0])
        for exposure, natures, works in lying(spec, done)
        if "flammable" in natures
        and "hot" not in natures
        and not any(a.get("hot") for a in acts_of(exposure))
    ]
    for group in spec["groups"]:
        for step in group.get("steps") or []:
            if step.get("solvent_open", step.get("kind", "coat") == "coat"):
                for panel in panels_of(group):
                    coat = only(done, group["id"], panel, step["id"], step.get("kind", "coat"))[0]
                    wiping = only(done, group["id"], panel, step["id"], "wipe")
                    vapour.append(
                        (
                            coat.start,
                            (wiping[0] if wiping else coat).end + spec.get("airing_min", 0) * 60,
                            coat,
                        )
                    )
    for begin, end, what in hot:
        for a, b, other in vapour:
            if a < end and begin < b:
                yield f"hot {what} meets {other}"


def sittings_are_safe(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    start = datetime.fromisoformat(spec["start"])

    def sitting(work: Done) -> tuple[date, int]:
        at = start + timedelta(seconds=work.start)
        minutes = (at - datetime.combine(at.date(), time())).total_seconds() / 60
        spans: list[tuple[float, float]] = []
        for begin, end in sorted(
            s for p in range(len(people_of(spec))) for s in open_minutes(spec, p, at.date())
        ):
            if spans and begin <= spans[-1][1]:
                spans[-1] = (spans[-1][0], max(end, spans[-1][1]))
            else:
                spans.append((begin, end))
        return at.date(), next(i for i, (a, b) in enumerate(spans) if a <= minutes < b)

    spots = list(lying(spec, done))
    for _, natures, works in spots:
        lay, lift = works[0], works[-1]
        if "bleach" not in natures:
            continue
        for _, others, other_works in spots:
            other_lay, other_lift = other_works[0], other_works[-1]
            if others & {"acid", "ammonia"}:
                if lay.start < other_lift.end and other_lay.start < lift.end:
                    yield f"bleach {lay} lies with {other_lay}"
                if {sitting(lay), sitting(lift)} & {sitting(other_lay), sitting(other_lift)}:
                    yield f"bleach {lay} shares a sitting with {other_lay}"


def products_apart(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    names = {
        (g["id"], s["id"]): s.get("product", g["id"]) for g in spec["groups"] for s in g.get("steps") or []
    }
    coats = sorted((w for w in done if w.kind == "coat"), key=lambda w: (w.person, w.start))
    for one, other in pairwise(coats):
        gap_s = other.start - one.end
        is_other = one.person == other.person and names[one.group, one.item] != names[other.group, other.item]
        if is_other and gap_s < spec.get("cleanup_min", 0) * 60 - 1e-6:
            yield f"no clean-up between {one} and {other}"


def rack_holds(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    if spec.get("rack_places") is None:
        return
    wet = []
    for group in spec["groups"]:
        steps = group.get("steps") or []
        coats = [number for number, step in enumerate(steps) if step.get("kind", "coat") == "coat"]
        for number in coats:
            step = steps[number]
            dry_h = (
                min(group.get("cure_h", 0), 24)
                if number == coats[-1]
                else (step.get("recoat_after_h") or [0])[0]
            )
            for panel in panels_of(group):
                coat = only(done, group["id"], panel, step["id"], "coat")[0]
                wiping = only(done, group["id"], panel, step["id"], "wipe")
                wet.append((coat.start, (wiping[0] if wiping else coat).end + dry_h * 3600))
    for begin, _ in wet:
        if sum(a <= begin < b for a, b in wet) > spec["rack_places"]:
            yield f"more panels wet than the rack holds at {begin / 60:.1f} min"


def boards_together(spec: dict[str, Any], plan: dict[str, Any], done: Works) -> Iterator[str]:
    """A board meets an exposure in one sitting of one person, apart from other boards, once all of it has cured."""
    if not spec.get("together"):
        return
    start = datetime.fromisoformat(spec["start"])
    begun: dict[tuple[str, str], list[Done]] = defaultdict(list)
    cured: dict[str, float] = defaultdict(float)
    for group in spec["groups"]:
        for panel, board in zip(panels_of(group), group.get("boards") or [], strict=False):
            coats = [
                w.end for w in done if (w.group, w.panel) == (group["id"], panel) and w.kind in STEP_ENDS
            ]
            cured[board] = max([cured[board], *(end + group.get("cure_h", 0) * 3600 for end in coats)])
            for exposure in group.get("exposures") or []:
                first = acts_of(exposure)[0]
                begun[board, exposure["id"]] += only(
                    done, group["id"], panel, exposure["id"], first["kind"], first["look"]
                )
    for (board, item), works in begun.items():
        if len({work.person for work in works}) > 1:
            yield f"{item} on {board} is begun by several people"
        sittings = set()
        for work in works:
            at = start + timedelta(seconds=work.start)
            minutes = (at - datetime.combine(at.date(), time())).total_seconds() / 60
            spans = open_minutes(spec, work.person - 1, at.date())
            sittings.add((at.date(), next((a for a, b in spans if a <= minutes < b), None)))
            if work.start < cured[board] - 1e-6:
                yield f"{work} comes before all of {board} has cured"
        if len(sittings) > 1:
            yield f"{item} on {board} is begun in {len(sittings)} sittings"
        low, high = min(w.start for w in works), max(w.end for w in works)
        for (other, of), others in begun.items():
            if of == item and other != board:
                yield from (
                    f"{work} of {other} lies between those of {board}"
                    for work in others
                    if low < work.end and work.start < high
                )


def greatest_gap(plan: dict[str, Any]) -> float:
    """End over lower bound, both from the first operation's start."""
    start = min(datetime.fromisoformat(p["start"]) for o in plan["operations"] for p in o["panels"])
    end, bound = (datetime.fromisoformat(plan[key]) for key in ("end", "lower_bound_end"))
    return math.inf if bound <= start else (end - start) / (bound - start)
