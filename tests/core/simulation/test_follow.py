"""A soil followed: worked values, the balance of every element, and what must stay as it was.

Worked values are of a small prototype of the same equations, one step a day (``derived``).
"""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.acid_base.buffering import Component
from pelk.core.acid_base.water import Water
from pelk.core.base.arithmetic import ONE
from pelk.core.crops.groups import crop
from pelk.core.crops.living import livings, season_nitrogen, wanted_by_day
from pelk.core.evaluation.evaluate import evaluate, soil_as_mixed
from pelk.core.materials.library import library
from pelk.core.plans.plan import Batch, Conditions, Dose, Part, Plan
from pelk.core.release.grains import lime_grade_of, reacted_curve
from pelk.core.release.processes import take_up
from pelk.core.salts.pore_water import PoreSalts
from pelk.core.simulation.ensemble import life_draws_of
from pelk.core.simulation.follow import Follower
from pelk.core.simulation.heap import Heap, Solid
from pelk.core.simulation.life import (
    Cleared,
    Dressed,
    Harvested,
    Life,
    Place,
    Placed,
    Planted,
    Pot,
    PottedOn,
    Poured,
    Read,
    Rested,
    Rinsed,
    Topped,
    Watered,
    Where,
)
from pelk.core.simulation.minerals import MineralBook
from pelk.core.simulation.run import CENTRAL, LINE_PACE, base_curve
from pelk.core.simulation.soil_forecast import follow_soil
from pelk.core.simulation.soil_learning import learn_drains
from pelk.core.simulation.soil_stepper import SoilStepper, Solver
from pelk.core.simulation.stepper import Forcing
from pelk.core.vessels.canopy import daily_water, evaporation_mm, taken_l_l
from pelk.core.vessels.shrinkage import aged
from pelk.ui.units import dose_unit

SHELF = library()
TEMPERATE = (5.0, 5.3, 7.5, 9.8, 13.0, 16.0, 18.2, 18.0, 15.3, 11.8, 8.0, 5.5)
RAIN = (60.0, 48.0, 47.0, 46.0, 52.0, 52.0, 52.0, 58.0, 58.0, 70.0, 68.0, 66.0)
TAP = Water(alkalinity_meq_l=3.0, ions_mg_l={"Ca": 60, "Mg": 10, "Na": 25, "Cl": 40, "S": 20})


def plan(parts=(("sphagnum-peat-light", 5), ("yard-compost", 3), ("perlite", 2)), doses=()):
    """Return a plan of a heap of 60 L."""
    return Plan(
        name="Tub mix",
        crop="fruiting",
        batch=Batch(volume_l=60.0),
        parts=tuple(Part(material=m, parts=float(x)) for m, x in parts),
        doses=tuple(Dose(material=m, amount=g, unit=dose_unit("g/L")) for m, g in doses),
        conditions=Conditions(),
    )


FED = (("lime-dolomitic-ground", 3.0), ("feather-meal", 2.0), ("sulfate-of-potash", 0.5))
SOIL = soil_as_mixed(plan(doses=FED), SHELF)


def life(*events, days=400, soil=SOIL, **more):
    """Return the life of a 10 L pot."""
    held = {
        "pot": Pot(litres=10.0, height_cm=22.0),
        "place": Place(monthly_c=TEMPERATE, monthly_rain_mm=RAIN),
        "water": TAP,
        **more,
    }
    return Life(soil=soil, mixed_on=date(2031, 3, 1), days=days, events=events, **held)


def stepper(heap, day=0.0):
    """Return a stepper of a bare heap, standing on a day."""
    forcing = Forcing(np.array([0.0, 1.0]), [1.0], *[[20.0]] * 6, [0.0], [Water()], [1.0])
    solver = Solver(base_curve(heap, CENTRAL), LINE_PACE.nodes, LINE_PACE.close)
    made = SoilStepper(heap, forcing, CENTRAL, ONE, solver)
    made.day = day
    return made


def book(theta=0.6, **free):
    """Return minerals of ten litres."""
    held = MineralBook(theta, 0.0, PoreSalts({}, 0.85, True), 10.0)
    held.begin()
    held.free |= free
    return held


