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
        return ("frost", "Frost: heaps rest and no day counts. Cover them; leave the pen indoors.")
    if air_c < COLD_C:
        return "cold", "Cold: sulfur and meals hardly turn, so ready days move out."
    if air_c >= HOT_C:
        return "hot", "Hot: squeeze every heap, it dries in two days; dust masks on."
    return "mild", "Mild: heaps turn as the sums say."
