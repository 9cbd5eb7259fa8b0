"""Days with the day first."""

DATE_INPUT_FORMATS = [
    "%d/%m/%Y",
    "%d/%m/%y",
    "%d.%m.%Y",
    "%d.%m.%y",
    "%d-%m-%Y",
    "%d %b %Y",
    "%d %B %Y",
    "%b %d, %Y",
    "%B %d, %Y",
]
DATETIME_INPUT_FORMATS = [f"{day} %H:%M" for day in DATE_INPUT_FORMATS] + DATE_INPUT_FORMATS
