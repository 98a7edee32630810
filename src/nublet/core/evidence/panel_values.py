"""One value a panel, or a section of it: the judges pooled, and their leniency taken out where it can be.

    y_pj = panel_p + judge_j + e_pj

y_pj is judge j's grade of panel (or section) p. From several views a judge is a reader of each: what only one view shows is no
spread between panels. Judges' effects can be estimated only among judges whom a chain of commonly graded
panels links: within such a *connected set* their effects sum to zero, and a panel's value is the mean of its grades less
its judges' effects, that is, the least-squares estimate at the set's mean judge. Between sets nothing is estimable, so
nothing is shifted: each panel stays as its own judges graded it. Grades of nobody in particular (a blank judge) take no
part in the fit and are not shifted either.

With panels absorbed, the judges' normal equations are A j = q with A = D_J - N' D_P⁻¹ N, N the sparse table of panels by
judges, D_P and D_J the counts of grades of each panel and each judge. A is as wide as there are judges.

References
----------
Searle, S. R. (1987). Linear Models for Unbalanced Data, ch. 5 (connectedness). Wiley.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse import csgraph
from scipy.sparse.linalg import LinearOperator, cg

from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.protocols.responses import GRADE, Response

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

_MOST_JUDGES_DENSE = 1500


@dataclass(frozen=True, kw_only=True)
class PooledJudges:
    """The panels' values for one test at one look, and how its judges hang together.

    Attributes
    ----------
    values : tuple of PanelValue
        Sorted by panel and section; those with no grade at all are absent.
    groups : tuple of tuple of str
        The judges in connected sets; one set, or none, when they can all be compared.
    splits_a_board : bool
        Whether panels of one board were graded by different sets: then the sets' leniency lies in the comparison.
        Where each board has one set, the boards absorb it.
    n_unnamed : int
        Grades whose judge is blank while others are named.
    """

    values: tuple[PanelValue, ...]
    groups: tuple[tuple[str, ...], ...]
    splits_a_board: bool
    n_unnamed: int


def panel_values(readings: Sequence[Reading], *, response: Response = GRADE) -> list[PanelValue]:
    """Pool the judges of each panel for one test at one look; see :func:`pool_judges`."""
    return list(pool_judges(readings, response=response).values)


def pool_judges(readings: Sequence[Reading], *, response: Response = GRADE) -> PooledJudges:
    """Pool the judges of each panel for one test at one look.

    Parameters
    ----------
    readings : sequence of Reading
        Of one test and one look; missing grades are left out.
    response : Response
        The pooled value is held to its ends.

    Notes
    -----
    When every judge graded every panel the value is the plain mean.

    Examples
    --------
    >>> one = dict(test="water", board="b", look=None)
    >>> pooled = pool_judges([
    ...     Reading(panel="p1", system="A", judge="Nell", grade=4, **one),
    ...     Reading(panel="p2", system="B", judge="Imara", grade=4, **one),
    ... ])
    >>> [value.value for value in pooled.values], pooled.groups
    ([4.0, 4.0], (('Imara',), ('Nell',)))
    """
    graded = [(r, r.grade) for r in readings if r.grade is not None]
    first: dict[tuple[str, str], Reading] = {}
    for reading, _ in graded:
        first.setdefault((reading.panel, reading.section or ""), reading)
    panels = sorted(first)
    readers = sorted({(r.judge, r.view or "") for r, _ in graded if r.judge is not None})
    panel_at = {panel: index for index, panel in enumerate(panels)}
    reader_at: dict[tuple[str | None, str], int] = {reader: index for index, reader in enumerate(readers)}
    n = len(graded)
    rows = np.fromiter((panel_at[r.panel, r.section or ""] for r, _ in graded), dtype=np.int64, count=n)
    columns = np.fromiter(
        (reader_at.get((r.judge, r.view or ""), -1) for r, _ in graded), dtype=np.int64, count=n
    )
    grades = np.fromiter((grade for _, grade in graded), dtype=float, count=n)

    named = columns >= 0
    set_of_judge = _connected_sets(rows[named], columns[named], len(panels), len(readers))
    effects = np.zeros(len(readers) + 1)
    if n != len(panels) * len(readers):
        effects[:-1] = _judge_effects(rows[named], columns[named], grades[named], len(panels), set_of_judge)
    counts = np.bincount(rows, minlength=len(panels))
    values = np.bincount(rows, weights=grades - effects[columns], minlength=len(panels)) / np.maximum(
        counts, 1
    )
    if response.ends is not None:
        values = np.clip(values, *response.ends)
    groups: list[dict[str, None]] = [{} for _ in range(int(set_of_judge.max(initial=-1)) + 1)]
    for (judge, _), index in zip(readers, set_of_judge, strict=True):
        groups[index][judge] = None
    return PooledJudges(
        values=tuple(
            PanelValue(
                panel=panel,
                section=section,
                system=first[panel, section].system,
                board=first[panel, section].board,
                species=first[panel, section].species,
                value=float(values[index]),
            )
            for index, (panel, section) in enumerate(panels)
        ),
        groups=tuple(tuple(group) for group in groups),
        splits_a_board=len(groups) > 1
        and _splits_a_board(
            [first[panel].board for panel in panels], rows[named], set_of_judge[columns[named]]
        ),
        n_unnamed=int((~named).sum()) if readers else 0,
    )


def reader_effects(
    rows: IntArray, columns: IntArray, values: FloatArray, n_places: int, n_readers: int
) -> tuple[FloatArray, IntArray]:
    """How far each reader reads above those with whom he is linked, and which set that is; both shape (n_readers,).

    Parameters
    ----------
    rows, columns : ndarray of int, shape (n,)
        Place and reader of each value.
    values : ndarray, shape (n,)
    n_places, n_readers : int
    """
    sets = _connected_sets(rows, columns, n_places, n_readers)
    return _judge_effects(rows, columns, values, n_places, sets), sets


def _connected_sets(rows: IntArray, columns: IntArray, n_panels: int, n_judges: int) -> IntArray:
    """The connected set of each judge, numbered from 0 by its first judge; shape (n_judges,)."""
    if n_judges == 0:
        return np.zeros(0, dtype=np.int64)
    size = n_panels + n_judges
    graph = sparse.coo_array((np.ones(len(rows)), (rows, n_panels + columns)), shape=(size, size))
    _, label = csgraph.connected_components(graph, directed=False)
    _, first_seen, number = np.unique(label[n_panels:], return_index=True, return_inverse=True)
    order = np.empty(len(first_seen), dtype=np.int64)
    order[np.argsort(first_seen)] = np.arange(len(first_seen))
    return np.asarray(order[number], dtype=np.int64)


def _judge_effects(
    rows: IntArray, columns: IntArray, grades: FloatArray, n_panels: int, set_of_judge: IntArray
) -> FloatArray:
    """Least-squares effects, summing to zero within each connected set; shape (n_judges,)."""
    n_judges = len(set_of_judge)
    table = sparse.csr_array((np.ones(len(rows)), (rows, columns)), shape=(n_panels, n_judges))
    of_panel = np.maximum(np.bincount(rows, minlength=n_panels), 1)
    of_judge = np.bincount(columns, minlength=n_judges)
    panel_means = np.bincount(rows, weights=grades, minlength=n_panels) / of_panel
    right = np.bincount(columns, weights=grades - panel_means[rows], minlength=n_judges)
    members = sparse.csr_array(
        (np.ones(n_judges), (set_of_judge, np.arange(n_judges))),
        shape=(int(set_of_judge.max(initial=0)) + 1, n_judges),
    )
    n_members: FloatArray = np.asarray(members.sum(axis=1), dtype=float).ravel()
    if n_judges <= _MOST_JUDGES_DENSE:
        # Adding each set's own average makes the equations regular and leaves their solution's sum at zero.
        normal = (
            np.diag(of_judge.astype(float)) - (table.T @ sparse.diags_array(1 / of_panel) @ table).toarray()
        )
        anchored = normal + (members.T @ sparse.diags_array(1 / np.maximum(n_members, 1)) @ members).toarray()
        effects = np.linalg.solve(anchored, right)
    else:
        # Consistent and positive semidefinite: conjugate gradients from zero stay in its range. A is never formed.
        scale = 1 / np.sqrt(np.maximum(of_judge, 1))
        transposed = table.T.tocsr()

        def apply(x: FloatArray) -> FloatArray:
            scaled = scale * x
            return np.asarray(scale * (of_judge * scaled - transposed @ ((table @ scaled) / of_panel)))

        operator = LinearOperator((n_judges, n_judges), matvec=apply, dtype=np.float64)
        found, _ = cg(operator, scale * right, rtol=1e-12, atol=0.0, maxiter=10 * n_judges)
        effects = scale * found
    return np.asarray(effects - ((members @ effects) / np.maximum(n_members, 1))[set_of_judge])


def _splits_a_board(board_of_panel: Sequence[str], rows: IntArray, set_of_grade: IntArray) -> bool:
    seen: dict[str, int] = {}
    for row, index in zip(rows.tolist(), set_of_grade.tolist(), strict=True):
        if seen.setdefault(board_of_panel[row], index) != index:
            return True
    return False
