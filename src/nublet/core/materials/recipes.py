"""Recipes: the ordered work that a build-up stands for: preparation, layers, final treatment.

A recipe is stored as one plain mapping that names products by their shelf number (:func:`recipe_as_dict`,
:func:`recipe_from_dict`). A layer without a product is known by its family alone, and uses the family's usual figures.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from nublet.core.errors import BuildUpError
from nublet.core.materials.preparations import Preparation, preparation_from_dict
from nublet.core.materials.products import Product, unnamed_product
from nublet.core.plain import Longest, as_plain, check_fields, from_plain

MAX_LAYERS = 12
MAX_COATS = 20
# Letters of a note on a coat.
MAX_NOTE = 200
_PLAIN_WOOD = Preparation()

Applicator = Literal["rag", "pad", "brush", "foam", "roller", "spray", "burnished"]
StopRule = Literal["coats", "even-sheen"]
Final = Literal["none", "waxed", "buffed", "matted"]
Faces = Literal["both", "one"]

FINAL_WORDS: dict[Final, str] = {
    "none": "As it dries",
    "waxed": "Waxed",
    "buffed": "Buffed",
    "matted": "Rubbed matt",
}
APPLICATOR_WORDS: dict[Applicator, str] = {
    "rag": "Rag",
    "pad": "Pad",
    "brush": "Brush",
    "foam": "Foam",
    "roller": "Roller, then pad",
    "spray": "Spray",
    "burnished": "Burnished in with fine paper",
}


@dataclass(frozen=True, kw_only=True)
class Layer:
    """One product, in ``coats`` coats.

    ``wait_before_h`` is the time since the layer beneath, ``None`` for "fully cured first"; it means nothing for the
    first layer. ``sanded_before`` cuts back what lies beneath; ``to_wood`` cuts it back to bare wood.
    ``wait_between_h`` is the recipe's own wait between its coats, ``None`` for the label's window. ``notes`` are the tester's words for
    each coat in turn, such as the wheel and its speed.
    ``thinned_pct`` is the thinner as a share of the product's volume, ``thinned_by_coat`` that of each coat in turn where they differ,
    such as a first coat thinned by half; later coats are as ``thinned_pct`` says. ``hardener`` is false when a two-part product
    is used without its hardener.
    """

    product: Product
    coats: int = 1
    applicator: Applicator = "rag"
    stop_rule: StopRule = "coats"
    abrade_between: str = ""
    wait_before_h: float | None = None
    sanded_before: bool = False
    to_wood: bool = False
    thinned_pct: float = 0.0
    hardener: bool = True
    wait_between_h: float | None = None
    notes: tuple[str, ...] = ()
    thinned_by_coat: tuple[float, ...] = ()

    @property
    def recoat_h(self) -> tuple[float, float | None]:
        """Hours between its coats: its own wait, or from and to by the label."""
        opens_h, closes_h = self.product.recoat_h
        if self.wait_between_h is None:
            return opens_h, closes_h
        is_past = closes_h is not None and self.wait_between_h > closes_h
        return self.wait_between_h, None if is_past else closes_h

    def thinned_of(self, coat: int) -> float:
        """Thinner in a coat, from 1, as a share of the product's volume, %."""
        return self.thinned_by_coat[coat - 1] if coat <= len(self.thinned_by_coat) else self.thinned_pct

    @property
    def most_thinned_pct(self) -> float:
        """The most thinner that any of its coats has."""
        return max(self.thinned_of(coat) for coat in range(1, self.coats + 1))

    def only(self, coat: int) -> Layer:
        """One of its coats, from 1, as a layer of its own."""
        return replace(
            self, coats=1, thinned_pct=self.thinned_of(coat), thinned_by_coat=(), notes=(self.note_of(coat),)
        )

    def first(self, coats: int) -> Layer:
        """So many of its coats from the first on, with what is said of these alone."""
        return replace(
            self, coats=coats, thinned_by_coat=self.thinned_by_coat[:coats], notes=self.notes[:coats]
        )

    def note_of(self, coat: int) -> str:
        """The tester's words for a coat, from 1; empty for none."""
        return self.notes[coat - 1] if coat <= len(self.notes) else ""


