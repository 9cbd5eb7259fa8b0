"""What Cure says after a deed, or where it cannot be done."""

from pelk.cure.domain.learning import FarOff, Jump

NOT_SAVED = "Not saved. {why}"
BATTERY_WEAK = "The battery is at {share:.0f}%, so this reading may be wrong."
BATTERY_FADING = "The battery is at {share:.0f}%. Change it soon."
IMPORTED = "{count} readings imported."
THERE_ALREADY = " {count} were there already."
OUTSIDE = "is not between mixing day and now"
GIVE_HOW = "Enter how much as a number up to {most:g} g/L."
GIVE_WHICH = "Enter {name} as a number from 0 to {most:g} g/L."
NOTED = "Noted in the log."
SAY_WHY = "Say why: next year you will want to know."
CALENDAR = "{yard}: heaps and pots"
REVOKED = "The address is revoked. Calendars that used it no longer update."
FAR_OFF = "pH {ph:g} is far from today’s forecast of {low:.1f} to {high:.1f}."
JUMP = "pH {ph:g} is a big change from {last:g}, {days:.0f} days earlier."
PICTURE_AWAY = "The picture is deleted."
IMPORT_UNDONE = "{row.count} readings of a logger are undone."
READING_OUT = "The reading is struck out."


def doubt(odd: FarOff | Jump | None) -> str:
    """Say what is odd about a reading; empty where nothing is."""
    if odd is None:
        return ""
    if isinstance(odd, FarOff):
        return FAR_OFF.format(ph=odd.ph, low=odd.low, high=odd.high)
    return JUMP.format(ph=odd.ph, last=odd.last, days=odd.days)
