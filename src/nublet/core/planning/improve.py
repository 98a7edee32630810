"""Better plans by constraint programming: some chains are lifted off the bench and laid anew by OR-tools' CP-SAT.

A small plan is solved whole; of a large one a **neighbourhood** at a time, the other chains standing as they are. What stands is
cut out of the domains of what moves, so that a model holds the moving blocks alone. Three aims, one after the other, none
giving up what an earlier one won: an earlier end; fewer sittings; hands that wait less within their sittings and spots that
lie nearer to their nominal time.

References: L. Perron and F. Didier, CP-SAT (OR-tools), 2025; P. Shaw, "Using constraint programming and local search methods
to solve vehicle routing problems", 1998, for the neighbourhoods.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ortools.sat.python import cp_model

from nublet.core.planning.bench import Bench
from nublet.core.planning.calendar import sitting_at
from nublet.core.planning.chains import FOREVER, Chain
from nublet.core.planning.construct import Aim, Placement
from nublet.core.planning.model import Model, Move

# Weight of a second of waiting hands against a second off the nominal time.
_WAITING_WEIGHT = 4


def lay_anew(
    bench: Bench,
    chains: Sequence[Chain],
    moving: Sequence[int],
    placement: Placement,
    *,
    aim: Aim,
    end_s: int,
    limit_s: float,
    seed: int = 0,
) -> Placement | None:
    """Find better times for some chains while the others stand.

    Parameters
    ----------
    bench : Bench
        With all chains booked except those that move.
    chains : sequence of Chain
        All of them, by number.
    moving : sequence of int
        Numbers of the chains that move.
    placement : dict
        Of all chains; where the moving ones stood is the first guess.
    aim : "end", "sittings" or "waiting"
    end_s : int
        No block may end later.
    limit_s : float
        Seconds for the solver.
    seed : int

    Returns
    -------
    dict or None
        Times of the moving chains; ``None`` when nothing better was found.
    """
    model = Model(bench, chains, moving, placement, end_s, stays_in_sitting=aim == "waiting")
    if not model.is_sound:
        return None
    goal = _AIMS[aim](model)
    if goal is None:
        return None
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = limit_s
    solver.parameters.num_workers = 2
    solver.parameters.random_seed = seed
    solver.parameters.symmetry_level = 0
    status = solver.solve(model.cp)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE) or solver.objective_value >= goal:
        return None
    return model.answer(solver)


def _aim_at_end(model: Model) -> int | None:
    """Minimise the end; its present value, or ``None`` when what stands already ends as late."""
    stands = max(
        (
            at.start_s + block.length_s
            for chain in model.chains
            if chain.number not in set(model.moving)
            for block, at in zip(chain.blocks, model.placement[chain.number], strict=True)
        ),
        default=0,
    )
    now = max(
        at.start_s + model.chains[number].blocks[i].length_s
        for number in model.moving
        for i, at in enumerate(model.placement[number])
    )
    if stands >= now:
        return None
    end = model.cp.new_int_var(stands, now, "end")
    for move in model.moves.values():
        model.cp.add(end >= move.start + move.block.length_s)
    model.cp.minimize(end)
    return now


def _aim_at_sittings(model: Model) -> int | None:
    """Minimise the sittings that only moving blocks use; how many there are, or ``None`` for none."""
    standing = model.sittings_that_stand()
    present = {
        sitting_at(model.bench.sittings, at.start_s)
        for number in model.moving
        for at in model.placement[number]
    } - standing
    if not present:
        return None
    used = {}
    for sitting, (begins, ends) in enumerate(model.bench.sittings):
        if sitting in standing or begins > model.end_s:
            continue
        used[sitting] = model.cp.new_bool_var(f"used {sitting}")
        model.cp.add_hint(used[sitting], sitting in present)
        outside = cp_model.Domain(begins, ends - 1).complement()
        for move in model.moves.values():
            model.cp.add_linear_expression_in_domain(move.start, outside).only_enforce_if(~used[sitting])
    model.cp.minimize(sum(used.values()))
    return len(present)


def _aim_at_waiting(model: Model) -> int:
    """Minimise waiting and distance from the nominal, each block in its sitting and hands; the present value."""
    terms, present = [], 0
    stretches: dict[tuple[int, int], list[Move]] = {}
    for (number, index), move in model.moves.items():
        at = model.placement[number][index]
        sitting = sitting_at(model.bench.sittings, at.start_s)
        if at.person in move.doers and move.doers[at.person] is not True:
            model.cp.add(move.doers[at.person] == 1)
        stretches.setdefault((sitting, at.person), []).append(move)
    for (sitting, person), moves in stretches.items():
        begins, ends = model.bench.sittings[sitting]
        hands = model.bench.people[person]
        stands = [b for b in zip(hands.begins, hands.ends, strict=True) if begins <= b[0] < ends]
        first_stands = min((b for b, _ in stands), default=ends)
        last_stands = max((e for _, e in stands), default=begins)
        first = model.cp.new_int_var(begins, first_stands, "first")
        last = model.cp.new_int_var(last_stands, model.end_s, "last")
        for move in moves:
            model.cp.add(first <= move.start)
            model.cp.add(last >= move.start + move.block.length_s)
        terms.append(_WAITING_WEIGHT * (last - first))
        ats = [(model.placement[m.chain.number][m.number].start_s, m.block.length_s) for m in moves]
        present += _WAITING_WEIGHT * (
            max(last_stands, *[a + n for a, n in ats]) - min(first_stands, *[a for a, _ in ats])
        )
    for (number, index), move in model.moves.items():
        block = move.block
        if block.parent is None or block.latest_s >= FOREVER or block.kind not in ("lift", "look"):
            continue
        wanted = model.moves[number, block.parent].start + block.nominal_s
        off = model.cp.new_int_var(0, max(block.latest_s - block.wait_s, 1), "off")
        model.cp.add(off >= move.start - wanted)
        model.cp.add(off >= wanted - move.start)
        terms.append(off)
        placed = model.placement[number]
        present += abs(placed[index].start_s - placed[block.parent].start_s - block.nominal_s)
    model.cp.minimize(sum(terms))
    return present


_AIMS: dict[Aim, Callable[[Model], int | None]] = {
    "end": _aim_at_end,
    "sittings": _aim_at_sittings,
    "waiting": _aim_at_waiting,
}
