"""Totals of N, P, K, Ca, Mg and S per litre of mix, and whose they are.

Total is not available: what the plant gets of it, and when, is another question.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import NUTRIENTS
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material, Range

# Nitrogen to sulfur of protein, and of hair, blood and feathers.
PROTEIN_N_TO_S, HAIR_N_TO_S = 15.0, 8.0
HAIR = frozenset(["feather", "blood"])


@dataclass(frozen=True, slots=True)
class MixIngredient:
    """A material with the grams of it in a litre of mix, as is. [g/L]."""

    material: Material
    g_per_l: float
    is_bulk: bool


@dataclass(frozen=True, slots=True)
class NutrientTotal:
    """The total of one element.

    Attributes
    ----------
    total : Figure
        Per litre of mixed soil. [mg/L]
    sources : dict of str to float
        What each material brings, by slug. [mg/L]
    target_mg_l : tuple of float
        What the crop takes up in its season. [mg/L]
    """

    element: str
    total: Figure
    sources: dict[str, float]
    target_mg_l: tuple[float, float]

    @property
    def is_short(self) -> bool:
        """Whether even all of it would be less than the crop takes up."""
        high = self.total.high
        return high is not None and high < self.target_mg_l[0]


def nitrogen_to_sulfur(material: Material) -> float | None:
    """Return the ratio that stands in for a sulfur figure, where only nitrogen is known."""
    known = material.composition
    if "S" in known or "S elemental" in known or "N" not in known:
        return None
    return HAIR_N_TO_S if material.release_class in HAIR else PROTEIN_N_TO_S


@cites("arithmetic", "grams a litre times percent times ten")
def concentration_mg_l(dose_g_l: float, percent: float) -> float:
    """Return the concentration that a dose brings.

    Parameters
    ----------
    dose_g_l : float
        Grams of material, as is, per litre of mixed soil. [g/L]
    percent : float
        Content of the element, as is. [%]

    Returns
    -------
    float
        Concentration. [mg/L]

    Examples
    --------
    >>> concentration_mg_l(10, 5)
    500
    """
    return 10 * dose_g_l * percent


def nutrient_total(
    element: str, ingredients: Sequence[MixIngredient], target_mg_l: tuple[float, float]
) -> NutrientTotal:
    """Return the total of an element and what each material brings of it.

    Parameters
    ----------
    element : str
        One of ``N P K Ca Mg S``.
    ingredients : sequence of Supply
        All parts and doses.
    target_mg_l : tuple of float
        The crop's season demand. [mg/L]

    Returns
    -------
    NutrientTotal
        With the materials whose analysis does not give the element named.
    """
    brought: dict[str, Range] = {}
    inputs, unknown, guessed = [], [], []
    for ingredient in ingredients:
        content = ingredient.material.composition.get(element)
        ratio = nitrogen_to_sulfur(ingredient.material) if element == "S" else None
        if ratio:
            nitrogen = ingredient.material.composition["N"]
            content = Range(*(p / ratio for p in (nitrogen.low, nitrogen.typ, nitrogen.high)))
            guessed.append(ingredient.material.name)
        if content is None:
            unknown.append(ingredient.material.name)
            continue
        given = Range(
            *(
                concentration_mg_l(ingredient.g_per_l, p)
                for p in (content.low, content.typ, content.high)
            )
        )
        slug = ingredient.material.slug
        before = brought.get(slug, Range(0, 0, 0))
        brought[slug] = Range(
            before.low + given.low, before.typ + given.typ, before.high + given.high
        )
        if given.typ:
            inputs.append(_input(ingredient, element, content, given))
    typ = sum(r.typ for r in brought.values())
    # Lots vary independently: their deviations add in quadrature.
    below = sum((r.typ - r.low) ** 2 for r in brought.values()) ** 0.5
    above = sum((r.high - r.typ) ** 2 for r in brought.values()) ** 0.5
    note = f"No analysis, so not counted: {', '.join(unknown)}." if unknown else ""
    if guessed:
        note += f" By its protein, nitrogen over 15 or 8: {', '.join(guessed)}."
    total = figure(
        NUTRIENTS[element],
        typ,
        concentration_mg_l,
        span=(max(typ - below, 0.0), typ + above),
        inputs=tuple(sorted(inputs, key=lambda i: -(i.value or 0))),
        method="for each material: grams per litre of mix × percent × 10, added up",
        note=note.strip(),
    )
    return NutrientTotal(element, total, {slug: r.typ for slug, r in brought.items()}, target_mg_l)


def _input(ingredient: MixIngredient, element: str, content: Range, given: Range) -> Input:
    material = ingredient.material
    return Input(
        label=material.name,
        value=given.typ,
        unit="mg/L",
        mark=material.mark_of(element),
        note=f"{sig(ingredient.g_per_l, 3)} g/L at {sig(content.typ, 3)} % {element}",
    )
