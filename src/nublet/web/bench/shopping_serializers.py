"""What to buy, as the API shows it."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.core.materials.shopping import ThinnerNeed
from nublet.web.api.plain import shown


class PurchaseLineSerializer(serializers.Serializer[Any]):
    """So many of one container."""

    amounts = serializers.ListField(child=serializers.FloatField())
    count = serializers.IntegerField()
    price = serializers.FloatField()


ThinnerSerializer = shown(ThinnerNeed, name="ThinnerSerializer")


class ProductNeedSerializer(serializers.Serializer[Any]):
    """What the trial needs of a product and what to buy for it; ``unit`` is that of the amounts.

    ``mixed_ml`` goes into the cups, ``spread_ml`` of it on the wood, waste included.
    """

    product = serializers.CharField()
    unit = serializers.ChoiceField(choices=["volume", "weight"])
    parts = serializers.ListField(child=serializers.CharField())
    spread_ml = serializers.FloatField()
    mixed_ml = serializers.FloatField()
    needs = serializers.ListField(child=serializers.FloatField())
    lines = PurchaseLineSerializer(many=True)
    cost = serializers.FloatField(allow_null=True)
    left_over = serializers.ListField(child=serializers.FloatField())
    says = serializers.CharField()

    def to_representation(self, instance: Any) -> dict[str, Any]:
        """Only the containers that are bought."""
        purchase, product = instance.purchase, instance.product
        lines = [] if purchase is None else zip(product.containers, purchase.counts, strict=True)
        return {
            "product": product.name,
            "unit": product.sold_by,
            "parts": [part.name for part in product.parts],
            "spread_ml": instance.spread_ml,
            "mixed_ml": instance.mixed_ml,
            "needs": list(instance.parts),
            "lines": [
                {"amounts": list(box.amounts), "count": count, "price": box.price}
                for box, count in lines
                if count
            ],
            "cost": None if purchase is None else purchase.cost,
            "left_over": [] if purchase is None else list(purchase.left_over),
            "says": instance.says,
        }


class ShoppingSerializer(serializers.Serializer[Any]):
    """What to buy for what will be mixed, by the plan or as reckoned."""

    is_planned = serializers.BooleanField()
    n_panels = serializers.IntegerField()
    products = ProductNeedSerializer(many=True)
    thinners = ThinnerSerializer(many=True)
