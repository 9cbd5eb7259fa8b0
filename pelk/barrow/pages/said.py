"""What the Barrow says after a deed."""

MADE_SAVED = "Saved. Every figure now uses what really went in."
BATCH_AWAY = "{row.code} is deleted."
