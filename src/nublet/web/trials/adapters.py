"""Rows of a trial to the core's types and back."""

from __future__ import annotations

from collections.abc import Mapping

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Saw
from nublet.core.materials.compatibility import Setting
from nublet.core.materials.mixes import Measures
from nublet.core.materials.species import Species
from nublet.core.protocols.plain import protocol_from_plain
from nublet.core.protocols.tests import Protocol
from nublet.core.ranking.uses import Use
from nublet.web.trials.models import Trial


def protocol_of(trial: Trial) -> Protocol:
    """Return the trial's own protocol. Raises ``NubletError`` when it cannot be read."""
    return protocol_from_plain(trial.protocol_plain)


def measures_of(trial: Trial) -> Measures:
    """The smallest steps of what the trial's shop measures with."""
    return Measures(cup_step_ml=trial.shop.cup_step_ml, scale_step_g=trial.shop.scale_step_g)


def setting_of(trial: Trial, woods: Mapping[str, Species], uses: Mapping[str, Use]) -> Setting:
    """The woods and demands that a trial's recipes must stand up to; ``woods`` and ``uses`` are those that the shop knows."""
    chosen = [uses[use] for use in trial.uses if use in uses]
    return Setting(
        species=[woods[wood] for wood in trial.species if wood in woods],
        demands=frozenset().union(*(use.demands for use in chosen)),
        food_schools=frozenset(use.food_school for use in chosen if "food" in use.demands),
    )


def panel_size(trial: Trial) -> PanelSize:
    """The size of the trial's panels."""
    return PanelSize(length_mm=trial.panel_length_mm, width_mm=trial.panel_width_mm)


def saw_of(trial: Trial) -> Saw:
    """How the trial's boards are cut."""
    return Saw(kerf_mm=trial.kerf_mm, end_trim_mm=trial.end_trim_mm, end_piece_mm=trial.end_piece_mm)
