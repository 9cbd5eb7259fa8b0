"""What the Bench says after a deed, or where it cannot be done."""

SAVED = "{name} saved as v{number}."
NAMELESS = "Give the mix a name: it keeps its old one."
COMPARE_HOW = "Tick two to four recipes or versions, then compare them."
FIRST_SHOWN = "The first {most} are shown."
PERCENTS_OPEN = "the percents do not come to 100 yet: share the rest out first"
NOT_TO_BE_MADE = "This recipe can’t be made yet. Fix what is marked here first."
DELETED = "{row.name} is deleted."
