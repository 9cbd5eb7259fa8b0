"""What the Log says."""

ENTER_FIRST = "Enter a note first."
DRAWN_BY_DAY = "What was done with {what}, by day"
