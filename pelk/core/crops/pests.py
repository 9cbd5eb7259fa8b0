"""What is seen on pots, and what is done about it first: common practice, the gentle first."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Pest:
    """Something that troubles pots.

    Attributes
    ----------
    first : str
        What is done first.
    materials : tuple of str
        Of the library, where one helps; by its label.
    """

    slug: str
    name: str
    first: str
    materials: tuple[str, ...] = ()


PESTS = {
    pest.slug: pest
    for pest in (
        Pest(
            "gnats",
            "fungus gnats",
            "Let the top two fingers dry between waterings; sticky cards show how many fly. If "
            "they stay: Bti in the water, or nematodes, by their labels.",
            ("bti-granules", "predatory-nematodes"),
        ),
        Pest(
            "weevil",
            "vine weevil",
            "Pick the beetles off at night. Nematodes for the grubs while the soil is warm, by "
            "their label.",
            ("predatory-nematodes",),
        ),
        Pest("aphids", "aphids", "Wash them off with water, twice in a week; feed less nitrogen."),
        Pest("mites", "spider mites", "Rinse the undersides of the leaves; raise the humidity."),
        Pest("scale", "scale", "Wipe them off with a soft cloth and water; look again in a week."),
        Pest("slugs", "slugs", "Pick them at dusk, lift the pots off the ground."),
        Pest(
            "mildew",
            "mildew",
            "Take the worst leaves off, give it air, water the soil and not the leaves.",
        ),
        Pest(
            "yellow",
            "yellow leaves",
            "Old leaves first may be nitrogen, young ones iron or a pH that is off: read the pH "
            "and the salts before anything is given.",
        ),
        Pest("wilt", "wilting", "Lift a pot: light is thirst, heavy is roots that drown."),
    )
}
