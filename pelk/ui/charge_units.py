"""How the charge is written: per litre, per pot, per cubic yard; elements or label oxides."""

from dataclasses import dataclass

from pelk.core.base.elements import LABEL_OXIDE, element_in_oxide
from pelk.ui.units import sizes

UNITS = {"mg/L": "mg per litre", "g/pot": "g per pot", "lb/yd3": "lb per cubic yard"}
AS = {"element": "elements", "oxide": "label oxides"}


@dataclass(frozen=True, slots=True)
class ChargeUnits:
    """One way to write the charge.

    Attributes
    ----------
    pot_l : float or None
        Mix in one pot; None where no pot was named, and then litres are shown.
    """

    unit: str = "mg/L"
    written_as: str = "element"
    pot_l: float | None = None

    @property
    def shown(self) -> str:
        """The unit that is really shown."""
        if self.unit not in UNITS or (self.unit == "g/pot" and self.pot_l is None):
            return "mg/L"
        return self.unit

    def factor(self, element: str) -> float:
        """Return what makes mg of an element a litre into what is shown."""
        factor = 1.0
        if self.shown == "g/pot" and self.pot_l is not None:
            factor = self.pot_l / 1000
        elif self.shown == "lb/yd3":
            factor = sizes()["yd3"] / 1000 / sizes()["lb"]
        if self.written_as == "oxide" and element in LABEL_OXIDE:
            factor /= element_in_oxide(LABEL_OXIDE[element])
        return factor

    def name(self, element: str) -> str:
        """Return the element, or the oxide a label prints for it."""
        if self.written_as == "oxide":
            return LABEL_OXIDE.get(element, element)
        return element
