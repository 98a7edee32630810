"""The sections model: two levels at which chance enters, whole panels and the sections on them (a split plot).

    y_ibs = μ + system_i + board_b + d_ib + section_s + (system.section)_is + e_ibs
    d_ib ~ N(0, σ_d²),  e_ibs ~ N(0, σ²),  all independent

y_ibs is the value of section s on the panel that carries build-up i on board b (``PanelValue.value``). Build-ups are compared
between panels, sections within them, which is sharper. Both strata are fitted by least squares:

- *within panels* the sections of each build-up are a blocks model of their own, the panels its blocks; the residual of all of
  them together is the error of the section stratum (``MS_e``, df_e). Section and system x section are tested against it.
- *between panels* a panel's value is the mean of its sections, freed of the sections' effects where one is missing; systems and
  boards are a blocks model of these. Its error is s times as large in units of one section (``MS_d``, the usual Error(a)).

A cell, one section of one build-up, has both errors: Var(cell_is - cell_js) = 2 [MS_d + (s - 1) MS_e] / (b s) in balanced tables,
on Satterthwaite's degrees of freedom.

With every panel whole and every build-up on every board this is the classical analysis. With missing sections the strata are not
orthogonal; what panels tell of sections (inter-panel information) is then not recovered, and panels with fewer sections count
alike.

References
----------
Yates, F. (1935). Complex experiments. Supplement to the JRSS 2, 181-247.
Cochran, W. G. and Cox, G. M. (1957). Experimental Designs, 2nd ed., section 7.16. Wiley (the four standard errors).
Satterthwaite, F. E. (1946). An approximate distribution of estimates of variance components. Biometrics Bulletin 2, 110-114.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nublet.core.errors import ReadingsError
from nublet.core.evidence.fit import Effect, Fit, Stratum
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.readings import PanelValue

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class SectionsFit:
    """A fitted split plot.

    Attributes
    ----------
    panels : Fit
        Systems over all sections; its first stratum is ``panel``, in units of one section.
    sections : Fit
        Sections over all systems, in the stratum ``section``.
    within : mapping of system to Fit
        The sections of one system, in the stratum ``section``.
    cells : ndarray, shape (k, s)
        Means by system and section.
    panel_part : ndarray, shape (k, k)
        Times ``MS_d / s`` the covariance of the systems' means.
    section_part : ndarray, shape (k, s, s)
        Times ``MS_e`` the covariance of a system's sections about its mean.
    set_aside : tuple of str
        Systems that do not carry every section, and are no part of this.
    panel_values, section_values : tuple of PanelValue
        What the two strata were fitted to; the panels' freed of the sections' effects.
    """

    panels: Fit
    sections: Fit
    within: Mapping[str, Fit]
    cells: FloatArray
    panel_part: FloatArray
    section_part: FloatArray
    set_aside: tuple[str, ...]
    panel_values: tuple[PanelValue, ...]
    section_values: tuple[PanelValue, ...]

    @property
    def effects(self) -> tuple[Effect, ...]:
        """System in its stratum, then section and their meeting in theirs."""
        return (*self.panels.effects, *self.sections.effects)

    @property
    def n_sections(self) -> int:
        """How many sections a whole panel has."""
        return len(self.sections.systems)

    @property
    def panel_error(self) -> Stratum:
        """The error between panels."""
        return self.panels.strata[0]

    @property
    def section_error(self) -> Stratum:
        """The error within panels."""
        return self.sections.strata[0]

    def cell_errors(self) -> tuple[FloatArray, FloatArray] | None:
        """Standard errors and Satterthwaite's degrees of freedom of the cells, both (k, s); ``None`` without both errors."""
        own = np.diag(self.panel_part)[:, None]
        about = np.einsum("iss->is", self.section_part)
        return self._combine(np.broadcast_to(own, about.shape), about)

    def between_cells(self, section: int) -> tuple[FloatArray, FloatArray] | None:
        """Standard errors and degrees of freedom of the differences between systems at one section, both (k, k)."""
        u, own = self.panel_part, np.diag(self.panel_part)
        about = self.section_part[:, section, section]
        return self._combine(own[:, None] + own[None] - u - u.T, about[:, None] + about[None])

    def _combine(
        self, of_panels: FloatArray, of_sections: FloatArray
    ) -> tuple[FloatArray, FloatArray] | None:
        panel, section = self.panel_error, self.section_error
        if not panel.ms or not section.ms:
            return None
        v1 = of_panels * panel.ms / self.n_sections
        v2 = of_sections * section.ms
        whole = v1 + v2
        df = whole**2 / np.maximum(v1**2 / panel.df + v2**2 / section.df, 1e-300)
        return np.sqrt(whole), np.maximum(df, 1.0)