class WorkedValues(TestCase):
    def test_salts_of_the_water(self):
        # theta .60, w .04, d .01, water of 1: pore over tap on days 30, 90, 365.
        for element, back, expected in (
            ("Cl", 1.0, (1.574, 3.107, 3.991)),
            ("K", 3.0, (0.614, 1.574, 3.473)),
        ):
            for day, at in zip((30, 90, 365), expected, strict=True):
                held = book()
                held.wash({element: 0.04 * day}, 0.01 * day, 0.0)
                self.assertAlmostEqual(held.free[element] / (0.6 * back), at, delta=0.002)

    def test_a_ball_potted_on_finds_its_ph_by_charge(self):
        peat, grit = Component(0.75, 3.9, 32, "organic"), Component(0.25, 7.2, 0.2, "inert")
        ball = stepper(Heap(components=(peat, grit), start_base_meq_l=58.0))
        bark = Component(0.5, 4.5, 24, "organic")
        fresh = Heap(components=(replace(peat, litres=0.5), bark), start_base_meq_l=40.0)
        new = stepper(fresh)
        self.assertAlmostEqual(ball.ph, 6.317, delta=0.02)
        self.assertAlmostEqual(new.ph, 5.584, delta=0.02)
        ball.nitrate, new.nitrate = 30.0, 120.0
        ball.join(new, 3 / 7, 4 / 7)
        self.assertAlmostEqual(ball.ph, 5.871, delta=0.02)
        self.assertAlmostEqual(ball.nitrate, 81.4, delta=0.05)

    def test_worn_lime_goes_on_from_its_worn_size(self):
        grade = lime_grade_of(SHELF["lime-dolomitic-ground"])
        curve = reacted_curve(grade.passing)
        self.assertGreater(curve[-1], 0.99)
        peat = (Component(1.0, 4.0, 30, "organic"),)
        lime = Solid(81.6, grade.passing)
        ball = stepper(Heap(components=peat, solids=(lime,)))
        new = stepper(Heap(components=peat, solids=(replace(lime, base_meq_l=61.2),)))
        ball.chem = ball.chem._replace(worn=[0.05])
        share = ball.reacted_shares()[0]
        ball.join(new, 3 / 7, 4 / 7)
        left = [
            base * (1 - gone)
            for base, gone in zip(ball.grain_base, ball.reacted_shares(), strict=True)
        ]
        expected = 3 / 7 * 81.6 * (1 - share) + 4 / 7 * 61.2
        self.assertAlmostEqual(sum(left), expected, delta=1e-6)
        self.assertEqual(sorted(ball.chem.worn), [0.0, 0.05])

    def test_what_uptake_does_to_ph(self):
        # Per litre: 100 mg nitrate at kappa .5, the same as ammonium, 70 and 30 at .8.
        for ammonium, nitrate, kappa, base in (
            (0.0, 100.0, 0.5, 3.57),
            (100.0, 0.0, 0.5, -10.71),
            (30.0, 70.0, 0.8, -2.86),
        ):
            self.assertAlmostEqual(
                take_up(ONE, ammonium, nitrate, 100.0, kappa)[2], base, delta=0.01
            )
        # Acid lovers take ammonium first: twice its weight beside as much nitrate.
        liked = take_up(ONE, 50.0, 50.0, 30.0, 0.4, 2.0)
        self.assertAlmostEqual(liked[0], 20.0)
        self.assertAlmostEqual(liked[0] + liked[1], 30.0)

    def test_peat_and_bark_come_down(self):
        for parts, one, three in (
            (((0.06, 0.75), (0.0, 0.25)), (0.969, 0.226), (0.914, 0.179)),
            (((0.05, 1.0),), (0.966, 0.223), (0.902, 0.169)),
            (((0.06, 0.7), (0.30, 0.3)), (0.917, 0.182), (0.795, 0.056)),
            (((0.06, 2 / 3), (0.18, 1 / 3)), (0.934, 0.197), (0.826, 0.092)),
        ):
            for years, (volume, air) in ((1.0, one), (3.0, three)):
                left = aged(parts, years, air=0.25, porosity=0.86, fines=0.0)
                self.assertAlmostEqual(left.volume, volume, delta=0.002)
                self.assertAlmostEqual(left.air, air, delta=0.002)

    def test_what_leaves_take_and_the_can_gives(self):
        mm = evaporation_mm(np.array([20.0, 25.0]))
        self.assertAlmostEqual(mm[0] * 1.3, 6.04, delta=0.01)
        one = np.ones(1)
        for at, leaf, height, expected in ((0, 1.3, 20, 0.0302), (1, 2.2, 25, 0.0463)):
            taken = taken_l_l(mm[at : at + 1], leaf * one, one, height, "plastic")
            self.assertAlmostEqual(taken[0], expected, delta=0.0001)
        given = daily_water(0.03 * one, 0 * one, 0.25)
        self.assertAlmostEqual(given.given[0], 0.04)
        self.assertAlmostEqual(given.drained[0], 0.01)
        thirsty = daily_water(0.03 * one, 0 * one, 0.25, given=0.01)
        self.assertTrue(thirsty.thirsty[0])

    def test_a_year_of_salts_that_nothing_takes(self):
        # Chloride and calcium of the year of a 10 L pot: watered on days 31 to 150, poured on
        # four days, rinsed on one, rain on days 151 to 270, joined by as much new soil.
        for element, tap, poured, new, on_150, on_270, on_365 in (
            ("Cl", 40.0, 0.0, 20.0, 74.3, 45.1, 32.5),
            ("Na", 25.0, 0.0, 15.0, 63.4, None, 30.2),
        ):
            held = book(**{element: {"Cl": 40.0, "Na": 30.0}[element]})
            for day in range(31, 151):
                held.wash({element: 0.0375 * tap}, 0.0075, 0.0)
                if day in (60, 74, 88, 102):
                    held.add({element: poured})
                    held.wash({}, 0.03, 0.0)
                if day == 110:
                    held.wash({element: 0.6 * tap}, 0.6, 0.0)
            self.assertAlmostEqual(held.free[element], on_150, delta=0.1)
            for _ in range(151, 271):
                held.wash({}, 0.0025, 0.0)
            if on_270 is not None:
                self.assertAlmostEqual(held.free[element], on_270, delta=0.1)
            held.scale(0.5)
            held.add({element: new / 2})
            self.assertAlmostEqual(held.free[element], on_365, delta=0.1)


