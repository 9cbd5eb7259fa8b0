"""What the shelf keeps: materials and their values, bags, measures, lab reports."""

from pelk.shelf.models.bags import Bag, StockMove
from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.models.materials import (
    Analysis,
    Material,
    MaterialQuerySet,
    ShelfItem,
    Value,
    cores_of,
)
from pelk.shelf.models.measures import HandMeasure

__all__ = [
    "Analysis",
    "Bag",
    "HandMeasure",
    "LabReport",
    "Material",
    "MaterialQuerySet",
    "Sample",
    "ShelfItem",
    "StockMove",
    "Value",
    "cores_of",
]
