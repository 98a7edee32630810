"""The search for a good plan: several first plans, then lifting and laying anew until time is up or nothing is left to gain."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from nublet.core.planning.bench import Bench
from nublet.core.planning.calendar import sitting_at
from nublet.core.planning.chains import SOURS, Chain
from nublet.core.planning.construct import (
    Aim,
    Merit,
    Placement,
    Rule,
    Work,
    first_plan,
    merit_of,
    place_all,
    released_at,
)

# Up to so many blocks the solver is given all of the plan at once.
WHOLE_BLOCKS = 220
_NEIGHBOUR_BLOCKS = 160
_SHARE_FOR_SITTINGS = 0.3
_TOO_LITTLE_S = 0.1
# Of a small plan's time, while it ends later than so many times the bound.
_SHARE_FOR_PLACING, _NEAR = 0.4, 1.01
_WORTH_SPLITTING = 0.005
_PATIENCE = 400
_PATIENCE_BY_SITTING = 12
# The solver's turn comes after so many tries at placing anew that bettered nothing.
_SOLVER_EACH = 40
Clock = Callable[[], float]


@dataclass(kw_only=True)
class Found:
    """A plan as it stands: the bench with everything booked, where everything is, and how good it is."""

    bench: Bench
    placement: Placement
    merit: Merit


def takes_heat(chain: Chain) -> bool:
    """Whether a chain needs a heat block."""
    return any(occupation.heat_blocks or occupation.irons for occupation in chain.occupations)


def first_rules() -> list[Rule]:
    """Orders that have made good first plans, the likeliest first."""
    return [
        lambda c: (not takes_heat(c), -c.tail_s, c.number),
        lambda c: ("flammable" not in c.hazards, not takes_heat(c), -c.tail_s, c.number),
        lambda c: (c.number,),
        lambda c: ("bleach" in c.hazards, -c.tail_s, c.number),
    ]


class Search:
    """Goes on from a first plan. Make it with :func:`begin_search`."""

    def __init__(
        self,
        work: Work,
        found: Found,
        *,
        clock: Clock,
        until: float,
        seed: int,
        standing: Callable[[Bench], None] | None = None,
    ) -> None:
        self.work, self.clock, self.until = work, clock, until
        self.rng = random.Random(seed)  # noqa: S311
        self.n_blocks = sum(len(chain.blocks) for chain in work.chains)
        self.standing = standing
        # Where the search is may be a little worse than the best that it has seen.
        self.at = found
        self.kept = found.merit, dict(found.placement)
        self.movable = [chain.number for chain in work.chains]
        self.bundles: dict[int, list[int]] = {}
        for chain in work.chains:
            if chain.bundle >= 0:
                self.bundles.setdefault(chain.bundle, []).append(chain.number)

    def back_to_best(self) -> Found:
        """The best plan seen, everything booked, from wherever the search has wandered."""
        merit, placement = self.kept
        if self.at.merit != merit:
            bench = Bench(self.work.spec, self.at.bench.horizon_s)
            if self.standing is not None:
                self.standing(bench)
            for chain in self.work.chains:
                bench.book(chain, placement[chain.number])
            self.at = Found(bench=bench, placement=dict(placement), merit=merit)
        return self.at

    @property
    def left_s(self) -> float:
        """Seconds left."""
        return self.until - self.clock()

    def run(self, lower_bound_s: int, after_each: Callable[[Merit], bool]) -> None:
        """Improve until time is up or ``after_each``, told the best merit after every step, says to stop."""
        small = self.n_blocks <= WHOLE_BLOCKS
        for step in self._steps_for_all(lower_bound_s) if small else self._steps_by_parts(lower_bound_s):
            if step and self.at.merit < self.kept[0]:
                self.kept = self.at.merit, dict(self.at.placement)
            if after_each(self.kept[0]) or self.left_s < _TOO_LITTLE_S:
                return

    def _steps_for_all(self, lower_bound_s: int) -> Iterator[bool]:
        rest_s = self.left_s * (1 - _SHARE_FOR_PLACING)
        while self.kept[0].end_s > lower_bound_s * _NEAR and self.left_s > rest_s:
            yield self._recreate()
        self.back_to_best()
        shares: list[tuple[Aim, float]] = [("end", 0.4), ("sittings", 0.5), ("waiting", 1.0)]
        for aim, share in shares:
            yield self._solve(self._compatible(self.movable), aim, share * self.left_s)

    def _steps_by_parts(self, lower_bound_s: int) -> Iterator[bool]:
        rest_s = self.left_s * _SHARE_FOR_SITTINGS
        fruitless = 0
        while self.kept[0].end_s > lower_bound_s and self.left_s > rest_s and fruitless < _PATIENCE:
            turn = fruitless % _SOLVER_EACH
            if turn in (_SOLVER_EACH // 2, _SOLVER_EACH - 1):
                moving = self._late_ones() if turn == _SOLVER_EACH - 1 else self._late_and_alike()
                is_better = self._solve(moving, "end", 1.5)
            else:
                is_better = self._recreate()
            fruitless = 0 if is_better else fruitless + 1
            yield is_better
        self.back_to_best()
        fruitless = 0
        while fruitless < _PATIENCE_BY_SITTING:
            is_better = self._solve(self._lonely_ones(), "sittings", 1.0) if fruitless % 2 == 0 else False
            is_better |= self._solve(self._some_sitting(), "waiting", 0.6)
            fruitless = 0 if is_better else fruitless + 1
            yield is_better

    def _solve(self, moving: Sequence[int], aim: Aim, limit_s: float) -> bool:
        if not moving:
            return False
        at, chains, moving = self.at, self.work.chains, self._whole(moving)
        for number in moving:
            at.bench.unbook(chains[number], at.placement[number])
        found = load_solver()(
            at.bench,
            chains,
            moving,
            at.placement,
            aim=aim,
            end_s=at.merit.end_s,
            limit_s=max(0.05, min(limit_s, self.left_s)),
            seed=self.rng.randrange(2**31),
        )
        before = {number: at.placement[number] for number in moving}
        at.placement.update(found or {})
        for number in moving:
            at.bench.book(chains[number], at.placement[number])
        merit = merit_of(at.bench, chains, at.placement)
        if found is not None and merit > at.merit and aim != "waiting":
            # Hands wait longer for an equal count of sittings: the solver's aim was met, the plan is no better.
            for number in moving:
                at.bench.unbook(chains[number], at.placement[number])
                at.placement[number] = before[number]
                at.bench.book(chains[number], before[number])
            return False
        at.merit = merit
        return found is not None

    def _recreate(self) -> bool:
        """Take a late chain and what stands where it might go off the bench; place it first, and the others after it."""
        at, chains = self.at, self.work.chains
        late = self._ending_in_last_sitting()
        wanted = set(self.rng.sample(late, min(len(late), self.rng.choice((1, 2, 4)))))
        moving = list(wanted | self._in_the_way(self.rng.choice(sorted(wanted))))
        # And what waits for one that moves.
        moving += [
            chain.number
            for chain in chains
            if chain.number not in moving and any(release.chain in wanted for release in chain.releases)
        ]
        moving = self._whole(moving)
        before = {number: at.placement[number] for number in moving}
        score = self._score()
        for number in moving:
            at.bench.unbook(chains[number], at.placement.pop(number))
        spread = self.rng.choice((0.0, 0.3, 1.0))
        # What waits for one that moves too is placed after it.
        waits = {n: any(release.chain in before for release in chains[n].releases) for n in moving}
        keys = {
            n: (waits[n], n not in wanted, -chains[n].tail_s * self.rng.uniform(1 - spread, 1), n)
            for n in moving
        }
        order = [chains[number] for number in sorted(moving, key=lambda number: keys[number])]
        if place_all(at.bench, order, at.placement) and self._score() < score:
            at.merit = merit_of(at.bench, chains, at.placement)
            return True
        for number in moving:
            if number in at.placement:
                at.bench.unbook(chains[number], at.placement.pop(number))
        for number, placed in before.items():
            at.placement[number] = placed
            at.bench.book(chains[number], placed)
        return False

    def _whole(self, numbers: Sequence[int]) -> list[int]:
        """With all of each bundle: what must be begun in one sitting moves together or not at all."""
        found = dict.fromkeys(numbers)
        for number in numbers:
            bundle = self.work.chains[number].bundle
            found.update(dict.fromkeys(self.bundles.get(bundle, ())))
        return list(found)

    def _in_the_way(self, number: int) -> set[int]:
        """Chains that stand about where a chain would if its first block were in some earlier sitting."""
        chains, placement, sittings = self.work.chains, self.at.placement, self.at.bench.sittings
        placed = placement[number]
        earliest = max(chains[number].not_before_s, released_at(chains[number], placement))
        first, now = sitting_at(sittings, earliest), sitting_at(sittings, placed[0].start_s)
        begins, ends = sittings[self.rng.randint(max(0, first), now)]
        ends = max(ends, begins + 1)
        # The same hour of another day, so that what runs overnight still comes out in working time; or any hour.
        day_s = 24 * 3600
        shift = -day_s * round((placed[0].start_s - (begins + ends) / 2) / day_s)
        if self.rng.random() < 0.4:
            shift = self.rng.randrange(max(begins, earliest), max(ends, earliest + 1)) - placed[0].start_s
        reach = self.rng.choice((600, 1800, 3600))
        windows = [
            (at.start_s + shift - reach, at.start_s + shift + block.length_s + reach)
            for block, at in zip(chains[number].blocks, placed, strict=True)
        ]
        share = self.rng.choice((0.4, 0.7, 1.0))
        return {
            other.number
            for other in chains
            if other.releases
            and self.rng.random() < share
            and any(a < at.start_s < b for at in placement[other.number] for a, b in windows)
        }

    def _score(self) -> tuple[int, int, int]:
        """Finer than the end: the last sitting, the work that is left in it, and the end."""
        last, work, end = -1, 0, 0
        for chain in self.work.chains:
            for block, at in zip(chain.blocks, self.at.placement[chain.number], strict=True):
                sitting = sitting_at(self.at.bench.sittings, at.start_s)
                if sitting > last:
                    last, work = sitting, 0
                if sitting == last:
                    work += block.length_s
                end = max(end, at.start_s + block.length_s)
        return last, work, end

    def _ending_in_last_sitting(self) -> list[int]:
        sittings, placement = self.at.bench.sittings, self.at.placement
        ends = {n: max(at.start_s for at in placement[n]) for n in self.movable}
        last = sitting_at(sittings, max(ends.values()))
        return [n for n, start in ends.items() if sitting_at(sittings, start) == last]

    def _late_ones(self) -> list[int]:
        late = self._ending_in_last_sitting()
        others = [n for n in self.movable if n not in set(late) and self.work.chains[n].releases]
        self.rng.shuffle(others)
        return self._compatible(self._up_to(late, others))

    def _late_and_alike(self) -> list[int]:
        """What ends last, and what else goes through the exposure of one of these: they are after the same hours."""
        late, chains = self._ending_in_last_sitting(), self.work.chains
        item = chains[self.rng.choice(late)].item
        alike = [n for n in self.movable if chains[n].item == item and n not in set(late)]
        return self._compatible(self._up_to(late, alike))

    def _lonely_ones(self) -> list[int]:
        """The chains of one of the sittings with the fewest blocks, and some that are near to them in time."""
        by_sitting = self._by_sitting()
        few = sorted(by_sitting, key=lambda sitting: (len(by_sitting[sitting]), sitting))[:4]
        return self._around(by_sitting[self.rng.choice(few)]) if few else []

    def _some_sitting(self) -> list[int]:
        by_sitting = self._by_sitting()
        return self._around(by_sitting[self.rng.choice(list(by_sitting))]) if by_sitting else []

    def _around(self, core: Iterable[int]) -> list[int]:
        chosen = list(core)
        self.rng.shuffle(chosen)
        if not chosen:
            return []
        centre = self.at.placement[chosen[0]][0].start_s
        others = sorted(
            (n for n in self.movable if n not in set(chosen)),
            key=lambda n: abs(self.at.placement[n][0].start_s - centre),
        )
        return self._compatible(self._up_to(chosen, others))

    def _by_sitting(self) -> dict[int, list[int]]:
        by_sitting: dict[int, list[int]] = {}
        for number in self.movable:
            for sitting in {
                sitting_at(self.at.bench.sittings, at.start_s) for at in self.at.placement[number]
            }:
                by_sitting.setdefault(sitting, []).append(number)
        return by_sitting

    def _up_to(self, core: Sequence[int], others: Sequence[int]) -> list[int]:
        chosen: list[int] = []
        n_blocks = 0
        for number in [*core, *others]:
            n_blocks += len(self.work.chains[number].blocks)
            if n_blocks > _NEIGHBOUR_BLOCKS and chosen:
                break
            chosen.append(number)
        return chosen

    def _compatible(self, numbers: Sequence[int]) -> list[int]:
        """Without the bleach, or without the sour ones, by lot: a model keeps apart what moves from what stands only."""
        chains = self.work.chains
        bleach = {n for n in numbers if "bleach" in chains[n].hazards}
        sour = {n for n in numbers if chains[n].hazards & SOURS}
        if not (bleach and sour):
            return list(numbers)
        left_out = bleach if self.rng.random() < 0.5 else sour
        return [n for n in numbers if n not in left_out]


def load_solver() -> Callable[..., Placement | None]:
    """The solver's way to lay chains anew. Loading it the first time takes longer than planning the smallest trials."""
    from nublet.core.planning.improve import lay_anew

    return lay_anew


