"""Days with the month first."""

DATE_INPUT_FORMATS = [
    "%m/%d/%Y",
    "%m/%d/%y",
    "%m.%d.%Y",
    "%m.%d.%y",
    "%m-%d-%Y",
    "%d %b %Y",
    "%d %B %Y",
    "%b %d, %Y",
    "%B %d, %Y",
]
DATETIME_INPUT_FORMATS = [f"{day} %H:%M" for day in DATE_INPUT_FORMATS] + DATE_INPUT_FORMATS
