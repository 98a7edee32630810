"""Reading a trial's design for screens: its boards cut to scale, its panels, its record and what deviated from it."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Count, Prefetch

from nublet.core.design.cutting import BoardCut, Place
from nublet.web.designs.adapters import cut_of, to_board
from nublet.web.designs.freezing import RecordState, check_record
from nublet.web.designs.models import TrialBoard, TrialDeviation, TrialPanel
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class PlacedPanel:
    """A panel with its place on its board, ``None`` where the board's measures leave no room for it."""

    row: TrialPanel
    place: Place | None


@dataclass(frozen=True, kw_only=True)
class CutBoard:
    """A board with its panels in the order of cutting. ``cut`` is ``None`` while nothing is to be cut from it."""

    row: TrialBoard
    panels: tuple[PlacedPanel, ...]
    cut: BoardCut | None

    @property
    def needed_mm(self) -> float | None:
        """The length that its panels need, mm."""
        return None if self.cut is None else self.cut.needed_mm

    @property
    def says(self) -> str:
        """What is wrong with it, or an empty text."""
        return "" if self.cut is None else self.cut.says


@dataclass(frozen=True, kw_only=True)
class DesignView:
    """A trial's standing design."""

    trial: Trial
    boards: tuple[CutBoard, ...]
    slips: tuple[TrialPanel, ...]
    deviations: tuple[TrialDeviation, ...]
    record_state: RecordState

    @property
    def n_short(self) -> int:
        """Boards that are too short or narrow for their panels."""
        return sum(bool(board.says) for board in self.boards)


def view_design(trial: Trial) -> DesignView:
    """The design's boards and panels, species by species. A fixed number of queries."""
    panels = (
        TrialPanel.objects.select_related("build_up__version", "build_up__version__build_up", "replaces")
        .prefetch_related("spots")
        .order_by("position")
    )
    rows = trial.boards.prefetch_related(Prefetch("panels", queryset=panels))
    order = {species: index for index, species in enumerate(trial.species)}
    used = [row for row in rows if row.panels.all() or _is_planned(trial, row)]
    used.sort(key=lambda row: (order.get(row.species, len(order)), row.number))
    return DesignView(
        trial=trial,
        boards=tuple(_cut(trial, row) for row in used),
        slips=tuple(
            trial.panels.filter(slip_test__isnull=False)
            .select_related("build_up__version", "build_up__version__build_up", "replaces")
            .prefetch_related("spots")
            .order_by("position", "pk")
        ),
        deviations=tuple(
            trial.deviations.filter(withdrawn_at__isnull=True)
            .select_related("panel", "board", "recorded_by")
            .order_by("pk")
        ),
        record_state=check_record(trial),
    )


def _is_planned(trial: Trial, row: TrialBoard) -> bool:
    return row.species in trial.species and row.number <= trial.boards_per_species


def _cut(trial: Trial, row: TrialBoard) -> CutBoard:
    panels = list(row.panels.all())
    if not panels:
        return CutBoard(row=row, panels=(), cut=None)
    cut = cut_of(trial, to_board(row), len(panels))
    places = [*cut.places, *[None] * (len(panels) - len(cut.places))]
    return CutBoard(
        row=row,
        panels=tuple(
            PlacedPanel(row=panel, place=place) for panel, place in zip(panels, places, strict=True)
        ),
        cut=cut,
    )


def panels_of_a_build_up(trial: Trial) -> int | None:
    """As many panels as the standing design gives the build-up with the most of them; ``None`` without one. One query."""
    counts: list[int] = []
    if trial.fingerprint:
        on_wood = TrialPanel.objects.filter(trial=trial, board__isnull=False)
        rows = on_wood.order_by().values("build_up").annotate(n=Count("pk"))
        counts = list(rows.values_list("n", flat=True))
    return max(counts, default=0) or None
