"""Constants and equilibria against independent packages: molmass and phreeqpython."""

from math import log10

from django.test import SimpleTestCase
from molmass import Formula
from phreeqpython import PhreeqPython

from pelk.core.acid_base.acids import ACIDIFIERS, acid_meq_per_g
from pelk.core.acid_base.water import (
    calcite_rest_ph,
    ph_after_acid,
    strong_acid_for,
    total_carbonate,
    weak_acid_for,
)
from pelk.core.base.elements import ATOMIC_MASS, element_in_oxide
from pelk.core.release.grains import MINERALS, mineral_cce

OXIDES = {"P2O5": "P", "K2O": "K", "CaO": "Ca", "MgO": "Mg", "SO3": "S"}


def text_of(formula):
    """Return a formula as text: {"Ca": 1, "C": 1, "O": 3} is CaCO3."""
    return "".join(f"{element}{n}" for element, n in formula.items())


class AtomicMasses(SimpleTestCase):
    def test_elements(self):
        for element, mass in ATOMIC_MASS.items():
            with self.subTest(element):
                self.assertAlmostEqual(mass / Formula(element).mass, 1, delta=2e-4)

    def test_oxides_that_labels_print(self):
        for oxide, element in OXIDES.items():
            parts = Formula(oxide).composition()
            with self.subTest(oxide):
                self.assertAlmostEqual(element_in_oxide(oxide), parts[element].fraction, delta=1e-4)

    def test_acid_and_base_in_a_gram(self):
        calcite = 2 / Formula("CaCO3").mass
        for name, (formula, equivalents) in ACIDIFIERS.items():
            with self.subTest(name):
                mass = Formula(text_of(formula)).mass
                self.assertAlmostEqual(
                    acid_meq_per_g(name) * mass / 1000 / equivalents, 1, delta=2e-4
                )
        for name, (formula, equivalents) in MINERALS.items():
            with self.subTest(name):
                got = equivalents / Formula(text_of(formula)).mass / calcite
                self.assertAlmostEqual(mineral_cce(name) / (100 * got), 1, delta=1e-3)


class Equilibria(SimpleTestCase):
    """By PHREEQC with its own database, activities and ion pairs included."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.phreeqc = PhreeqPython()

    def hard_water(self, ph):
        """Return 200 ppm water of sodium bicarbonate."""
        water = self.phreeqc.add_solution(
            {"pH": str(ph), "units": "mmol/kgw", "Alkalinity": "4.0", "Na": "4.0 charge"}
        )
        self.addCleanup(water.forget)
        return water

    def test_dissolved_carbonate_of_a_water(self):
        for ph in (6.5, 7.8, 8.2):
            theirs = self.hard_water(ph).total_element("C", units="mol")
            with self.subTest(ph):
                self.assertAlmostEqual(total_carbonate(4.0, ph) / theirs, 1, delta=0.03)

    def test_acid_takes_water_where_we_say(self):
        # Check D02: 200 ppm water from pH 7.8 to 5.8.
        acid = strong_acid_for(4.0, 7.8, 5.8)
        water = self.hard_water(7.8)
        water.add("HCl", acid, "mmol")
        self.assertAlmostEqual(water.pH, 5.8, delta=0.08)
        citric = weak_acid_for(4.0, 7.8, 5.8, "citric")
        self.assertAlmostEqual(
            ph_after_acid(4.0, 7.8, weak_mmol_l={"citric": citric}), 5.8, delta=0.01
        )

    def test_calcite_in_open_air(self):
        # Check A06: phreeqc.dat gave 8.19, 7.63, 7.29.
        for pressure in (4.2e-4, 3e-3, 1e-2):
            water = self.phreeqc.add_solution({})
            for _ in range(40):
                water.equalize(["Calcite", "CO2(g)"], [0.0, log10(pressure)])
            with self.subTest(pressure):
                self.assertAlmostEqual(calcite_rest_ph(pressure), water.pH, delta=0.06)
            water.forget()
