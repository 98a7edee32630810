"""Checks that the readings alone cannot answer: the blind, what was exposed together, the log, and how the trial was planned."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from nublet.core.design.exposing import EXPOSING_SAYS, Exposing
from nublet.core.evidence.checks import Check, listed
from nublet.core.evidence.stages import StageReached
from nublet.core.quantities import amount, say

# Panels of a board that are laid further apart were not laid in one sitting.
ONE_SITTING = timedelta(hours=12)
BLOCKS_ALIKE_C = 2.0


def check_blind(
    keepers_who_graded: Sequence[str],
    *,
    seed_is_known: bool = False,
    unblinded: str = "",
    n_seen_after: int = 0,
    n_apart: int = 0,
) -> Check:
    """Check that nobody graded who could look up which panel carries what, or replay the lots from a seed given by hand.

    ``unblinded`` tells who told the judges when and why, and ``n_seen_after`` how many readings were made after that.
    ``n_apart`` of those who could know stand apart, since others read the same blind.
    """
    says = []
    if unblinded and n_seen_after:
        says.append(
            f"{unblinded} {n_seen_after} {'reading was' if n_seen_after == 1 else 'readings were'} made after that, by people who "
            "knew: they are marked. Judge by what was read before."
        )
    if keepers_who_graded:
        says.append(
            f"{listed(keepers_who_graded)} graded and also keeps the key to the codes. Let someone grade "
            "who cannot look it up."
        )
    if seed_is_known:
        says.append(
            "The lots were drawn from a seed given by hand: whoever knows it can replay them. Draw without one."
        )
    if says and n_apart:
        says.append(
            f"{n_apart} {'reading' if n_apart == 1 else 'readings'} of those who could know stand apart and move no "
            "mean here: what was read blind decides."
        )
    told = f" {unblinded} Nothing was read after that." if unblinded and not n_seen_after else ""
    if says:
        return Check(check="blind", level="warn", says=f"{' '.join(says)}{told}")
    return Check(check="blind", level="pass", says=f"Everyone who graded worked from codes alone.{told}")


@dataclass(frozen=True, kw_only=True)
class Laid:
    """What was laid on a panel, or done to it, by the log: from which pour, and how hot the block was at contact, where known.

    ``nth`` counts the rounds of what is done to a panel again and again.
    """

    test: str
    system: str
    board: str
    at: datetime
    nth: int = 1
    pour: int | None = None
    block_c: float | None = None


def check_exposing(exposing: Exposing, laid: Sequence[Laid], *, n_systems: int) -> Check:
    """Tell whether what is compared was exposed together, or which effects the day of each confounds.

    Parameters
    ----------
    exposing : Exposing
    laid : sequence of Laid
        What the log tells.
    n_systems : int
        How many build-ups are compared, the control among them; one alone is compared with nothing.
    """
    if exposing == "as-ready" and n_systems > 1:
        return Check(
            check="exposing", level="warn", says=f"Exposed as each was ready. {EXPOSING_SAYS['as-ready']}"
        )
    by_board = _by_board(laid)
    apart = [
        f"{test} on {board}"
        for (test, _, board), own in by_board.items()
        if max(each.at for each in own) - min(each.at for each in own) > ONE_SITTING
    ]
    if apart:
        return Check(
            check="exposing",
            level="warn",
            says=f"Not all panels of a board met the test in one sitting: {listed(apart)}. There "
            " the day is mixed into the build-up.",
        )
    if not by_board:
        return Check(
            check="exposing",
            level="pass",
            says="Each board's panels were to meet a test in one sitting, from one pour.",
        )
    return Check(
        check="exposing", level="pass", says="Each board's panels met a test in one sitting, by the log."
    )


def check_pours(laid: Sequence[Laid]) -> Check | None:
    """Tell whether the panels of each board met one pour; ``None`` where the log tells of none."""
    known = [each for each in laid if each.pour is not None]
    if not known:
        return None
    mixed = [
        f"{test} on {board}"
        for (test, _, board), own in _by_board(known).items()
        if len({each.pour for each in own}) > 1
    ]
    if mixed:
        return Check(
            check="pours",
            level="warn",
            says=f"More than one pour on a board: {listed(mixed)}. What differs there may be the brew. Lay a board from one pour.",
        )
    return Check(check="pours", level="pass", says="Every board was laid from one pour, test by test.")


def check_blocks(laid: Sequence[Laid]) -> Check | None:
    """Tell whether hot blocks were alike at contact within each board; ``None`` where no temperature was read.

    A build-up's mean difference from the other panels of its boards is what would pass for a difference between finishes.
    """
    known = [each for each in laid if each.block_c is not None]
    if not known:
        return None
    met: dict[tuple[str, str], list[tuple[float, float]]] = defaultdict(list)
    for own in _by_board(known).values():
        total = sum(each.block_c or 0.0 for each in own)
        for each in own:
            degree = each.block_c or 0.0
            met[each.test, each.system].append((degree, (total - degree) / (len(own) - 1)))
    found = []
    for (test, system), pairs in met.items():
        own_c, others_c = (sum(column) / len(pairs) for column in zip(*pairs, strict=True))
        if abs(own_c - others_c) > BLOCKS_ALIKE_C:
            found.append(
                say(
                    f"{system} met {test.lower()} at {{}} on average, the others of its boards at {{}}",
                    amount("celsius", own_c),
                    amount("celsius", others_c),
                )
            )
    if found:
        return Check(
            check="blocks",
            level="warn",
            says=f"{'; '.join(found[:4])}: the heat is mixed into the build-up. Wait for the block to come to its temperature.",
        )
    return Check(
        check="blocks",
        level="pass",
        says="Hot blocks were alike at contact: no build-up met hotter or cooler ones.",
    )


def _by_board(laid: Sequence[Laid]) -> dict[tuple[str, int, str], list[Laid]]:
    """By test, time round and board, where there is more than one panel."""
    found: dict[tuple[str, int, str], list[Laid]] = defaultdict(list)
    for each in laid:
        found[each.test, each.nth, each.board].append(each)
    return {key: own for key, own in found.items() if len(own) > 1}


def check_looked_at(reached: StageReached) -> Check:
    """Tell at which stage of how many a trial is looked at, and by which limit."""
    limit = reached.limit
    boards = f"{limit.n_boards} of {reached.limits[-1].n_boards} boards of each wood are read"
    waiting = (
        f" {reached.n_waiting} {'reading' if reached.n_waiting == 1 else 'readings'} of later boards wait for their stage."
        if reached.n_waiting
        else ""
    )
    return Check(
        check="stages",
        level="pass",
        says=f"Stage {reached.stage} of {reached.n_stages}: {boards}. Two are told apart below p = {limit.alpha:.2g}, so that "
        f"the error over all stages stays at 5 %.{waiting}",
    )


def check_worth_said(says_when: str) -> Check:
    """Tell that the smallest difference worth knowing was said when readings had been made; ``says_when`` is when."""
    return Check(
        check="worth",
        level="warn",
        says=f"The smallest difference worth knowing was changed on {says_when}, when readings had been made: what is called alike "
        "may have been chosen by what was seen. Say it under Question before anything is read.",
    )


def check_added(boards: Sequence[str], *, n_after: int) -> Check | None:
    """Tell which boards were added beyond the plan, ``n_after`` of them when readings had been made; ``None`` for none."""
    if not boards:
        return None
    n = len(boards)
    says = f"{n} {'board was' if n == 1 else 'boards were'} added beyond the plan: {listed(boards)}."
    if n_after:
        return Check(
            check="added",
            level="warn",
            says=f"{says} {'It' if n == n_after == 1 else f'{n_after} of them'} came when readings had been made, and adding "
            "boards until two are told apart finds differences that are not there: the verdict is that of the planned boards, and "
            "what all of them together would say stands beside it. Plan stages under Design to look more than once.",
        )
    return Check(
        check="added",
        level="pass",
        says=f"{says} Nothing had been read by then, so that they count like planned ones.",
    )


def check_deviations(says: Sequence[str]) -> Check:
    """Tell what went otherwise than the trial's record, as it was recorded."""
    if says:
        more = f" And {len(says) - 4} more." if len(says) > 4 else ""
        return Check(check="deviations", level="warn", says=f"{' '.join(says[:4])}{more}")
    return Check(check="deviations", level="pass", says="No deviation from the design was recorded.")


