"""Tests that are not laid on the face among others: whole faces, parts, end pieces, and slips of glass that are no wood at all."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from nublet.core.design.areas import PanelSize, Section
from nublet.core.design.cutting import Saw
from nublet.core.design.drawn import Spot
from nublet.core.errors import DesignError
from nublet.core.protocols.tests import Test

# An object slide as every laboratory shop sells them: 76 × 26 mm (ISO 8037-1).
SLIP_SIZE = PanelSize(length_mm=76.0, width_mm=26.0)


@dataclass(frozen=True, kw_only=True)
class Slip:
    """A piece of glass with a finish on it. ``replicate`` counts from 1 and stands for a block; ``code`` is all that is seen."""

    code: str
    build_up: str
    replicate: int
    test: str


@dataclass(frozen=True, kw_only=True)
class Shares:
    """Which tests share the panel with rings and strips, which need a panel each, and which need none."""

    placed: tuple[Test, ...]
    looking: tuple[Test, ...]
    using_up: tuple[Test, ...]
    slips: tuple[Test, ...]

    @property
    def has_panels(self) -> bool:
        """Whether any of them needs wood."""
        return bool(self.placed or self.looking or self.using_up)

    def panels_each(self, sharing: int = 1) -> int:
        """How many panels a build-up has on a board, ``sharing`` of them for rings and strips and for looking."""
        return sharing * bool(self.placed or self.looking) + len(self.using_up)


def share_out(tests: Iterable[Test]) -> Shares:
    """Tell tests apart by what they need."""
    listed = tuple(tests)
    rest = [test for test in listed if not test.site.is_placed and test.site.kind != "slip"]
    return Shares(
        placed=tuple(test for test in listed if test.site.is_placed),
        looking=tuple(test for test in rest if not test.uses_up_panel),
        using_up=tuple(test for test in rest if test.uses_up_panel),
        slips=tuple(test for test in listed if test.site.kind == "slip"),
    )


def check_whole(tests: Iterable[Test], *, n_sections: int, saw: Saw) -> None:
    """Refuse what cannot be had of such panels.

    Raises
    ------
    DesignError
        A part or an end on a panel with sections, or end pieces that are not cut.
    """
    for test in tests:
        if test.site.kind in ("part", "end") and n_sections > 1:
            raise DesignError(
                f"{test.name} takes {'a part' if test.site.kind == 'part' else 'the end'} of the panel, across its sections. Leave "
                "the sections out, or the test.",
                field="sections",
            )
        if test.site.kind == "end" and not saw.end_piece_mm:
            raise DesignError(
                f"{test.name} needs the end-grain piece of each panel, and none is cut. Give the pieces a length, such as 40 mm.",
                field="end_piece_mm",
            )


def whole_spots(tests: Iterable[Test], size: PanelSize, sections: Sequence[Section]) -> Iterator[Spot]:
    """Where whole-face tests are on a panel: on each section, or all over; of a part at the left end of the face."""
    for test in tests:
        kind = test.site.kind
        if kind == "panel":
            areas: list[tuple[str | None, float, float, float, float]] = [
                (s.name, s.x_mm, s.y_mm, s.length_mm, s.width_mm) for s in sections
            ]
            for name, x, y, length, width in areas or [(None, 0.0, 0.0, size.length_mm, size.width_mm)]:
                yield Spot(
                    exposure=test.id, kind=kind, section=name, x_mm=x + length / 2, y_mm=y + width / 2, diameter_mm=0.0,
                    along_mm=length, across_mm=width,
                )  # fmt: skip
        else:
            # The end piece lies behind its panel.
            along = size.length_mm * test.site.share if kind == "part" else 0.0
            x = along / 2 if kind == "part" else size.length_mm
            yield Spot(
                exposure=test.id, kind=kind, x_mm=x, y_mm=size.width_mm / 2, diameter_mm=0.0, along_mm=along,
                across_mm=size.width_mm,
            )  # fmt: skip


def slip_spot(test_id: str) -> Spot:
    """Where its test is on a slip: all over."""
    length, width = SLIP_SIZE.length_mm, SLIP_SIZE.width_mm
    return Spot(
        exposure=test_id, kind="slip", x_mm=length / 2, y_mm=width / 2, diameter_mm=0.0, along_mm=length, across_mm=width,
    )  # fmt: skip


def plan_slips(
    tests: Iterable[Test], build_ups: Iterable[str], replicates: int
) -> list[tuple[str, int, str]]:
    """Build-up, replicate and test of each slip, replicate by replicate."""
    listed, coated = list(tests), list(build_ups)
    return [
        (build_up, replicate, test.id)
        for replicate in range(1, replicates + 1)
        for test in listed
        for build_up in coated
    ]
