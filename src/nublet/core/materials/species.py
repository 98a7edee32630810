"""The woods that ship. Densities and hardness are sensible round values; a plank may differ."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

PoreStructure = Literal["ring-porous", "diffuse-porous", "softwood"]


@dataclass(frozen=True, kw_only=True)
class Species:
    """A wood: density at 12 % moisture content in kg/m³, Janka hardness in N."""

    id: str
    name: str
    pores: PoreStructure
    density_kg_m3: float
    janka_n: float
    tannin_rich: bool = False
    oily: bool = False


SPECIES: dict[str, Species] = {
    wood.id: wood
    for wood in (
        Species(id="beech", name="Beech", pores="diffuse-porous", density_kg_m3=710, janka_n=6400),
        Species(id="sycamore", name="Sycamore", pores="diffuse-porous", density_kg_m3=610, janka_n=4700),
        Species(id="elm", name="Elm", pores="ring-porous", density_kg_m3=560, janka_n=3700),
        Species(id="larch", name="Larch", pores="softwood", density_kg_m3=590, janka_n=3700),
    )
}  # fmt: skip