@dataclass(frozen=True, kw_only=True)
class Recipe:
    """Preparation, layers in order from the wood up, final treatment.

    ``final_product`` is the wax of a waxed finish. ``experiment_reason`` declares a blocked combination as an
    experiment, in the tester's words; empty for every other recipe.
    """

    layers: tuple[Layer, ...]
    preparation: Preparation = _PLAIN_WOOD
    final: Final = "none"
    final_product: Product | None = None
    faces: Faces = "both"
    experiment_reason: Annotated[str, Longest(2000)] = ""

    @property
    def all_layers(self) -> tuple[Layer, ...]:
        """The layers, and the wax of a waxed finish as one coat on top."""
        if self.final == "waxed" and self.final_product is not None:
            return (*self.layers, Layer(product=self.final_product, abrade_between=""))
        return self.layers

    @property
    def leading_layer(self) -> Layer:
        """The layer by which the build-up is known: the last film, else the last that is neither wax nor colour."""
        films = [layer for layer in self.layers if layer.product.kind.seat == "on"]
        plain = [
            layer
            for layer in self.layers
            if layer.product.family not in ("wax", "stain", "conditioner", "wood-wash")
        ]
        return (films or plain or list(self.layers))[-1]


def simple_recipe(family: str, coats: int) -> Recipe:
    """A recipe of one layer, known by its family alone.

    Raises
    ------
    ShelfError, BuildUpError
        If there is no such family, or the coats are out of range.
    """
    recipe = Recipe(layers=(Layer(product=unnamed_product(family), coats=coats),))
    check_recipe(recipe)
    return recipe


_WIPED: Applicator = "rag"
_HABIT: dict[str, Applicator] = {
    "shellac-waxed": "pad",
    "shellac-dewaxed": "pad",
    "lacquer": "brush",
    "oil-varnish": "brush",
    "waterborne-clear": "foam",
    "catalysed-film": "brush",
    "conditioner": "brush",
    "wood-wash": "brush",
}


def recipe_by_label(product: Product) -> Recipe:
    """The recipe that a product's label asks for, where it is silent what is usual for the family.

    Grits are 80-120-180-240 up to the label's finest.
    """
    finest = product.label.finest_grit or 180
    return Recipe(
        preparation=Preparation(
            grits=tuple(grit for grit in (80, 120, 180, 240) if grit <= finest) or (round(finest),),
            water_popped="waterborne" in product.traits,
        ),
        layers=(
            Layer(
                product=product,
                coats=round(product.label.coats or 2),
                applicator=_HABIT.get(product.family, _WIPED),
                abrade_between=product.label.abrade_between,
            ),
        ),
    )


def check_recipe(recipe: Recipe) -> None:
    """Refuse a recipe that nobody could carry out. Whether it will hold is the compatibility rules' business.

    Raises
    ------
    BuildUpError
        ``field`` is the dotted path of the part at fault.
    """
    preparation = recipe.preparation
    # Its products were checked when they were put on the shelf.
    check_fields(replace(recipe, layers=(), final_product=None), error=BuildUpError)
    if len(preparation.grits) > 8:
        raise BuildUpError("A grit sequence has at most 8 steps. Remove some.", field="preparation.grits")
    for grit in (
        *preparation.grits,
        *([] if preparation.end_grain_grit is None else [preparation.end_grain_grit]),
    ):
        if not 16 <= grit <= 5000:
            raise BuildUpError(f"There is no {grit} grit. Give 16 to 5000.", field="preparation.grits")
    if not 1 <= len(recipe.layers) <= MAX_LAYERS:
        raise BuildUpError(
            f"A build-up has 1 to {MAX_LAYERS} layers; this has {len(recipe.layers)}. Add a layer, or use the bare control.",
            field="layers",
        )
    for index, layer in enumerate(recipe.layers):
        check_layer(layer, index)
    _check_final(recipe)