class Lives(TestCase):
    def closes(self, forecast):
        for element, held in forecast.elements.items():
            b = held.balance
            off = b["in"] - b["held"] - b["taken"] - b["leached"] - b["lost"]
            self.assertLess(abs(off), 1e-9 * max(abs(v) for v in b.values()) + 1e-9, element)

    def test_a_soil_to_which_nothing_happens_is_its_heap(self):
        mix = plan(doses=FED)
        heap = evaluate(mix, SHELF, samples=0).forecast
        still = follow_soil(
            life(days=730, place=Place(temperature_c=20.0), water=Water()), samples=0
        )
        self.assertLess(np.abs(still.ph[1] - heap.line.daily("ph")).max(), 1e-9)
        self.assertLess(np.abs(still.ec[1] - heap.ec).max(), 1e-9)
        free = sum(heap.free["K"][:, -1])
        self.assertAlmostEqual(still.elements["K"].free[-1], free, delta=1e-6)

    def test_two_full_years_close_to_the_milligram(self):
        pot = Pot(litres=24.0, height_cm=30.0)
        full = life(
            Planted(day=42, crop=crop("fruiting")),
            Watered(day=42, litres_week=3.5),
            Dressed(day=92, material=SHELF["feather-meal"], grams=8, placed=Placed.ON_TOP),
            Dressed(day=95, material=SHELF["worm-castings"], grams=60),
            Poured(day=110, material=SHELF["fish-emulsion"], g_per_l=3, litres=1.5, through=0.1),
            Rinsed(day=131, litres=8.0),
            Harvested(day=203, kg=2.1, crop=crop("fruiting")),
            Cleared(day=214, roots_in=True),
            Rested(day=215, where=Where.RAIN),
            Topped(day=366, soil=SOIL, litres=2.0),
            Planted(day=400, crop=crop("legumes"), plants=3),
            PottedOn(day=420, soil=soil_as_mixed(plan(), SHELF), pot=pot, kept_l=9.0),
            Dressed(day=500, material=SHELF["lime-calcitic-ground"], grams=20),
            days=730,
        )
        followed = follow_soil(full, samples=20)
        self.closes(followed)
        self.assertLess(len(followed.line.edges), 130)
        self.assertLess(len(followed.ensemble.edges), 80)
        self.assertAlmostEqual(followed.litres[-1], 24.0, delta=1.0)
        # What was picked and washed out was there before.
        self.assertGreater(followed.elements["N"].balance["leached"], 100)
        self.assertTrue((np.diff(followed.elements["N"].given * followed.litres) > -1e-6).all())

    @settings(max_examples=12, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.integers(5, 380),
                st.sampled_from(["meal", "lime", "pour", "rinse", "top", "pick", "clear"]),
                st.floats(0.1, 8.0),
            ),
            max_size=9,
        ),
        st.sampled_from(["fruiting", "ericaceous", "legumes", "leafy"]),
    )
    def test_any_life_closes(self, deeds, slug):
        events = [Planted(day=4, crop=crop(slug)), Watered(day=4)]
        for day, what, much in deeds:
            events.append(
                {
                    "meal": Dressed(day=day, material=SHELF["blood-meal"], grams=much),
                    "lime": Dressed(day=day, material=SHELF["lime-hydrated"], grams=much),
                    "pour": Poured(
                        day=day, material=SHELF["fish-emulsion"], g_per_l=much, litres=1.0
                    ),
                    "rinse": Rinsed(day=day, litres=much),
                    "top": Topped(day=day, soil=SOIL, litres=much, mixed_days=int(9 * much)),
                    "pick": Harvested(day=day, share=much / 10),
                    "clear": Cleared(day=day, roots_in=much > 4),
                }[what]
            )
        followed = follow_soil(life(*events), samples=0)
        self.closes(followed)
        self.assertTrue(np.isfinite(followed.ph).all())
        self.assertTrue((followed.ph > 2).all() and (followed.ph < 10).all())
        for held in followed.elements.values():
            self.assertGreater(held.free.min(), -1e-6)

    def test_soil_that_lay_as_long_joins_as_the_same_soil(self):
        # The same mix, turned on the same day and left in the same heap, is no other soil.
        place = Place(temperature_c=18.0)
        alike = replace(SOIL, heap=replace(SOIL.heap, litres=10.0))
        pot = Pot(litres=10.0, height_cm=25.0)
        more = Topped(day=70, soil=alike, litres=10.0, mixed_days=70)
        same = life(days=71, soil=alike, place=place, pot=pot)
        joined = follow_soil(replace(same, events=(more,)), samples=0)
        alone = follow_soil(same, samples=0)
        self.closes(joined)
        self.assertAlmostEqual(joined.ph[1][70], alone.ph[1][70], delta=0.02)
        for element in ("N", "P", "K", "Ca", "Mg", "S"):
            there, got = (f.elements[element].free[70] for f in (alone, joined))
            self.assertAlmostEqual(got, there, delta=0.02 * there + 0.1, msg=element)
        fresh = follow_soil(replace(same, events=(replace(more, mixed_days=0),)), samples=0)
        self.assertLess(fresh.ph[1][70], alone.ph[1][70] - 0.1)  # its lime has not worked yet

    def test_a_dressing_late_is_a_dressing_early_later(self):
        # A meal on day 100 has a clock of its own: a soil kept at one warmth gives as much of
        # it in its first month as a meal of mixing day does.
        warm = {"place": Place(temperature_c=22.0), "water": Water()}
        bare = soil_as_mixed(plan(), SHELF)
        meal = SHELF["feather-meal"]

        def gained(day):
            put_in = Dressed(day=day, material=meal, grams=20.0, placed=Placed.TURNED)
            fed = follow_soil(life(put_in, days=200, soil=bare, **warm), samples=0)
            unfed = follow_soil(life(Rinsed(day=day, litres=1e-9), days=200, soil=bare, **warm), 0)
            free = fed.elements["N"].free - unfed.elements["N"].free
            return free[day + 30] - free[day]

        self.assertAlmostEqual(gained(100) / gained(5), 1.0, delta=0.12)

    def test_a_perennial_eats_each_year_and_an_annual_once(self):
        warm = np.full(1095, 20.0)
        camellia, aubergine = crop("ericaceous"), crop("fruiting")
        by_year = wanted_by_day(camellia, warm)[[0, 365, 730, 1095]]
        np.testing.assert_allclose(np.diff(by_year), [0.5, 0.8, 1.0], atol=1e-6)
        np.testing.assert_allclose(wanted_by_day(aubergine, warm)[[365, 1095]], 1.0, atol=0.02)
        # Frost stops both.
        self.assertEqual(wanted_by_day(aubergine, np.full(100, 2.0))[-1], 0.0)
        self.assertTrue(livings()["citrus"].is_perennial)
        # A small pot grows a small plant.
        preset = aubergine.uptake_mg_l["N"]
        self.assertAlmostEqual(season_nitrogen(aubergine, 4, 5.0), 1.3 * preset)

    def test_uptake_sours_and_the_tap_sweetens(self):
        planted = Planted(day=10, crop=crop("fruiting"))
        soft = life(planted, Watered(day=10), days=160, water=Water())
        hard = life(planted, Watered(day=10), days=160)
        one, other = (follow_soil(x, samples=0).ph[1][-1] for x in (soft, hard))
        self.assertGreater(other, one + 0.1)

    def test_rain_washes_nitrate_before_calcium(self):
        rested = life(Rested(day=1, where=Where.RAIN), days=150)
        followed = follow_soil(rested, samples=0)
        lost = {e: followed.elements[e].balance for e in ("Cl", "K", "Ca")}
        share = {e: b["leached"] / b["in"] for e, b in lost.items()}
        self.assertGreater(share["Cl"], share["K"])
        self.assertGreater(share["K"], share["Ca"])

    def test_water_that_nobody_analysed_widens_the_band(self):
        watered = Watered(day=1, litres_week=3.0)
        hard = replace(TAP, alkalinity_meq_l=5.0)
        known = follow_soil(life(watered, days=365, water=hard), samples=60)
        guessed = follow_soil(life(watered, days=365, water=hard, water_is_guessed=True), 60)
        wide = [f.ph[2][-1] - f.ph[0][-1] for f in (known, guessed)]
        self.assertGreater(wide[1], 1.1 * wide[0])
        np.testing.assert_allclose(known.ph[1], guessed.ph[1])
        # Eight elements of every draw are not kept; nitrogen of each closes by the stepper.
        self.assertTrue((known.ph[0] <= known.ph[1]).all() and (known.ph[1] <= known.ph[2]).all())

    def test_salts_that_were_read_teach_what_drains(self):
        # A true pot drains twice what is taken for usual: from its salts the factor comes back.
        salty = {"Na": 60.0, "Cl": 90.0, "Ca": 60.0}
        told = life(
            Planted(day=5, crop=crop("leafy")),
            Watered(day=5),
            days=160,
            water=Water(alkalinity_meq_l=2.0, ions_mg_l=salty),
        )

        def conductivity(past, drains):
            return follow_soil(past, 0, None, (np.log(drains), 0.0)).ec[1]

        true = conductivity(told, 2.0)
        reads = [Read(day=d, ec_ds_m=float(true[d]), method="1:2") for d in (60, 100, 150)]
        seen = replace(told, events=(*told.events, *reads))
        mean, spread = learn_drains(seen, conductivity)
        self.assertTrue(1.2 < np.exp(mean) < 2.1, np.exp(mean))
        self.assertLess(spread, 0.35)
        lesson = (mean, spread)
        usual, taught = (follow_soil(told, 60, None, x) for x in (None, lesson))
        self.assertLess(abs(taught.ec[1][159] - true[159]), abs(usual.ec[1][159] - true[159]))
        # Salts of the first two weeks say what was mixed: they teach nothing.
        early = replace(told, events=(*told.events, replace(reads[0], day=12)))
        self.assertIsNone(learn_drains(early, conductivity))

    def test_simulated_pots_come_true_within_their_bands(self):
        # Pots made with the same spreads: eight in ten inside p10 to p90, loosely, by day 180.
        told = life(Planted(day=20, crop=crop("fruiting")), Watered(day=20), days=200)
        band = follow_soil(told, samples=200)
        drawn = Follower(told, LINE_PACE, life_draws_of(told.soil.heap, 60, seed=11)).run()
        at = int(np.searchsorted(drawn.edges, 180.0))
        day = int(drawn.edges[at])
        inside = (drawn.values["ph"][at] > band.ph[0][day]) & (
            drawn.values["ph"][at] < band.ph[2][day]
        )
        self.assertGreater(inside.mean(), 0.65)
        self.assertLess(inside.mean(), 0.95)
