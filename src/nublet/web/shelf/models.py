"""What a shop keeps on its shelf: products with their batches, woods and agents of its own, build-ups in versions."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from nublet.web.people.models import Person, Shop


class ShelfItem(models.Model):
    """Something on the shelf. ``plain`` is the core's plain mapping of it; the columns beside it are for finding.

    Nothing is ever deleted: what is archived is offered no more, and stays for the trials that used it.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="%(class)ss")
    name = models.CharField(max_length=120)
    plain = models.JSONField()
    is_archived = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True

    def __str__(self) -> str:
        return self.name


class ShelfProduct(ShelfItem):
    """A product. ``search_text`` holds the words by which it is found."""

    maker = models.CharField(max_length=120, blank=True)
    family = models.CharField(max_length=60)
    search_text = models.CharField(max_length=500)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name", "maker"], name="one_product_name_a_maker"),
        ]
        indexes = [models.Index(fields=["shop", "is_archived", "name"], name="products_by_name")]


class KeyedItem(ShelfItem):
    """Something of the shop's own beside what ships in the core. ``key`` is its id beside theirs, from its first name."""

    key = models.CharField(max_length=60)

    class Meta:
        abstract = True


class ShelfSpecies(KeyedItem):
    """A wood."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="one_wood_name_a_shop"),
            models.UniqueConstraint(fields=["shop", "key"], name="one_wood_a_key"),
        ]


class ShelfAgent(KeyedItem):
    """An agent."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="one_agent_name_a_shop"),
            models.UniqueConstraint(fields=["shop", "key"], name="one_agent_a_key"),
        ]


class ShelfUse(KeyedItem):
    """A use."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="one_use_name_a_shop"),
            models.UniqueConstraint(fields=["shop", "key"], name="one_use_a_key"),
        ]


class ShelfProtocol(KeyedItem):
    """A protocol. A trial that takes it keeps a copy of its own."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="one_protocol_name_a_shop"),
            models.UniqueConstraint(fields=["shop", "key"], name="one_protocol_a_key"),
        ]


class ProductBatch(models.Model):
    """A container of a product as it stands on the shelf."""

    product = models.ForeignKey(ShelfProduct, on_delete=models.PROTECT, related_name="batches")
    number = models.CharField(max_length=60)
    opened_on = models.DateField(null=True)
    best_before = models.DateField(null=True)
    is_used_up = models.BooleanField(default=False)
    note = models.TextField(blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["product", "number"], name="one_batch_number_a_product")
        ]


class BuildUp(models.Model):
    """A build-up that the shop's trials compare, by name; what it is stands in its versions.

    A benchmark is one whose behaviour the shop knows already: every new trial begins with it.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="build_ups")
    name = models.CharField(max_length=120)
    is_benchmark = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["shop", "name"], name="one_build_up_name_a_shop")]

    def __str__(self) -> str:
        return self.name


class BuildUpVersion(models.Model):
    """One version of a build-up: the core's plain mapping of its recipe.

    Once a trial that uses it has started it is frozen: ``products`` then holds the products as they were, by shelf
    number, and neither changes again.
    """

    build_up = models.ForeignKey(BuildUp, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveSmallIntegerField()
    recipe = models.JSONField()
    products = models.JSONField(default=dict)
    frozen_at = models.DateTimeField(null=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["build_up", "number"], name="one_version_a_number"),
            models.CheckConstraint(condition=Q(number__gte=1), name="versions_count_from_one"),
        ]

    @property
    def is_frozen(self) -> bool:
        """Whether a started trial uses it."""
        return self.frozen_at is not None
