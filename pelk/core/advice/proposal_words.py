"""Why a proposal is as it is: what holds it, what stands against what, what to know of it."""

from collections.abc import Sequence

from pelk.core.advice.grades import Finding, Kind
from pelk.core.advice.proposal_rows import Desk
from pelk.core.base.integer_programme import LONG_CONFLICT, Answer, Binding, Conflict
from pelk.core.base.rounding import sig

NAMES = {
    "N": "nitrogen",
    "P": "phosphorus",
    "K": "potassium",
    "Ca": "calcium",
    "Mg": "magnesium",
    "S": "sulfur",
    "pH": "pH",
    "salts": "salt",
    "air": "air",
    "volume": "volume",
    "salts (cations)": "salt",
}


def notes_of(desk: Desk, solution: Answer, against: Sequence[Finding]) -> list[str]:
    """Return what is to be known of an answer, in sentences."""
    notes = list(desk.notes)
    if any(f.kind is Kind.SHORT and f.of == "N" for f in against):
        notes.append(
            "A mix that holds all the nitrogen of such a season at once burns: feed the rest "
            "while it grows."
        )
    if "N" in desk.goal.style.defaults.bands:
        notes.append(
            "The rest of the nitrogen is fed while it grows, as this way of feeding has it."
        )
    if desk.goal.minimise == "cost" and not desk.packages:
        notes.append("No prices are known, so the lightest mix was chosen instead of the cheapest.")
    if solution.gap > 1e-3:
        notes.append(
            f"The best found in 5 seconds; the true best may be up to {solution.gap:.0%} better."
        )
    return notes


def binds_of(desk: Desk, solution: Answer) -> list[str]:
    """Return what holds an answer where it is, in sentences."""
    binds = [_binding_text(b, desk) for b in solution.binding]
    binds += [
        f"{desk.shelf[slug].spoken_name} is at the most its label or common practice allows."
        for slug in solution.at_most
    ]
    return list(dict.fromkeys(binds))


def conflicts_of(desk: Desk, solution: Conflict) -> list[str]:
    """Return which wishes stand against each other, in sentences."""
    return [_conflict_text(sides, desk) for sides in solution.sets]


def _binding_text(binding: Binding, desk: Desk) -> str:
    name = NAMES.get(binding.row, binding.row)
    side = "at its least" if binding.side == "least" else "at its most"
    low, high = desk.band("salts" if binding.row.startswith("salts") else binding.row)
    value = low if binding.side == "least" else high
    unit = {"pH": "", "salts": " dS/m", "salts (cations)": " dS/m"}.get(binding.row, " mg/L")
    text = f"{name} stands {side}, {sig(value, 3)}{unit}".strip()
    return f"{text}: another wish there would change the mix."


def _conflict_text(sides: tuple[tuple[str, str], ...], desk: Desk) -> str:
    said = []
    for row, side in sides[:LONG_CONFLICT]:
        low, high = desk.band("salts" if row.startswith("salts") else row)
        value = low if side == "least" else high
        said.append(f"{NAMES.get(row, row)} at {side} {sig(value, 3)}")
    if len(sides) > LONG_CONFLICT:
        return "Too many targets at once: " + ", ".join(said) + " and more."
    if len(said) == 1:
        return f"These materials cannot reach {said[0]}."
    return f"These materials cannot meet {' and '.join(said)} together."
