"""Schools of exposing: a board's panels together, or each build-up when it is ready; and what each leaves confounded."""

from __future__ import annotations

from typing import Literal

Exposing = Literal["together", "as-ready"]

EXPOSING_SCHOOLS: dict[Exposing, str] = {
    "together": "Together: a board's panels meet a test in one sitting",
    "as-ready": "As each is ready: every build-up once it has cured",
}
# What each leaves confounded, as the Design page, the plan and the evidence say it.
EXPOSING_SAYS: dict[Exposing, str] = {
    "together": "A board's panels, bare wood and benchmark among them, meet each test in one sitting, in a drawn order and from one pour: "
    "the day's coffee, the block's real temperature and the hand's pace are shared by what is compared. All wait for the slowest cure.",
    "as-ready": "Each build-up is tested when it has cured: sooner done where one takes a month, but the build-up and the day of its test, "
    "with its pour and its hand, cannot be told apart.",
}
