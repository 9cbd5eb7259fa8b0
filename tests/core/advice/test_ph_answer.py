"""The one answer on lime and sulfur: what works counts, nothing fights, nothing rests too far."""

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice.dose_for_ph import RESTS_WITHIN, Errand
from pelk.core.advice.ph_answer import Outcome, keeping, ph_answer
from pelk.core.advice.ph_desk import Lying, ways_to
from pelk.core.materials.library import library
from pelk.core.simulation.initial_state import heap_of, starting_at, with_doses
from pelk.core.simulation.run import Surroundings, simulate

SHELF = library()
SULFUR, DOLOMITE = SHELF["sulfur-dusting"], SHELF["lime-dolomitic-ground"]
WARM = Surroundings(temperature_c=20.0)
COIR = {"coir-pith-loose": 3, "perlite": 1}
SOIL = {"garden-soil-neutral": 9, "sphagnum-peat-light": 1}
LOAM = {"topsoil-loam": 6, "sphagnum-peat-light": 4}
PEAT = {"sphagnum-peat-light": 3, "perlite": 1}
PARTS = ("sphagnum-peat-light", "coir-pith-loose", "topsoil-loam", "yard-compost", "perlite")
BANDS = {"acid": (4.5, 5.4), "usual": (5.8, 6.5)}


def mix(parts, **doses):
    whole = sum(parts.values())
    rates = [(SHELF[slug.replace("_", "-")], rate) for slug, rate in doses.items()]
    return heap_of([(SHELF[slug], n / whole) for slug, n in parts.items()], rates)


def asked(heap, ph, day, band="acid", given=0):
    errand = Errand(target_ph=ph, day=day, band=BANDS[band], given=given)
    return ph_answer(heap, WARM, errand, [DOLOMITE], [SULFUR])


class OneAnswer(SimpleTestCase):
    def test_sulfur_at_work_is_waited_for(self):
        """1.65 g/L lie in a neutral soil: the pen says 7 on day 0, and nothing is to add."""
        lying = starting_at(mix(SOIL, sulfur_dusting=1.65), 7.0)
        answer = asked(lying, 5.0, 30)
        self.assertEqual((answer.outcome, answer.kind), (Outcome.WAIT, "sulfur"))
        self.assertEqual(answer.g_per_l, 0)
        self.assertLess(answer.look_again_day, 100)
        desk = ways_to("compost", 7.0, 5.0, 60, [SULFUR], 20.0, lying=Lying(SULFUR, 1.0))
        self.assertEqual((desk.ways, desk.instead.outcome), ([], Outcome.WAIT))

    def test_a_day_too_soon_gets_the_safe_dose_and_its_day(self):
        """Coir 3 : perlite 1 to pH 5.0 by day 60: never what ends under the band."""
        answer = asked(mix(COIR), 5.0, 60)
        self.assertEqual(answer.outcome, Outcome.TOO_SLOW)
        self.assertGreater(answer.plan.hits_g_per_l, 1.25 * answer.g_per_l)
        self.assertGreater(answer.plan.reached_day, 60)
        self.assertGreaterEqual(answer.rest_ph, 4.5 - RESTS_WITHIN - 0.01)

    def test_too_much_sulfur_is_taken_back_and_never_limed(self):
        answer = asked(mix(COIR, sulfur_dusting=2.3), 5.0, 60)
        self.assertEqual((answer.outcome, answer.kind), (Outcome.TAKE_BACK, "sulfur"))
        self.assertAlmostEqual(answer.rest_ph, 5.0, delta=0.05)
        self.assertLess(answer.keep_share, 0.2)
        self.assertAlmostEqual(answer.diluted_with, 1 / answer.keep_share - 1)

    def test_lime_at_work_is_never_soured(self):
        answer = asked(mix(PEAT, lime_dolomitic_ground=9), 5.9, 60, "usual")
        self.assertEqual((answer.outcome, answer.kind), (Outcome.TAKE_BACK, "lime"))

    def test_what_was_given_is_not_asked_for_again(self):
        """The dose, given and asked for again: wait, or there."""
        for parts, ph, day, band in ((LOAM, 5.0, 150, "acid"), (PEAT, 6.0, 60, "usual")):
            first = asked(mix(parts), ph, day, band)
            self.assertIn(first.outcome, (Outcome.DOSE, Outcome.TOO_SLOW))
            dosed = with_doses(mix(parts), [(first.material, first.g_per_l)])
            again = asked(dosed, ph, day, band)
            with self.subTest(ph):
                self.assertIn(again.outcome, (Outcome.THERE, Outcome.WAIT))

    def test_desk_and_day_answer_alike(self):
        """The same soil on two pages: within 2 %."""
        soil = {"sphagnum-peat-light": 3, "perlite": 1}
        errand = Errand(target_ph=6.0, day=90)
        at_15 = Surroundings(temperature_c=15.0)
        one = ph_answer(mix(soil), at_15, errand, [DOLOMITE], [])
        start = float(simulate(mix(soil), at_15, 1)["ph"][0])
        (two,) = ways_to("peat", start, 6.0, 90, [DOLOMITE], 15.0).ways
        self.assertAlmostEqual(two.g_per_l / one.g_per_l, 1.0, delta=0.02)

    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(st.floats(0, 1), min_size=5, max_size=5).filter(lambda x: sum(x) > 0.2),
        st.floats(0, 3),
        st.sampled_from(["none", "sulfur_dusting", "lime_dolomitic_ground"]),
        st.floats(4.3, 6.6),
        st.integers(14, 200),
        st.sampled_from(sorted(BANDS)),
    )
    def test_no_answer_rests_past_the_edge_that_it_drifts_to(
        self, shares, rate, lies, ph, day, band
    ):
        """Over mixes of shipped materials, with lime or sulfur in them or not."""
        heap = mix(
            dict(zip(PARTS, shares, strict=True)), **({} if lies == "none" else {lies: rate})
        )
        errand = Errand(target_ph=ph, day=day, band=BANDS[band])
        answer = ph_answer(heap, WARM, errand, [DOLOMITE], [SULFUR])
        if answer.outcome in (Outcome.DOSE, Outcome.TOO_SLOW):
            up = 1 if answer.kind == "lime" else -1
            after = with_doses(heap, [(answer.material, answer.g_per_l)])
            course = simulate(after, WARM, 730)
            worst = up * float(np.max(up * course["ph"][course.edges >= min(day, 180)]))
            self.assertLessEqual(up * (worst - errand.edge(up)), 0.02)
        elif answer.outcome is Outcome.TAKE_BACK:
            up = 1 if answer.kind == "lime" else -1
            after = keeping(heap, up, answer.keep_share)
            before = float(simulate(heap, WARM, 730)["ph"][-1])
            rest = float(simulate(after, WARM, 730)["ph"][-1])
            self.assertLessEqual(abs(rest - ph), abs(before - ph) + 0.02)
