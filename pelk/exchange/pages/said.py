"""What is said when a file was taken in, or could not be."""

UNKNOWN = (
    "This is no logger's file, no laboratory's report, and no materials that Pelk wrote. A "
    "logger's file has a column of times, a report a name, a number and a unit in each line."
)
IMPORTED = "{count} imported."
NOTHING_DIFFERED = "Nothing differed, so nothing was changed."
CHOOSE_FILE = "Choose a file that Pelk wrote."
TOO_LARGE = "That is more than {most} MB."
YARD_IN = "{count} rows are in. Everything stands as it stood."
