"""Every route to a dose goes past the judge: no new harm, met is met, nothing asked twice."""

from dataclasses import replace
from unittest.mock import patch

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.advice import remedy_candidates
from pelk.core.advice.disposal import with_rate
from pelk.core.advice.goal import Goal
from pelk.core.advice.grades import Grade, Kind
from pelk.core.advice.judgement import judge
from pelk.core.advice.ph_answer import Outcome
from pelk.core.advice.ph_on_a_day import dose_for_day
from pelk.core.advice.plan_changes import carried_out
from pelk.core.advice.proposals import propose
from pelk.core.advice.redose import redose
from pelk.core.advice.remedies import remedied
from pelk.core.advice.remedy_candidates import Pantry
from pelk.core.advice.whole_doses import whole_dose
from pelk.core.crops.groups import crop
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from tests.core.mixes import plan

SHELF = library()
LIMES = [SHELF["lime-dolomitic-ground"]]
SULFURS = [SHELF["sulfur-dusting"]]
PH_KINDS = {Kind.PH_LOW, Kind.PH_HIGH, Kind.PH_KEEPS_FALLING, Kind.PH_KEEPS_RISING}
PARTS = (
    "sphagnum-peat-light",
    "coir-pith-loose",
    "pine-bark-fines-composted",
    "yard-compost",
    "worm-castings",
    "perlite",
)
DOSES = ("lime-dolomitic-ground", "sulfur-dusting", "feather-meal", "sulfate-of-potash")
FEEDS = ("alfalfa-meal", "fish-bone-meal", "kelp-meal")
CROPS = ("fruiting", "leafy", "ericaceous", "citrus")

mixes = st.builds(
    lambda shares, dose, rate, slug: plan(
        {m: n for m, n in zip(PARTS, shares, strict=True) if n > 0.05},
        [(dose, rate)] if rate > 0.05 else [],
        crop=slug,
    ),
    st.tuples(*[st.floats(0, 1)] * len(PARTS)).filter(lambda x: sum(x) > 0.5),
    st.sampled_from(DOSES),
    st.floats(0, 3),
    st.sampled_from(CROPS),
)


def harms(evaluation):
    return {(f.kind, f.of) for f in judge(evaluation).harms}


def ph_harms(evaluation):
    return {kind for kind, _ in harms(evaluation)} & PH_KINDS


