"""Rules on one layer over another, as data: what holds on what."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from nublet.core.materials.recipes import Layer

Severity = Literal["block", "warn", "note"]
SEVERITY_WORDS: dict[Severity, str] = {
    "block": "Will not hold",
    "warn": "Take care",
    "note": "Worth knowing",
}


@dataclass(frozen=True, kw_only=True)
class Beneath:
    """A layer and the one beneath it, as a pair rule sees them."""

    over: Layer
    under: Layer

    @property
    def is_cured(self) -> bool:
        """Whether the layer beneath has had its label's full cure before this one."""
        wait = self.over.wait_before_h
        return wait is None or wait >= 24 * self.under.product.cure_d(with_hardener=self.under.hardener)

    @property
    def is_early(self) -> bool:
        """Whether this layer comes before the recoat window beneath opens."""
        return (
            self.over.wait_before_h is not None and self.over.wait_before_h < self.under.product.recoat_h[0]
        )

    @property
    def is_late(self) -> bool:
        """Whether the recoat window beneath has closed."""
        closes = self.under.product.recoat_h[1]
        wait = self.over.wait_before_h
        return closes is not None and (wait is None or wait > closes)


PairTest = Callable[[Beneath], bool]
_TESTS: dict[str, PairTest] = {
    "cured": lambda pair: pair.is_cured,
    "uncured": lambda pair: not pair.is_cured,
    "early": lambda pair: pair.is_early,
    "late": lambda pair: pair.is_late,
    "unsanded": lambda pair: not pair.over.sanded_before,
    "sprayed": lambda pair: pair.over.applicator == "spray",
    "without-hardener": lambda pair: not pair.under.hardener,
    "same-product": lambda pair: pair.over.product == pair.under.product,
    "other-product": lambda pair: pair.over.product != pair.under.product,
}


@dataclass(frozen=True, kw_only=True)
class PairRule:
    """A rule on one layer over another.

    It holds when the layer beneath has one of the traits ``under`` and none of ``not_under``, the layer above one of
    ``over`` and none of ``not_over`` (an empty set asks nothing), and every test in ``when`` says so. Sanding to bare
    wood takes the layer beneath away, so no pair rule holds then. ``{over}`` and ``{under}`` in the words are the names.
    """

    id: str
    severity: Severity
    reason: str
    remedy: str
    under: frozenset[str] = frozenset()
    over: frozenset[str] = frozenset()
    not_under: frozenset[str] = frozenset()
    not_over: frozenset[str] = frozenset()
    when: tuple[str, ...] = ()

    def holds(self, pair: Beneath) -> bool:
        """Whether the rule holds for a layer and the one beneath."""
        under, over = pair.under.product.traits, pair.over.product.traits
        return (
            (not self.under or bool(self.under & under))
            and (not self.over or bool(self.over & over))
            and not self.not_under & under
            and not self.not_over & over
            and all(_TESTS[name](pair) for name in self.when)
        )


def trait_set(*traits: str) -> frozenset[str]:
    """Traits as a rule names them."""
    return frozenset(traits)


_OILS = trait_set("drying-oil", "hardwax-2k", "uv-oil")