def check_layer(layer: Layer, index: int) -> None:
    """Refuse a layer that nobody could put on; it is the ``index``-th, from 0. Raises ``BuildUpError``."""
    name = layer.product.name
    if not 1 <= layer.coats <= MAX_COATS:
        raise BuildUpError(
            f"{name}: {layer.coats} coats cannot be. Give 1 to {MAX_COATS}.",
            field=f"layers.{index}.coats",
        )
    if not 0 <= layer.thinned_pct <= 400:
        raise BuildUpError(
            f"{name}: thinned by {layer.thinned_pct:g} %. Give 0 to 400.",
            field=f"layers.{index}.thinned_pct",
        )
    if len(layer.thinned_by_coat) > layer.coats or any(not 0 <= pct <= 400 for pct in layer.thinned_by_coat):
        raise BuildUpError(
            f"{name}: thinned coat by coat by {', '.join(f'{pct:g}' for pct in layer.thinned_by_coat)} %. Give 0 to 400, and at most one "
            f"for each of its {layer.coats} coats.",
            field=f"layers.{index}.thinned_by_coat",
        )
    if layer.wait_between_h is not None and not 0 <= layer.wait_between_h <= 10_000:
        raise BuildUpError(
            f"{name}: {layer.wait_between_h:g} h between coats. Give 0 to 10,000, or none for the label's.",
            field=f"layers.{index}.wait_between_h",
        )
    if any(len(note) > MAX_NOTE for note in layer.notes):
        raise BuildUpError(
            f"{name}: a note of more than {MAX_NOTE} letters. Keep it shorter.", field=f"layers.{index}.notes"
        )
    if len(layer.notes) > layer.coats:
        raise BuildUpError(
            f"{name}: {len(layer.notes)} notes for {layer.coats} coats. Write at most one a coat.",
            field=f"layers.{index}.notes",
        )
    if layer.wait_before_h is not None and not 0 <= layer.wait_before_h <= 10_000:
        raise BuildUpError(
            f"{name}: a wait of {layer.wait_before_h:g} h. Give 0 to 10,000, or 'fully cured'.",
            field=f"layers.{index}.wait_before_h",
        )


def _check_final(recipe: Recipe) -> None:
    if recipe.final == "waxed" and recipe.final_product is None:
        raise BuildUpError("Choose the wax of the final treatment.", field="final_product")
    if recipe.final_product is not None and recipe.final_product.family != "wax":
        raise BuildUpError(
            f"{recipe.final_product.name} is no wax. Choose a wax, or add it as a layer.",
            field="final_product",
        )


def recipe_as_dict(recipe: Recipe) -> dict[str, Any]:
    """The recipe as plain lists, mappings and numbers; products by shelf number, families where there is none."""
    return {
        "preparation": as_plain(recipe.preparation),
        "layers": [layer_as_dict(layer) for layer in recipe.layers],
        "final": recipe.final,
        "final_product": None if recipe.final_product is None else recipe.final_product.id,
        "faces": recipe.faces,
        "experiment_reason": recipe.experiment_reason,
    }


def layer_as_dict(layer: Layer) -> dict[str, Any]:
    """A layer as it stands in a plain recipe."""
    return {
        "product": layer.product.id,
        "family": layer.product.family,
        **as_plain(layer, leave=("product",)),
    }


def recipe_from_dict(
    plain: Mapping[str, Any], products: Mapping[int, Product], *, is_stored: bool = False
) -> Recipe:
    """Read a recipe and check it. ``products`` are those that it may name, by shelf number.

    One that ``is_stored`` was checked when it was saved, and is read as it is: a product may since have been corrected so
    that it could not be saved again, and must still be shown.

    Raises
    ------
    BuildUpError
        If it names a product that is not there, or nobody could carry it out.
    ShelfError
        If a layer without a product names an unknown family.
    """
    recipe = from_plain(
        Recipe,
        plain,
        error=BuildUpError,
        given={
            "preparation": preparation_from_dict(plain.get("preparation") or {}),
            "layers": tuple(
                layer_from_dict(layer, products, index) for index, layer in enumerate(plain.get("layers", ()))
            ),
            "final_product": _product(plain.get("final_product"), "wax", products, "final_product")
            if plain.get("final") == "waxed"
            else None,
        },
    )
    if not is_stored:
        check_recipe(recipe)
    return recipe


def product_ids(plain: Mapping[str, Any]) -> set[int]:
    """Shelf numbers of all products that a stored recipe names."""
    named = [layer.get("product") for layer in plain.get("layers", ())]
    if plain.get("final") == "waxed":
        named.append(plain.get("final_product"))
    return {number for number in named if number is not None}


def layer_from_dict(plain: Mapping[str, Any], products: Mapping[int, Product], index: int) -> Layer:
    """Read the ``index``-th layer of a plain recipe. Raises ``BuildUpError`` or ``ShelfError``."""
    at = f"layers.{index}"
    own = {name: value for name, value in plain.items() if name != "family"}
    product = _product(plain.get("product"), str(plain.get("family") or ""), products, f"{at}.product")
    return from_plain(Layer, own, at=at, error=BuildUpError, given={"product": product})


def _product(number: int | None, family: str, products: Mapping[int, Product], where: str) -> Product:
    if number is None:
        if not family:
            raise BuildUpError("Choose the product, or at least its family.", field=where)
        return unnamed_product(family)
    if number not in products:
        raise BuildUpError(f"Product {number} is not on your shelf. Choose another.", field=where)
    return products[number]