class NoRouteHarms(SimpleTestCase):
    """Over mixes of shipped materials."""

    @settings(max_examples=15, deadline=None)
    @given(mixes, st.floats(-0.6, 0.6), st.integers(20, 150))
    def test_a_ph_on_a_day(self, mix, away, day):
        before = evaluate(mix, SHELF, samples=0)
        middle = sum(before.ph_band) / 2
        low, high = before.ph_band
        wanted = min(max(middle + away, low), high)
        got = dose_for_day(mix, SHELF, before, wanted, day, LIMES, SULFURS)
        answer = got.answer
        if answer.material is None or answer.g_per_l <= 0:
            return
        lying = {d.material.slug: d.g_per_l for d in before.doses}
        slug = answer.material.slug
        dosed = with_rate(mix, slug, lying.get(slug, 0.0) + answer.g_per_l)
        after = evaluate(dosed, SHELF, samples=0)
        self.assertLessEqual(harms(after), harms(before))

    @settings(max_examples=10, deadline=None)
    @given(mixes)
    def test_a_remedy(self, mix):
        before = evaluate(mix, SHELF, samples=0)
        judged = judge(before)
        with patch.object(remedy_candidates, "evaluate", wraps=evaluate) as counted:
            mended = remedied(mix, Pantry(SHELF), before, judged)
        self.assertLessEqual(counted.call_count, 14)
        drawn = [c for c in counted.call_args_list if c.kwargs.get("samples") != 0]
        self.assertLessEqual(len(drawn), 2)
        for finding in mended.findings:
            for remedy in finding.remedies:
                after = judge(evaluate(carried_out(mix, remedy.changes, before), SHELF, samples=0))
                self.assertLessEqual({(f.kind, f.of) for f in after.harms}, harms(before))
                left = [
                    f.grade for f in after.findings if (f.kind, f.of) == (finding.kind, finding.of)
                ]
                self.assertLess(max(left, default=Grade.FINE), finding.grade)

    @settings(max_examples=6, deadline=None)
    @given(mixes)
    def test_met_implies_no_drift(self, mix):
        got = propose(mix, SHELF, Goal())
        if got.is_met:
            self.assertLess(judge(evaluate(got.plan, SHELF, samples=0)).worst, Grade.DRIFTS)
        else:
            self.assertTrue(got.conflicts)

    @settings(max_examples=10, deadline=None)
    @given(mixes, st.integers(5, 60))
    def test_a_heap_dosed_as_it_was_told_is_not_told_again(self, mix, day):
        heap = evaluate(mix, SHELF, samples=0)
        read = [1.0, 4.0]
        first = redose(heap.forecast, heap.ph_band, day, LIMES, SULFURS, read).answer
        if first.outcome is not Outcome.DOSE:
            return
        lying = {d.material.slug: d.g_per_l for d in heap.doses}
        slug = first.material.slug
        dosed = with_rate(mix, slug, lying.get(slug, 0.0) + first.g_per_l)
        again = redose(
            evaluate(dosed, SHELF, samples=0).forecast, heap.ph_band, day, LIMES, SULFURS, read
        ).answer
        self.assertLess(again.g_per_l, 0.5 * first.g_per_l)

    @settings(max_examples=30, deadline=None)
    @given(
        st.lists(
            st.sampled_from(["alfalfa-meal", "fish-bone-meal", "kelp-meal", *DOSES]), min_size=1
        ),
        st.sampled_from(CROPS),
        st.floats(0.5, 8),
        st.floats(0.1, 6),
    )
    def test_a_blend_is_capped_by_all_that_is_in_it(self, slugs, grown, weeks, nitrogen_pct):
        lines = [(SHELF[slug], 1.0) for slug in slugs]
        dose = whole_dose(lines, crop(grown), 200.0, weeks, nitrogen_pct, 0.6)
        share = 1 / len(lines)
        lime = sum(share * m.cce.typ / 100 for m, _ in lines if m.lime_grade)
        self.assertLessEqual(dose.season_g_l * lime, 1.0 + 1e-9)
        for material, _ in lines:
            if material.dose_max_g_l:
                self.assertLessEqual(dose.each_g_l * share, material.dose_max_g_l + 1e-9)
        self.assertLessEqual(dose.each_g_l, dose.season_g_l + 1e-9)


class AHarmfulAnswerIsCaught(SimpleTestCase):
    def test_every_route_turned_harmful_is_seen(self):
        """Ten times the dose of each route, put in: the judge finds what was not there."""
        coir = plan({"coir-pith-loose": 3, "perlite": 1}, crop="ericaceous")
        before = evaluate(coir, SHELF, samples=0)
        day = dose_for_day(coir, SHELF, before, 5.0, 90, LIMES, SULFURS).answer
        again = redose(before.forecast, before.ph_band, 3, LIMES, SULFURS, [0.0, 3.0]).answer
        (fix, *_) = [
            c
            for f in remedied(coir, Pantry(SHELF), before, judge(before)).findings
            for r in f.remedies
            for c in r.changes
            if c.material == "sulfur-dusting"
        ]
        for g_per_l in (day.g_per_l, again.g_per_l, fix.g_per_l):
            safe = evaluate(with_rate(coir, "sulfur-dusting", g_per_l), SHELF, samples=0)
            wrong = evaluate(with_rate(coir, "sulfur-dusting", 10 * g_per_l), SHELF, samples=0)
            with self.subTest(g_per_l):
                self.assertNotIn(Kind.PH_LOW, ph_harms(safe))
                self.assertIn(Kind.PH_LOW, ph_harms(wrong))
        fitted = propose(replace(coir, crop="leafy"), SHELF, Goal()).plan
        too_much = replace(
            fitted, doses=tuple(replace(d, amount=10 * d.amount) for d in fitted.doses)
        )
        self.assertTrue(harms(evaluate(too_much, SHELF, samples=0)))