def fit_sections(values: Sequence[PanelValue], *, ends: tuple[float, float] | None = None) -> SectionsFit:
    """Fit a split plot.

    Parameters
    ----------
    values : sequence of PanelValue
        With their sections.
    ends : (float, float) or None
        The ends of the scale: build-ups all of whose values stand at one lend no error.

    Raises
    ------
    ReadingsError
        If fewer than two build-ups carry every section, no panel carries two, or boards or panels do not link what is compared.
    """
    section_names = sorted({value.section for value in values})
    on: dict[str, set[str]] = defaultdict(set)
    for value in values:
        on[value.system].add(value.section)
    kept = sorted(system for system, sections in on.items() if len(sections) == len(section_names))
    if len(section_names) < 2 or len(kept) < 2:
        raise ReadingsError(
            "Fewer than two build-ups carry every section, so build-ups and sections cannot be weighed together: "
            "each section is weighed by itself.",
            field="section",
        )
    inside = tuple(value for value in values if value.system in set(kept))
    if len({value.panel for value in inside}) == len(inside):
        raise ReadingsError(
            "No panel carries two sections, so that nothing holds one section against another: "
            "each section is weighed by itself.",
            field="section",
        )
    as_sections = tuple(_on_panels(value) for value in inside)
    apart = {
        system: fit_blocks([v for v, w in zip(as_sections, inside, strict=True) if w.system == system])
        for system in kept
    }
    error = _section_error(inside, apart, ends)
    section_stratum = Stratum(name="section", df=error[1], ms=error[0], systems=error[2])
    within = {system: _in_stratum(fit, section_stratum) for system, fit in apart.items()}
    together = fit_blocks(as_sections)
    about = {system: fit.means - fit.means.mean() for system, fit in apart.items()}
    place = {section: index for index, section in enumerate(section_names)}
    panel_values = _panel_means(inside, about, place)
    panels = _panel_stratum(fit_blocks(panel_values, ends=ends), len(section_names))
    rss_apart = sum(float(fit.residuals @ fit.residuals) for fit in apart.values())
    sections = replace(
        _in_stratum(together, section_stratum),
        effects=_section_effects(
            together, rss_apart, sum(fit.residual_df for fit in apart.values()), section_stratum
        ),
    )
    centre = np.eye(len(section_names)) - 1 / len(section_names)
    return SectionsFit(
        panels=panels,
        sections=sections,
        within=within,
        cells=panels.means[:, None] + np.array([about[system] for system in panels.systems]),
        panel_part=panels.unscaled * len(section_names),
        section_part=np.array([centre @ apart[system].unscaled @ centre for system in panels.systems]),
        set_aside=tuple(sorted(set(on) - set(kept))),
        panel_values=tuple(panel_values),
        section_values=as_sections,
    )


def _on_panels(value: PanelValue) -> PanelValue:
    """A section as what is compared, its panel as the block."""
    return replace(value, system=value.section, board=value.panel, section="")


def _in_stratum(fit: Fit, stratum: Stratum) -> Fit:
    return replace(fit, strata=(stratum,), effects=(), has_variance=stratum.ms is not None and stratum.ms > 0)


def _section_error(
    inside: Sequence[PanelValue], apart: Mapping[str, Fit], ends: tuple[float, float] | None
) -> tuple[float | None, int, tuple[str, ...]]:
    """The error within panels: of the systems that vary, where some stand at an end of the scale with all their sections."""
    stuck = set()
    if ends is not None:
        for system in apart:
            found = {value.value for value in inside if value.system == system}
            if len(found) == 1 and (min(found) <= ends[0] or max(found) >= ends[1]):
                stuck.add(system)
    named = tuple(system for system in apart if system not in stuck) or tuple(apart)
    df = sum(apart[system].residual_df for system in named)
    rss = sum(float(apart[system].residuals @ apart[system].residuals) for system in named)
    floor = (1e-11 * max(max(abs(value.value) for value in inside), 0.0)) ** 2
    if df < 1:
        return None, df, named
    ms = rss / df
    return (ms if ms > floor else 0.0), df, named


def _panel_means(
    inside: Sequence[PanelValue], about: Mapping[str, FloatArray], place: Mapping[str, int]
) -> list[PanelValue]:
    """One value a panel, at the mean of all sections whichever of them are there."""
    by_panel: dict[str, list[PanelValue]] = defaultdict(list)
    for value in inside:
        by_panel[value.panel].append(value)
    return [
        replace(
            rows[0],
            section="",
            value=float(np.mean([row.value - about[row.system][place[row.section]] for row in rows])),
        )
        for _, rows in sorted(by_panel.items())
    ]


def _panel_stratum(fit: Fit, n_sections: int) -> Fit:
    """The fit of panel means in units of one section: its error is s times as large, and so much less of it is in a mean."""
    stratum = fit.strata[0]
    ms = None if stratum.ms is None else stratum.ms * n_sections
    return replace(
        fit, design="sections", unscaled=fit.unscaled / n_sections, strata=(replace(stratum, ms=ms),)
    )


def _section_effects(together: Fit, rss_apart: float, df_apart: int, stratum: Stratum) -> tuple[Effect, ...]:
    """Section over all systems, and what the sections do differently on different systems."""
    if not stratum.ms or stratum.df < 1:
        return ()
    k = len(together.systems)
    contrasts = np.hstack([np.eye(k - 1), -np.ones((k - 1, 1))])
    seen = contrasts @ together.means
    spread = contrasts @ together.unscaled @ contrasts.T
    f = max(float(seen @ np.linalg.solve(spread, seen)), 0.0) / (k - 1) / stratum.ms
    found = [
        Effect(
            effect="section",
            stratum="section",
            f=f,
            df=(k - 1, stratum.df),
            p=float(special.fdtrc(k - 1, stratum.df, f)),
        )
    ]
    df = together.residual_df - df_apart
    if df > 0:
        rss = float(together.residuals @ together.residuals)
        f = max(rss - rss_apart, 0.0) / df / stratum.ms
        found.append(
            Effect(
                effect="system:section",
                stratum="section",
                f=f,
                df=(df, stratum.df),
                p=float(special.fdtrc(df, stratum.df, f)),
            )
        )
    return tuple(found)
