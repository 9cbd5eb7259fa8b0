"""How a sentence begins."""


def capital(text: str) -> str:
    """Return a text with its first letter large; ``pH`` is written so everywhere."""
    return text if text.startswith("pH") else text[:1].upper() + text[1:]
