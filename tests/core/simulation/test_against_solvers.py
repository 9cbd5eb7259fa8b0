"""The stepper against scipy's LSODA on the same laws, written out again."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from scipy.integrate import solve_ivp

from pelk.core.release.grains import lime_grades, reacted_share, sulfur_grades
from pelk.core.release.microbes import decomposer_start, nitrifier_start, sulfur_start
from pelk.core.release.rate_factors import (
    DECOMPOSER_GROWTH_D,
    ammonia_share,
    bicarbonate,
    decay_by_moisture,
    decay_by_temperature,
    lime_by_ph,
    lime_by_temperature,
    lime_by_water,
    nitrifiers_by_moisture,
    nitrifiers_by_ph,
    nitrifiers_by_temperature,
    sulfur_by_ph,
    sulfur_by_temperature,
    sulfur_by_water,
)
from pelk.core.simulation.heap import Solid, SulfurGrains
from pelk.core.simulation.run import Surroundings, simulate
from tests.core.mixes import STRAIGHT, one_pool


class AgainstIndependentSolvers(SimpleTestCase):
    def test_lime_and_sulfur_against_lsoda(self):
        """One grade each in a straight buffer, by scipy's LSODA over diameters lost.

        The retreat laws are written out again here from the published rates; grains are
        spheres, so a class of diameter d that lost x has reacted 1 - (1 - x/d)^3.
        """
        lime, powder = lime_grades()["dolomitic_hort"], sulfur_grades()["powder"]
        pile = replace(
            STRAIGHT,
            start_base_meq_l=-30.0,
            solids=(Solid(70.0, lime.passing, rate=lime.rate),),
            sulfur_microbes=0.1,
            sulfurs=(SulfurGrains(20.0, powder),),
        )
        trace = simulate(pile, Surroundings(temperature_c=20.0, water_filled=0.55), 365)

        def ph(lost_lime, lost_sulfur):
            base = 70 * reacted_share(lime.passing, lost_lime, lime.rate)
            acid = 20 * reacted_share(powder, lost_sulfur)
            return 6 + (base - 30 - acid) / 25

        def slopes(_, state):
            lost_lime, lost_sulfur, bacteria = state
            q = min(max(ph(lost_lime, lost_sulfur), 2.1), 9.9)
            near = max(1 - float(bicarbonate(q) / bicarbonate(7.7)), 0.0)
            near *= 10 ** (-0.5 * max(q - 5.5, 0.0))  # dolomite slows as acid gives out
            retreat = 2e-3 * 2.0 * float(lime_by_temperature(20.0) * lime_by_water(0.55))
            pace = float(sulfur_by_temperature(20.0) * sulfur_by_water(0.55))
            eaten = 2e-5 * 30 / 2.07 * pace * bacteria * float(sulfur_by_ph(q))
            grows = 0.15 * pace * bacteria * (1 - bacteria)
            return retreat * float(lime_by_ph(q)) * near, eaten, grows

        got = solve_ivp(
            slopes,
            (0, 365),
            (0, 0, sulfur_start(0.1)),
            method="LSODA",
            t_eval=np.arange(366.0),
            rtol=1e-8,
            atol=1e-10,
        )
        expected = np.array([ph(a, b) for a, b, _ in got.y.T])
        self.assertLess(np.abs(trace.daily("ph") - expected)[1:].max(), 0.05)
        self.assertLess(np.ptp(expected - trace.daily("ph")), 0.06)

    def test_release_and_nitrification_against_lsoda(self):
        """Organic pool, ammonium, nitrate and nitrifiers in one pH, unplanted."""
        stiff = replace(
            STRAIGHT,
            curve=((2.0, -4e6), (10.0, 4e6)),
            inoculum=0.10,
            litres=1e-3,
            nitrogen=(one_pool(20, 0.03),),
        )
        trace = simulate(stiff, Surroundings(temperature_c=22.0, moisture=0.60), 180)

        warm = float(decay_by_temperature(22.0))
        wet, water = float(decay_by_moisture(0.60)), 0.55 * 2.5
        ammonia = float(ammonia_share(6.0, 22.0))
        speed = float(
            nitrifiers_by_temperature(22.0) * nitrifiers_by_moisture(0.60) * nitrifiers_by_ph(6.0)
        )

        def slopes(_, state):
            pool, ammonium, _, life, nitrifiers = state
            given = 0.03 * warm * wet * life * pool
            slow = speed / (1 + ammonium * ammonia / water / 20)
            monod = ammonium / (ammonium + 20)
            turned, lost = 15 * slow * nitrifiers * monod, 0.5 * ammonia * ammonium
            return (
                -given,
                given - turned - lost,
                turned,
                DECOMPOSER_GROWTH_D * warm * life * (1 - life),
                0.30 * slow * monod * nitrifiers * (1 - nitrifiers),
            )

        start = (20 * 14.007, 0, 0, decomposer_start(0.10), nitrifier_start(0.10))
        got = solve_ivp(
            slopes, (0, 180), start, method="LSODA", t_eval=np.arange(181.0), rtol=1e-8, atol=1e-9
        )
        for name, row in (("ammonium_mg_l", 1), ("nitrate_mg_l", 2)):
            off = np.abs(trace.daily(name) - got.y[row]).max()
            self.assertLess(off, 0.04 * 280, name)
