"""What a day's warmth means for resting heaps."""

from pelk.core.base.sources import cites

FROST_C, COLD_C, HOT_C = 0.0, 8.0, 28.0


@cites("trade", "nothing turns under 8 °C; frost does no harm; heat dries")
def weather_says(air_c: float) -> tuple[str, str]:
    """Return how the air stands for resting heaps, and what to do about it.

    Parameters
    ----------
    air_c : float
        Of the day. [°C]

    Returns
    -------
    tuple of str
        ``frost``, ``cold``, ``mild`` or ``hot``; and a sentence.
    """
    if air_c <= FROST_C:
        return (
            "frost",
            "Frost: nothing reacts, so today does not count towards ready. Cover the heaps and "
            "keep the pH pen indoors.",
        )
    if air_c < COLD_C:
        return "cold", "Cold: sulfur and meals hardly react, so ready dates move later."
    if air_c >= HOT_C:
        return (
            "hot",
            "Hot: squeeze-test every heap, because they dry within two days. Wear a dust mask.",
        )
    return "mild", "Mild: heaps keep to their forecast."
