"""The woods that ship. Figures are sensible round values for the kind; a plank may differ, and a shop adds its own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from nublet.core.errors import ShelfError
from nublet.core.plain import Longest, Span, as_plain, check_fields, from_plain, tidy

PoreStructure = Literal["ring-porous", "diffuse-porous", "softwood"]
PORE_WORDS: dict[PoreStructure, str] = {
    "ring-porous": "Ring-porous",
    "diffuse-porous": "Diffuse-porous",
    "softwood": "Softwood",
}


@dataclass(frozen=True, kw_only=True)
class Species:
    """A wood: density at 12 % moisture content in kg/m³, Janka hardness in N.

    ``absorbency`` multiplies the finish that a face needs, 1 for beech. ``tannin_rich`` woods blacken with
    iron and alkalis; ``oily`` woods hold finishes badly and slow oxidation.
    """

    id: str
    name: Annotated[str, Longest(120)]
    pores: PoreStructure
    density_kg_m3: Annotated[float, Span(80, 1400, "kg/m³")]
    janka_n: Annotated[float, Span(50, 25_000, "N")]
    absorbency: Annotated[float, Span(0.2, 4, "times beech")] = 1.0
    tannin_rich: bool = False
    oily: bool = False


SPECIES: dict[str, Species] = {
    wood.id: wood
    for wood in (
        Species(id="beech", name="Beech", pores="diffuse-porous", density_kg_m3=710, janka_n=6400),
        Species(id="sycamore", name="Sycamore", pores="diffuse-porous", density_kg_m3=610, janka_n=4700, absorbency=1.05),
        Species(id="elm", name="Elm", pores="ring-porous", density_kg_m3=560, janka_n=3700, absorbency=1.2),
        Species(id="larch", name="Larch", pores="softwood", density_kg_m3=590, janka_n=3700, absorbency=1.1),
        Species(id="white-oak", name="White oak", pores="ring-porous", density_kg_m3=750, janka_n=6000, absorbency=1.1, tannin_rich=True),
        Species(id="red-oak", name="Red oak", pores="ring-porous", density_kg_m3=700, janka_n=5700, absorbency=1.25, tannin_rich=True),
        Species(id="ash", name="Ash", pores="ring-porous", density_kg_m3=680, janka_n=5900, absorbency=1.15),
        Species(id="chestnut", name="Sweet chestnut", pores="ring-porous", density_kg_m3=560, janka_n=3000, absorbency=1.2, tannin_rich=True),
        Species(id="walnut", name="Walnut", pores="diffuse-porous", density_kg_m3=640, janka_n=4500, tannin_rich=True),
        Species(id="cherry", name="Cherry", pores="diffuse-porous", density_kg_m3=600, janka_n=4200, absorbency=0.95),
        Species(id="hard-maple", name="Hard maple", pores="diffuse-porous", density_kg_m3=700, janka_n=6400, absorbency=0.9),
        Species(id="birch", name="Birch", pores="diffuse-porous", density_kg_m3=660, janka_n=5600, absorbency=1.05),
        Species(id="alder", name="Alder", pores="diffuse-porous", density_kg_m3=500, janka_n=2900, absorbency=1.2),
        Species(id="lime", name="Lime", pores="diffuse-porous", density_kg_m3=540, janka_n=3100, absorbency=1.2),
        Species(id="pine", name="Pine", pores="softwood", density_kg_m3=520, janka_n=2400, absorbency=1.25),
        Species(id="spruce", name="Spruce", pores="softwood", density_kg_m3=450, janka_n=1700, absorbency=1.3),
        Species(id="teak", name="Teak", pores="ring-porous", density_kg_m3=650, janka_n=4700, absorbency=0.8, oily=True),
        Species(id="iroko", name="Iroko", pores="diffuse-porous", density_kg_m3=650, janka_n=5600, absorbency=0.85, oily=True, tannin_rich=True),
    )
}  # fmt: skip


def check_species(wood: Species) -> None:
    """Refuse a wood with figures that no wood has.

    Raises
    ------
    ShelfError
        If a figure is out of range or the name is empty; ``field`` says which.
    """
    if not tidy(wood.name):
        raise ShelfError("Give the wood a name, such as 'Reclaimed elm'.", field="name")
    check_fields(wood)


def species_as_dict(wood: Species) -> dict[str, Any]:
    """The wood as a plain mapping, without its id."""
    plain: dict[str, Any] = as_plain(wood, leave=("id",))
    return plain


def species_from_dict(plain: Mapping[str, Any], *, species_id: str = "", is_stored: bool = False) -> Species:
    """Read a wood and check it. Fields that are missing keep their defaults.

    One that ``is_stored`` was checked when it was saved, and is read as it is: limits may since have narrowed, and it must still
    be shown.

    Raises
    ------
    ShelfError
        If a field is unknown, missing, of the wrong kind, or out of range.
    """
    wood = from_plain(Species, plain, given={"id": species_id})
    wood = replace(wood, name=tidy(wood.name))
    if not is_stored:
        check_species(wood)
    return wood