def check_windows(missed: Sequence[str], *, n_logged: int, n_panels: int) -> Check:
    """Tell whether wipe-off, recoat, cure, lift and look kept their windows, by the bench log.

    Parameters
    ----------
    missed : sequence of str
        What the log was found to have missed, in words.
    n_logged, n_panels : int
        Panels with work in the log, of how many; of those without nothing is known.
    """
    if missed:
        more = f" And {len(missed) - 4} more." if len(missed) > 4 else ""
        return Check(check="windows", level="warn", says=f"{' '.join(missed[:4])}{more}")
    if not n_logged:
        return Check(
            check="windows",
            level="warn",
            says="Nobody wrote down when the panels were coated, wiped and exposed, so nothing shows that each window "
            "was kept. Log the work under Coat and cure.",
        )
    if n_logged < n_panels:
        return Check(
            check="windows",
            level="warn",
            says=f"The bench log knows {n_logged} of {n_panels} panels and shows no missed window on them; of the others nothing "
            "is known. Log the work under Coat and cure.",
        )
    return Check(check="windows", level="pass", says="Every window was kept, by the bench log.")


def check_looks(n_readings: int, *, n_off: int, n_far: int, on_paper: bool) -> Check:
    """Tell whether what was read was seen at the time of its look, by the log of the acts.

    Parameters
    ----------
    n_readings : int
        Whose moment is known.
    n_off, n_far : int
        Seen early or late beyond the tolerance and kept; and so far off that they do not count.
    on_paper : bool
        Whether the shop keeps the times of its acts on paper.
    """
    if on_paper:
        return Check(
            check="looks",
            level="warn",
            says="The times of the acts were kept on paper, so nothing shows that each look came at its time, or after its act "
            "at all. Log the acts under Expose.",
        )
    if n_off or n_far:
        says = []
        if n_off:
            says.append(f"{n_off} of {n_readings} readings were seen early or late and count all the same.")
        if n_far:
            says.append(f"{n_far} were seen so far from the time of their look that they do not count.")
        says.append("Grade when the due strip says so.")
        return Check(check="looks", level="warn", says=" ".join(says))
    return Check(check="looks", level="pass", says="Everything was seen at the time of its look, by the log.")
