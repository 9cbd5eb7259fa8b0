"""The yard from above: one scale, what fills the pots, what waits."""

import re

from django.test import SimpleTestCase, TestCase
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from pelk.pots.models import PotGroup
from pelk.ui.pots_from_above import (
    LARGEST,
    LONGEST,
    MOST_DRAWN,
    OBLONG,
    FromAbove,
    pots_svg,
    scale_for,
)
from tests.factories import make_fill, make_pots, make_user

kinds = st.sampled_from(["round-pot", "square-pot", "trough", "bed", "tub"])
pots = st.builds(
    FromAbove,
    key=st.just("1"),
    kind=kinds,
    count=st.integers(1, 400),
    surface_cm2=st.floats(20, 60_000),
    texture=st.sampled_from(["", "peat"]),
    seasons=st.none() | st.integers(0, 9),
)


class FromAboveTest(SimpleTestCase):
    @given(st.lists(pots, min_size=1, max_size=8))
    def test_all_stand_to_one_scale_and_none_is_larger_than_it_may(self, groups):
        scale = scale_for(groups)
        for group in groups:
            wide, deep = group.size_cm
            area = wide * deep if group.kind in (*OBLONG, "square-pot") else 3.14159 * wide**2 / 4
            self.assertAlmostEqual(area / group.surface_cm2, 1, places=3)
            if scale > 0.36:
                self.assertLessEqual(wide * scale, LARGEST + 0.01)
            drawn = pots_svg(group, scale)
            shapes = len(re.findall(r"<(?:circle|rect) ", drawn))
            self.assertEqual(shapes, min(group.count, MOST_DRAWN))
            self.assertEqual(group.not_drawn, max(group.count - MOST_DRAWN, 0))
            width = int(re.search(r'width="(\d+)"', drawn)[1])
            self.assertLessEqual(width, max(LONGEST, wide * scale + 20))


class Plan(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_places_their_edges_and_what_fills_the_pots(self):
        frame = make_pots(self.user, name="Auricula pans", place="Cold frame", kind="square-pot")
        make_pots(self.user, name="Tea pots", place="North wall")
        make_fill(self.user, frame)
        page = self.client.get("/pots/")
        plan = page.context["plan"]
        self.assertEqual(
            [(p.name, p.edge) for p in plan.places],
            [("Cold frame", "glass"), ("North wall", "wall")],
        )
        self.assertContains(page, "pa-edge")
        self.assertContains(page, "pa-empty")
        self.assertContains(page, "everything to one scale")
        listed = self.client.get("/pots/?as=list")
        self.assertNotContains(listed, "pots-above")
        self.assertContains(listed, "Auricula pans")

    def test_an_empty_yard_has_one_step_and_many_groups_ask_few_questions(self):
        self.assertContains(self.client.get("/pots/"), "Describe your first group")
        for i in range(12):
            group = make_pots(self.user, name=f"Row {i}", planted_on=timezone.localdate())
            make_fill(self.user, group)
        self.client.get("/pots/")
        with self.assertNumQueries(9):
            self.client.get("/pots/")
        self.assertEqual(PotGroup.objects.count(), 12)