PAIR_RULES: tuple[PairRule, ...] = (
    PairRule(id="wash-over-finish", severity="block", over=trait_set("wood-wash"), not_under=trait_set("wood-wash"), reason="{over} works on bare wood and is rinsed off: over {under} it only spoils what lies there.", remedy="Put {over} first, or wash under Preparation."),
    PairRule(id="over-wax", severity="block", under=trait_set("wax"), not_over=trait_set("wax", "dissolves-wax"), reason="Nothing holds on wax but wax: {over} will not grip {under}.", remedy="Put the wax on last, sand back to wood, or choose a product whose label says that it dissolves wax."),
    PairRule(id="wax-dissolver", severity="note", under=trait_set("wax"), over=trait_set("dissolves-wax"), not_over=trait_set("wax"), reason="The label says that {over} dissolves wax, so it may go over {under}; the wax stays in it and softens it.", remedy="Test the grip on an offcut first."),
    PairRule(id="over-hydrophobic", severity="block", under=trait_set("hydrophobic-topcoat"), not_over=trait_set("hydrophobic-topcoat"), reason="{under} sheds what is put on it: {over} will bead up and peel.", remedy="Put it on last, or sand it off first."),
    PairRule(id="hydrophobic-over-oil-wet", severity="block", under=trait_set("non-drying-oil"), over=trait_set("hydrophobic-topcoat"), reason="{under} never sets, so {over} has nothing to bond to.", remedy="Choose an oil that sets, or leave the topcoat off."),
    PairRule(id="hydrophobic-over-uncured", severity="block", under=trait_set("drying-oil", "film", "hardwax-2k"), over=trait_set("hydrophobic-topcoat"), when=("uncured",), reason="{over} seals {under} in before it has set; it stays soft.", remedy="Wait for full cure beneath."),
    PairRule(id="waxed-shellac-under-film", severity="block", under=trait_set("shellac-waxed"), over=trait_set("film"), not_over=trait_set("shellac"), reason="The natural wax in {under} keeps {over} from holding; it flakes.", remedy="Use dewaxed shellac beneath."),
    PairRule(id="waxed-shellac-under-oil", severity="warn", under=trait_set("shellac-waxed"), over=trait_set("penetrating"), reason="{under} seals the wood and its wax repels {over}.", remedy="Put the oil first, or sand to wood."),
    PairRule(id="film-over-never-setting", severity="block", under=trait_set("non-drying-oil"), over=trait_set("film"), reason="{under} stays wet in the wood: {over} will not hold on it and may never dry.", remedy="Use an oil that sets, or keep to the oil alone."),
    PairRule(id="oil-over-never-setting", severity="warn", under=trait_set("non-drying-oil"), over=_OILS | trait_set("stain", "conditioner"), reason="{under} never sets and mixes with {over}, which then dries slowly and unevenly.", remedy="Put {over} on bare wood."),
    PairRule(id="water-over-wet-oil", severity="block", under=_OILS, over=trait_set("waterborne", "strong-solvent"), when=("uncured",), reason="{under} is not fully cured: {over} crawls, wrinkles or peels on it.", remedy="Wait for full cure, or put dewaxed shellac between."),
    PairRule(id="water-over-oil", severity="warn", under=trait_set("drying-oil"), over=trait_set("waterborne", "strong-solvent"), when=("cured",), reason="{over} over an oil holds only as well as the oil has set and been cut back.", remedy="Scuff it, wipe with spirit, and put dewaxed shellac between when in doubt."),
    PairRule(id="film-over-hardwax", severity="warn", under=trait_set("hardwax-2k", "uv-oil", "hardwax-1k"), over=trait_set("film"), not_over=trait_set("shellac", "waterborne", "strong-solvent"), reason="The wax in {under} weakens the grip of {over}.", remedy="Abrade well, or choose one of the two."),
    PairRule(id="film-over-2k-oil", severity="warn", under=trait_set("hardwax-2k", "uv-oil"), over=trait_set("waterborne", "strong-solvent"), reason="The hard wax in {under} weakens the grip of {over}.", remedy="Abrade well, and put dewaxed shellac between."),
    PairRule(id="shellac-over-wet-oil", severity="warn", under=trait_set("drying-oil"), over=trait_set("shellac"), when=("uncured",), reason="Shellac seals {under} before it has set; it cracks later.", remedy="Wait for full cure; the drop of oil in French polishing is another matter."),
    PairRule(id="varnish-over-wet-oil", severity="warn", under=trait_set("drying-oil"), over=trait_set("oil-varnish"), when=("early",), reason="{under} is still wet: {over} wrinkles over it.", remedy="Wait until the recoat window beneath opens."),
    PairRule(id="dewaxed-bridge", severity="note", under=trait_set("shellac-dewaxed"), over=trait_set("film", "top"), not_over=trait_set("shellac"), reason="Dewaxed shellac holds on nearly everything and under nearly everything: {over} over it is sound.", remedy="Keep it thin, two coats at most."),
    PairRule(id="oil-over-film", severity="warn", under=trait_set("film"), over=trait_set("penetrating"), not_over=trait_set("stain", "conditioner", "wood-wash"), not_under=trait_set("shellac-waxed"), reason="{over} cannot soak in through {under}: it stays on top, sticky.", remedy="Sand back to wood first."),
    PairRule(id="stain-over-film", severity="block", under=trait_set("film", "top"), over=trait_set("stain"), not_under=trait_set("wax", "hydrophobic-topcoat"), reason="{over} colours wood, and {under} keeps it from the wood.", remedy="Stain bare wood first, or use a tinted film."),
    PairRule(id="stain-over-oil", severity="warn", under=_OILS, over=trait_set("stain"), reason="{under} has filled the wood: {over} takes unevenly, or wipes off.", remedy="Stain first, or use a tinted oil."),
    PairRule(id="conditioner-over-finish", severity="warn", under=_OILS | trait_set("film"), over=trait_set("conditioner"), reason="A conditioner evens the thirst of bare wood; over {under} it only adds a weak layer.", remedy="Put the conditioner first."),
    PairRule(id="stain-under-oil", severity="note", under=trait_set("stain"), over=trait_set("penetrating"), not_over=trait_set("stain", "conditioner"), reason="The stain's binder takes room in the pores: {over} soaks in less, and rubbing may lift colour.", remedy="Wait until the stain is dry and wipe gently; or use a tinted oil."),
    PairRule(id="spirit-stain-dragged", severity="warn", under=trait_set("stain"), over=trait_set("film"), when=("early",), reason="{under} is not dry: {over} drags the colour.", remedy="Wait until its window opens, or seal with dewaxed shellac."),
    PairRule(id="conditioner-under-oil", severity="note", under=trait_set("conditioner"), over=_OILS | trait_set("non-drying-oil"), reason="A conditioned or sealed wood takes less of {over}: the result tests the sealer too.", remedy="Leave the conditioner off unless the question is about it."),
    PairRule(id="strong-over-varnish", severity="warn", under=trait_set("oil-varnish"), over=trait_set("strong-solvent"), when=("cured",), reason="The strong solvents of {over} can lift even a cured varnish.", remedy="Put dewaxed shellac between, or mist the first coat on."),
    PairRule(id="strong-over-wet-varnish", severity="block", under=trait_set("oil-varnish"), over=trait_set("strong-solvent"), when=("uncured",), reason="The strong solvents of {over} wrinkle a varnish that has not cured.", remedy="Wait for full cure and put dewaxed shellac between."),
    PairRule(id="catalysed-over-soft", severity="block", under=trait_set("lacquer", "shellac-waxed"), over=trait_set("catalysed-film"), reason="{over} shrinks as it cures and tears {under}, which stays soft, from the wood.", remedy="Put the catalysed film on bare wood or on its own sealer."),
    PairRule(id="catalysed-over-dewaxed", severity="warn", under=trait_set("shellac-dewaxed"), over=trait_set("catalysed-film"), reason="Shellac under a catalysed film may wrinkle; makers differ.", remedy="Use one very thin coat, or the film's own sealer."),
    PairRule(id="shellac-melts-in", severity="note", under=trait_set("shellac"), over=trait_set("shellac"), when=("other-product",), reason="Shellac melts into shellac: the two become one layer.", remedy="Count them as one when you read the result."),
    PairRule(id="lacquer-over-shellac", severity="note", under=trait_set("shellac-dewaxed"), over=trait_set("lacquer"), reason="Lacquer's solvents bite a little into shellac.", remedy="Mist the first coat."),
    PairRule(id="too-early", severity="warn", when=("early",), not_under=trait_set("stain"), not_over=trait_set("hydrophobic-topcoat", "waterborne", "strong-solvent", "oil-varnish"), reason="{over} follows before the recoat window of {under} opens: solvent is trapped and the layers stay soft.", remedy="Wait until the window opens."),
    PairRule(id="film-too-early", severity="warn", when=("early",), under=trait_set("film"), over=trait_set("waterborne", "strong-solvent", "oil-varnish"), reason="{over} follows before the recoat window of {under} opens: it may wrinkle and stays soft.", remedy="Wait until the window opens."),
    PairRule(id="window-closed", severity="warn", under=trait_set("film"), over=trait_set("film"), when=("late", "unsanded"), not_under=trait_set("shellac", "lacquer"), reason="The recoat window of {under} has closed: {over} needs tooth to hold.", remedy="Sand back with 320 before it, and say so in the recipe."),
    PairRule(id="penetrating-window-closed", severity="note", under=_OILS, over=_OILS, when=("late", "unsanded"), reason="{under} has set: a later coat of {over} is taken up less, and what stays on top turns sticky.", remedy="Wipe it dry, or burnish it in with a fine pad."),
    PairRule(id="no-hardener-beneath", severity="warn", under=trait_set("hardwax-2k"), when=("without-hardener", "uncured"), reason="Without its hardener {under} takes three to four weeks to set, and is covered before that.", remedy="Use the hardener, or wait."),
    PairRule(id="wax-over-wet", severity="warn", under=_OILS | trait_set("film"), over=trait_set("wax"), when=("early",), reason="Wax over a finish that is still wet softens it and goes cloudy.", remedy="Wait until the finish beneath is dry; best, cured."),
    PairRule(id="alcohol-over-young-waterborne", severity="note", under=trait_set("waterborne-clear"), over=trait_set("shellac"), when=("uncured",), reason="Alcohol softens a young waterborne film.", remedy="Use thin coats, or wait for full cure."),
)  # fmt: skip