def begin_search(
    works: Iterable[Work],
    *,
    clock: Clock,
    until: float,
    seed: int = 0,
    standing: Callable[[Bench], None] | None = None,
) -> Search:
    """The best of the first plans that a third of the time allows, of all ways to split the work, and a search from there.

    ``standing`` books on a new bench what is not for the search to move.

    Raises
    ------
    RuntimeError
        If no order finds room for all, which chains that fit an empty bench one by one do not come to.
    """
    begun = clock()
    found: list[tuple[Work, Found]] = []
    rules = first_rules()
    # The likeliest order closer together too, before the others.
    tries = [(rules[0], False), (rules[0], True), *((rule, False) for rule in rules[1:])]
    for work, (rule, is_close) in ((work, each) for work in works for each in tries):
        if found and clock() - begun > (until - begun) / 3:
            break
        made = first_plan(work, rule, standing, is_close=is_close)
        if made is None:
            continue
        bench, placement = made
        merit = merit_of(bench, work.chains, placement)
        found.append((work, Found(bench=bench, placement=placement, merit=merit)))
    if not found:
        raise RuntimeError("no room for a chain that fits an empty bench")
    whole, chosen = found[0][0], min(found, key=lambda each: each[1].merit)
    # More and smaller passes are more to do: they must bring an end that is worth it.
    of_whole = [each for each in found if each[0] is whole]
    best_whole = min(of_whole, key=lambda each: each[1].merit)
    if chosen[1].merit.end_s > best_whole[1].merit.end_s * (1 - _WORTH_SPLITTING):
        chosen = best_whole
    work, best = chosen
    return Search(work, best, clock=clock, until=until, seed=seed, standing=standing)
