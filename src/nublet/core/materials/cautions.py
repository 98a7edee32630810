"""Cautions, shown at the step that needs them. Each defers to the label, the safety data sheet and local code."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Moment = Literal["prepare", "mix", "coat", "wipe", "lamp", "cure", "expose"]
DEFERS = "The label, the safety data sheet and local rules come first."


@dataclass(frozen=True, kw_only=True)
class Caution:
    """One hazard: what may happen, what to do, and the moments of the work at which it is shown."""

    id: str
    says: str
    do: str
    moments: frozenset[Moment]


CAUTIONS: dict[str, Caution] = {
    caution.id: caution
    for caution in (
        Caution(id="oily-rags", says="Rags wet with a drying oil heat themselves and can catch fire.", do="Lay each flat and single to dry, or put it in water in a lidded metal can.", moments=frozenset({"wipe"})),
        Caution(id="solvent-vapour", says="Solvent vapour harms and burns.", do="Ventilate, wear a respirator with the right cartridge; no flame, spark or hot block while it is open.", moments=frozenset({"mix", "coat", "wipe", "cure"})),
        Caution(id="alcohol-flame", says="Alcohol catches fire easily and its flame is hard to see.", do="Keep cups lidded and every flame and hot block away.", moments=frozenset({"mix", "coat"})),
        Caution(id="two-part", says="Hardeners irritate skin and eyes, and some sensitise for life.", do="Wear gloves and eye protection; mix only what the sitting needs.", moments=frozenset({"mix", "coat"})),
        Caution(id="sensitiser", says="Isocyanates and acid catalysts sensitise and harm the lungs.", do="Use the breathing protection of the safety data sheet; sensitised people stay away.", moments=frozenset({"mix", "coat"})),
        Caution(id="spraying", says="Sprayed finish is breathed in, and its mist burns.", do="Spray only with proper extraction, equipment and training.", moments=frozenset({"coat"})),
        Caution(id="uv-lamp", says="Ultraviolet lamps harm eyes and skin at once.", do="Shield the lamp, wear rated goggles and cover skin.", moments=frozenset({"lamp"})),
        Caution(id="sanding-dust", says="Wood dust harms the lungs and can explode.", do="Use extraction and a fitted mask; empty the bag outside.", moments=frozenset({"prepare"})),
        Caution(id="strong-dust", says="Dust of oily or tannin-rich woods irritates more and can bring allergies.", do="Extraction and a fitted mask, long sleeves; wash before a break.", moments=frozenset({"prepare"})),
        Caution(id="torch", says="A torch sets dust, rags and the bench alight; charred boards can glow inside.", do="Work outdoors or on bare masonry with water and an extinguisher at hand; watch the boards for an hour. Never char treated wood.", moments=frozenset({"prepare"})),
        Caution(id="treated-wood", says="Pressure-treated wood gives off poison when charred or sanded.", do="Do not char it; sand it only with full protection.", moments=frozenset({"prepare"})),
        Caution(id="hot-block", says="Hot blocks, irons and boiling water burn.", do="Use tongs and gloves; keep an extinguisher at hand and open solvents out of the room.", moments=frozenset({"expose"})),
        Caution(id="wood-wash", says="Cleaners, brighteners and de-greyers burn eyes and skin.", do="Goggles and gloves; rinse well; never with or after bleach or ammonia.", moments=frozenset({"mix", "coat", "wipe"})),
        Caution(id="bleach", says="Bleach with an acid or ammonia gives off poison gas.", do="Never in one sitting, never beside each other; rinse between.", moments=frozenset({"expose"})),
        Caution(id="ammonia", says="Ammonia burns eyes and lungs.", do="Ventilate, wear goggles and gloves; never with bleach.", moments=frozenset({"expose"})),
        Caution(id="flammable-agent", says="This agent burns.", do="Keep it away from hot blocks in place and time.", moments=frozenset({"expose"})),
        Caution(id="nut-oil", says="Nut-derived oils can bring on allergy.", do="Say so on anything that food or hands touch.", moments=frozenset({"coat"})),
        Caution(id="food-contact", says="Safe with food is what the label and the law say, and nothing more.", do="Wait for full cure and keep the maker's statement.", moments=frozenset({"cure"})),
    )
}  # fmt: skip
