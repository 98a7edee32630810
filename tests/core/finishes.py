"""Invented products for the tests, and recipes made of them in one line."""

from __future__ import annotations

from typing import Any

from nublet.core.materials.preparations import Preparation
from nublet.core.materials.products import Container, Label, Part, Product
from nublet.core.materials.recipes import Layer, Recipe

HARDOIL = Product(
    id=1,
    name="Fellgate Hardoil 2K",
    family="hardwax-2k",
    parts=(Part(name="Base", share=9), Part(name="Hardener", share=1)),
    containers=(
        Container(amounts=(450, 50), price=29),
        Container(amounts=(900, 100), price=52),
        Container(amounts=(0, 100), price=12),
    ),
    label=Label(
        pot_life_min=240,
        finest_grit=150,
        spread_first_m2_per_l=30,
        spread_later_m2_per_l=50,
        wipe_off_from_min=3,
        wipe_off_to_min=15,
        recoat_from_h=24,
        recoat_to_h=72,
        coats=2,
        cure_d=7,
        cure_without_hardener_d=25,
    ),
    disclosure="full",
    food_contact="safe-once-cured",
)
TUNG = Product(
    id=2, name="Marrowby Tung", family="pure-drying-oil", disclosure="full", label=Label(cure_d=25)
)
VARNISH = Product(id=3, name="Cobble Lane Wiping Varnish", family="oil-varnish-blend")
SATIN = Product(id=4, name="Skarn Waterborne Satin", family="waterborne-clear")
SHELLAC = Product(id=5, name="Ousel Dewaxed Shellac", family="shellac-dewaxed")
BOARD_OIL = Product(id=6, name="Pikelaw Board Oil", family="non-drying-oil", disclosure="full")
WAX = Product(id=7, name="Bellwether Soft Wax", family="wax")
TOPCOAT = Product(id=8, name="Glasswing Hard Topcoat", family="hydrophobic-topcoat")
WAXED_SHELLAC = Product(id=9, name="Waxed shellac", family="shellac-waxed")
LACQUER = Product(id=10, name="Plain lacquer", family="lacquer")
POLY = Product(id=11, name="Long varnish", family="oil-varnish")
CATALYSED = Product(id=12, name="Two-part film", family="catalysed-film", parts=HARDOIL.parts)
STAIN = Product(id=13, name="Spirit stain", family="stain")
WASH = Product(id=90, name="Heath de-greyer", family="wood-wash")
CONDITIONER = Product(id=14, name="Wood conditioner", family="conditioner")
WAX_CUTTER = Product(id=15, name="Wax reviver", family="oil-varnish-blend", label=Label(dissolves_wax=True))
HARDWAX = Product(id=16, name="One-part hardwax", family="hardwax-1k")


def layer(product: Product, coats: int = 1, **more: Any) -> Layer:
    return Layer(product=product, coats=coats, **more)


def recipe(*layers: Product | Layer, **more: Any) -> Recipe:
    """Layers from the wood up; a product alone is one coat, the layer beneath fully cured."""
    return Recipe(
        layers=tuple(one if isinstance(one, Layer) else Layer(product=one) for one in layers), **more
    )


def prepared(*layers: Product | Layer, **preparation: Any) -> Recipe:
    return recipe(*layers, preparation=Preparation(**preparation))
