"""How the answers of a feeding style are written on the screen."""

from pelk.core.materials.feeding_styles import CHOICES, Answer, FeedingWay

# What does not follow from the key.
WORDS: dict[Answer, str] = {FeedingWay.CHARGE_AND_TOP_DRESS: "charge and top-dress"}


def word_of(answer: Answer) -> str:
    """Write an answer: ``living soil``."""
    return WORDS.get(answer, answer.value.replace("-", " "))


def choices_of(question: str) -> tuple[tuple[str, str], ...]:
    """Return what can be chosen for a question: key and word."""
    return tuple((answer.value, word_of(answer)) for answer in CHOICES[question])
