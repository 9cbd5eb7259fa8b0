"""Bags: what was bought, what is left, and every time something went in or out."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from functools import cached_property

from django.conf import settings
from django.db import models
from django.urls import reverse
from django.utils import timezone

from pelk.core.materials.bags import KINDS, UnitPrices, package_of, unit_prices
from pelk.core.materials.cost import Package
from pelk.core.materials.material import Material as CoreMaterial
from pelk.shelf.models.materials import Material
from pelk.yards.models import YardScoped, YardScopedQuerySet


class BagQuerySet(YardScopedQuerySet):
    """Bags of a yard."""

    def in_use_order(self) -> BagQuerySet:
        """Put the oldest first: it is used up first."""
        return self.order_by("bought_on", "pk")

    def lots_on(self, slugs: Iterable[str], on: date) -> dict[str, str]:
        """Return the lot that each material was of on a day: what is printed, else the purchase."""
        rows = self.live().filter(material__slug__in=set(slugs), bought_on__lte=on)
        held = rows.in_use_order().values_list("material__slug", "lot", "pk")
        return {slug: lot or f"bag {pk}" for slug, lot, pk in held}

    def with_cores(self) -> BagQuerySet:
        """Bring along what the core needs to know of their contents."""
        materials = Material.objects.with_analysis()
        return self.prefetch_related(models.Prefetch("material", materials), "values")

    def not_empty(self) -> BagQuerySet:
        """Keep those with something left."""
        return self.filter(left__gt=0)


class Bag(YardScoped):
    """Some packages of one material, bought together.

    `holds` and `left` count in `measure`: kilograms for what is sold by weight, loosened
    litres for the rest. `left` is what the moves come to.
    """

    class Measure(models.TextChoices):
        LITRES = "L", "loosened litres"
        KILOGRAMS = "kg", "kilograms"

    material = models.ForeignKey(Material, models.CASCADE, related_name="bags")
    kind = models.CharField(max_length=10, choices=[(k.key, k.name) for k in KINDS.values()])
    size = models.FloatField("as printed on one")
    unit = models.CharField(max_length=10)
    count = models.PositiveIntegerField("how many", default=1)
    price = models.DecimalField("price of one", max_digits=10, decimal_places=2, null=True)
    bought_on = models.DateField(default=timezone.localdate)
    lot = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=200, blank=True)
    measure = models.CharField(max_length=2, choices=Measure)
    holds = models.FloatField("one holds")
    left = models.FloatField()

    objects = BagQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-bought_on", "-pk"]
        indexes = [models.Index(fields=["yard", "-bought_on", "-id"])]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("shelf:bag", args=[self.pk])

    @property
    def held(self) -> float:
        """What all of them held when bought. [measure]."""
        return self.holds * self.count

    @cached_property
    def core(self) -> CoreMaterial:
        """The material with this bag's own analysis, where it has one."""
        said = sorted(self.values.all(), key=lambda v: (v.created_at, v.pk))
        return self.material.core_with({v.fact: v for v in said if not v.deleted_at})

    def package(self, price: Decimal | None = None) -> Package:
        """Return one of them as the arithmetic of cost knows it."""
        paid = self.price if price is None else price
        return package_holding(self.measure, self.holds, paid)

    def prices(self) -> UnitPrices:
        """Return what a litre, a kilogram and a gram of nitrogen cost in it."""
        if self.price is None:
            return UnitPrices(None, None, None)
        return unit_prices(self.package(), self.core)


def package_holding(measure: str, holds: float, price: Decimal | None) -> Package:
    """Return a package that holds so many of its own measure."""
    size = {"litres": holds} if measure == Bag.Measure.LITRES else {"kg": holds}
    return Package(price=price or Decimal(0), **size)


def package_as_printed(
    kind: str, core: CoreMaterial, size_l: float | None, size_kg: float | None
) -> tuple[float, str]:
    """Return what a package holds in its own measure, loosened, and that measure."""
    package = package_of(kind, core, Decimal(0), litres=size_l, kg=size_kg)
    if package.kg is not None:
        return package.kg, Bag.Measure.KILOGRAMS
    return package.loose_litres(core), Bag.Measure.LITRES


class StockMove(models.Model):
    """Something that went into a bag or out of it."""

    class Why(models.TextChoices):
        BOUGHT = "bought", "bought"
        BATCH = "batch", "into a batch"
        COUNTED = "counted", "counted again"

    bag = models.ForeignKey(Bag, models.CASCADE, related_name="moves")
    amount = models.FloatField("in the bag's measure, out is negative")
    why = models.CharField(max_length=10, choices=Why)
    text = models.CharField(max_length=120, blank=True)
    url = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]
