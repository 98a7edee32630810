"""What is left of a specification once some of it was done: as chains, to be placed from now on."""

from __future__ import annotations

from bisect import insort
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import partial

from nublet.core.bench.keys import DoneBook, DoneWork
from nublet.core.bench.rest_exposures import ExposuresLeft, Lost, bounded, by_size
from nublet.core.planning.bench import Bench
from nublet.core.planning.calendar import sitting_at
from nublet.core.planning.chains import FOREVER, Block, Chain, Kind, Occupation
from nublet.core.planning.construct import Obstacle, Placement, Work, place_all, trial_horizon
from nublet.core.planning.exposures import exposure_occupations
from nublet.core.planning.passes import (
    WEIGH_WITHIN_S,
    add_step,
    coat_occupations,
    coat_pass_size,
    in_seconds,
    recoat_window,
    sizes_to_try,
    split_evenly,
    wipe_window,
)
from nublet.core.planning.spec import CoatStep, PanelGroup, PlanSpec

# Before a coat and after it.
_WEIGHINGS = 2


class Rest:
    """What is left of a specification, as chains.

    Parameters
    ----------
    spec : PlanSpec
    done : DoneBook
    now_s : int
        Seconds since the plan's start; nothing is placed earlier.
    left_out : set of (str, str)
        Panels, by group and name, for which nothing more is planned.
    lost : set of (str, str, str, str, float or None)
        Looks that cannot be had any more, by group, panel, exposure, act and time.
    n_weighed : Counter
        How often each panel was weighed for each coat, by group, panel and coat.
    """

    def __init__(
        self,
        spec: PlanSpec,
        done: DoneBook,
        now_s: int,
        left_out: set[tuple[str, str]],
        lost: Lost,
        n_weighed: Counter[tuple[str, str, str]],
    ) -> None:
        self.n_weighed = n_weighed
        self.spec, self.done, self.now_s, self.left_out = spec, done, now_s, left_out
        self.work = Work(spec=spec)
        self.empty = Bench(spec, trial_horizon(spec))
        self.exposures = ExposuresLeft(
            spec=spec,
            done=done,
            now_s=now_s,
            lost=lost,
            empty=self.empty,
            obstacles=self.work.obstacles,
        )

    def split(self) -> None:
        """Make the chains of all groups, and of the boards that are exposed together."""
        coated: list[Chain] = []
        for number, group in enumerate(self.spec.groups):
            panels = [i for i, name in enumerate(group.panels) if (group.id, name) not in self.left_out]
            coats = [
                self._add(chain)
                for part in self._alike(group, panels)
                for chain in self._coats(number, group, part)
            ]
            for chain in self._weighings(number, group, panels):
                self._add(chain)
            coated += coats
            for exposure in () if self.spec.is_together else group.exposures:
                for chain in self.exposures.of_group(number, exposure, panels, coats):
                    self._add(chain)
        for lot in range(len(self.spec.groups), len(self.spec.lots)):
            left = [
                panel
                for panel, at in enumerate(self.spec.lots[lot])
                if (self.spec.groups[at.group].id, self.spec.groups[at.group].panels[at.panel])
                not in self.left_out
            ]
            bundle = max((chain.bundle for chain in self.work.chains), default=-1) + 1
            for chain in self.exposures.of_board(lot, left, coated, bundle):
                self._add(chain)

    def open_what_cannot_be_met(self) -> list[str]:
        """Order what has a last moment, and drop that moment where no order tried meets it; say which.

        What holds a block or an iron since before now comes before all that would take it, whether it must end or not.
        """
        order = sorted(
            (c for c in self.work.chains if c.not_after_s < FOREVER or _holds(c)), key=lambda c: c.not_after_s
        )
        late: list[str] = []
        moved: set[int] = set()
        while (stuck := self._first_stuck(order)) is not None:
            chain = order.pop(stuck)
            if chain.number in moved:
                late.append(self._say_late(chain))
                # More is held than there is, or its moment has passed: it is planned all the same.
                chain = replace(chain, not_after_s=FOREVER, occupations=_without_held(chain), is_overdue=True)
            moved.add(chain.number)
            order.insert(0, chain)
        ranked = {chain.number for chain in order}
        order += [c for c in self.work.chains if c.is_overdue and not c.releases and c.number not in ranked]
        for rank, chain in enumerate(self._at_once(order)):
            self.work.chains[chain.number] = replace(chain, rank=rank)
        return late

    def _at_once(self, order: Sequence[Chain]) -> list[Chain]:
        """The same, with what is overdue held to the earliest start that those before it leave.

        Else a plan would put it off where that ends no later.
        """
        bench = Bench(self.spec, self.now_s + trial_horizon(self.spec))
        self.stand(bench)
        placement: Placement = {}
        held: list[Chain] = []
        for chain in order:
            is_placed = place_all(bench, [chain], placement)
            if chain.is_overdue and is_placed:
                chain = replace(chain, not_after_s=placement[chain.number][0].start_s)
            held.append(chain)
        return held

    def _first_stuck(self, order: Sequence[Chain]) -> int | None:
        """The place in the order of the first chain that does not fit behind those before it; ``None`` when all do."""
        bench = Bench(self.spec, self.now_s + trial_horizon(self.spec))
        self.stand(bench)
        for place, chain in enumerate(order):
            if not place_all(bench, [chain], {}):
                return place if chain.not_after_s < FOREVER or _holds(chain) else None
        return None

    def stand(self, bench: Bench) -> None:
        """Book what was done and still matters: what lay in which sitting, and what is not dry yet."""
        for group in self.spec.groups:
            for exposure in group.exposures:
                for occupation in exposure_occupations(exposure, range(len(exposure.chain)), 1):
                    for hazard in occupation.hazards & set(bench.in_sitting):
                        for act in exposure.chain:
                            for panel in group.panels:
                                work = self.done.of_act(group.id, panel, exposure.id, act)
                                if work is not None:
                                    sitting = sitting_at(bench.sittings, int(work.start_s))
                                    bench.in_sitting[hazard][sitting] = (
                                        bench.in_sitting[hazard].get(sitting, 0) + 1
                                    )
            self._stand_wet(bench, group)
            self._stand_unclean(bench, group)

    def _stand_unclean(self, bench: Bench, group: PanelGroup) -> None:
        """Hands that coated just now clean up first; the record may not say whose they were, so that all do."""
        for step in group.steps:
            for panel in group.panels:
                coat = self._of(group, panel, step.id, "coat")
                if coat is not None and coat.end_s + bench.cleanup_s > self.now_s:
                    for person in bench.people:
                        insort(person.coats, (int(coat.start_s), int(coat.end_s), step.product))

    def _stand_wet(self, bench: Bench, group: PanelGroup) -> None:
        for number, step in enumerate(group.steps):
            for panel in group.panels:
                coat = self._of(group, panel, step.id, "coat")
                end = self._of(group, panel, step.id, "wipe") if step.wipe else coat
                if coat is None or end is None:
                    continue
                for occupation in coat_occupations(self.spec, group, number, None, 0, 1):
                    until = int(end.end_s) + occupation.after_s
                    if until <= self.now_s:
                        continue
                    if occupation.rack_places:
                        bench.rack.add(int(coat.start_s), until, 1)
                    for hazard in occupation.hazards:
                        bench.air[hazard].add(int(coat.start_s), until)

    def _add(self, chain: Chain) -> Chain:
        numbered = replace(
            chain, number=len(self.work.chains), not_before_s=max(chain.not_before_s, self.now_s)
        )
        self.work.chains.append(numbered)
        return numbered

    def _of(self, group: PanelGroup, panel: str, item: str, kind: Kind, look: float = 0.0) -> DoneWork | None:
        return self.done.of(group.id, panel, item, kind, look)

    def _alike(self, group: PanelGroup, panels: Sequence[int]) -> Iterator[list[int]]:
        """Panels whose coating has come equally far, in parts of at most a pass."""
        by_state: dict[tuple[int, str], list[int]] = {}
        for panel in panels:
            state = self._state(group, group.panels[panel])
            if state is not None:
                by_state.setdefault(state, []).append(panel)
        size = coat_pass_size(self.spec, group).panels
        for alike in by_state.values():
            alike.sort(key=lambda panel: self.done.coated_s(group, group.panels[panel]))
            yield from (list(part) for part in split_evenly(alike, size))

    def _state(self, group: PanelGroup, panel: str) -> tuple[int, str] | None:
        """The step that comes next and the kind of work with which it goes on; ``None`` when all is coated."""
        last: tuple[int, str] | None = None
        if any(self.done.n_acts(group.id, panel, exposure) for exposure in group.exposures):
            # What is exposed has been prepared and coated, whether anybody wrote it down or not.
            return None
        for number, step in enumerate(group.steps):
            for kind in ("work", "abrade", "coat", "wipe"):
                if self._of(group, panel, step.id, kind) is not None:
                    last = number, kind
        if last is None:
            return (0, "begin") if group.steps else None
        number, kind = last
        if kind == "abrade":
            return number, "coat"
        if kind == "coat" and group.steps[number].wipe is not None:
            return number, "wipe"
        return (number + 1, "begin") if number + 1 < len(group.steps) else None

    def _coats(self, number: int, group: PanelGroup, panels: Sequence[int]) -> list[Chain]:
        """Chains for panels that have come equally far; smaller ones where together they do not fit."""
        for size in sizes_to_try(len(panels), len(panels)):
            chains = [self._coat(number, group, part) for part in split_evenly(panels, size)]
            if all(c is not None for c in chains):
                whole = [c for c in chains if c is not None]
                if self.empty.place(replace(whole[0], not_before_s=0, not_after_s=FOREVER)) is not None:
                    return whole
        self.work.obstacles.append(Obstacle(number))
        return []

    def _coat(self, number: int, group: PanelGroup, panels: tuple[int, ...]) -> Chain | None:
        state = self._state(group, group.panels[panels[0]])
        if state is None:
            return None
        step_number, kind = state
        blocks: list[Block] = []
        occupations: list[Occupation] = []
        step = group.steps[step_number]
        if kind == "wipe" and step.wipe is not None:
            unit_s = in_seconds(step.wipe.minutes_per_panel)
            blocks.append(Block(kind="wipe", item=step.id, panels=panels, unit_s=unit_s, pace_s=unit_s))
            coats = [self._of(group, group.panels[panel], step.id, "coat") for panel in panels]
            begins = min(int(coat.start_s) for coat in coats if coat is not None)
            occupations += coat_occupations(
                self.spec, group, step_number, None, 0, len(panels), begins_s=begins
            )
            low_s, high_s = wipe_window(step.wipe)
            anchors = [coat.end_s for coat in coats if coat is not None]
        else:
            lead = replace(step, abrade_minutes_per_panel=0) if kind == "coat" else step
            with_lead = replace(group, steps=_put(group.steps, step_number, lead))
            add_step(self.spec, with_lead, step_number, panels, blocks, occupations)
            before = recoat_window(group.steps[step_number - 1]) if step_number else (0, None)
            low_s, high_s = before[0], before[1] if before[1] is not None else FOREVER
            ends = [self.done.coated_s(group, group.panels[panel]) for panel in panels]
            anchors = ends if step_number else [in_seconds(group.condition_h * 60)] * len(panels)
        for later in range(step_number + 1, len(group.steps)):
            add_step(self.spec, group, later, panels, blocks, occupations)
        return bounded(number, blocks, occupations, anchors, low_s, high_s, now_s=self.now_s)

    def _weighings(self, number: int, group: PanelGroup, panels: Sequence[int]) -> Iterator[Chain]:
        """The weighing after a coat, where the next has not been put on yet."""
        for place, step in enumerate(group.steps):
            wet = [
                panel
                for panel in panels
                if step.weigh_minutes_per_panel
                and self._state(group, group.panels[panel]) in ((place + 1, "begin"), None)
                and (place == len(group.steps) - 1 or self._state(group, group.panels[panel]) is not None)
                and self.n_weighed[group.id, group.panels[panel], step.id] < _WEIGHINGS
            ]
            yield from by_size(wet, partial(self._weighing, number, group, step))

    def _weighing(
        self, number: int, group: PanelGroup, step: CoatStep, panels: tuple[int, ...]
    ) -> Chain | None:
        unit_s = in_seconds(step.weigh_minutes_per_panel)
        block = Block(kind="weigh", item=step.id, panels=panels, unit_s=unit_s, pace_s=unit_s)
        anchors = [self.done.coated_s(group, group.panels[panel]) for panel in panels]
        return bounded(number, [block], (), anchors, 0, WEIGH_WITHIN_S, now_s=self.now_s)

    def _say_late(self, chain: Chain) -> str:
        lot, block = self.spec.lots[chain.lot], chain.blocks[0]
        names = ", ".join(self.spec.groups[lot[p].group].panels[lot[p].panel] for p in block.panels)
        return f"{names}: {block.kind} of {block.item} cannot be done in its window any more."


def _holds(chain: Chain) -> bool:
    """Whether it holds something at the bench that it took before now, or fills the air."""
    return any(
        occupation.first is None and (occupation.heat_blocks or occupation.irons or occupation.hazards)
        for occupation in chain.occupations
    )


def _without_held(chain: Chain) -> tuple[Occupation, ...]:
    return tuple(
        replace(each, heat_blocks=0, irons=0, hazards=frozenset()) if each.first is None else each
        for each in chain.occupations
    )


def _put(items: tuple[CoatStep, ...], place: int, item: CoatStep) -> tuple[CoatStep, ...]:
    return (*items[:place], item, *items[place + 1 :])
