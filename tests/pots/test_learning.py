"""What a soil is told is told whole: a checked pen counts, and nothing is swallowed."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.cure.services.visits import check_pen
from pelk.exchange.formats.lives import DO
from pelk.pots.models import PotDeed
from pelk.pots.services.groups import fill, write_deed
from pelk.soils.domain.living import event_of
from pelk.soils.models import SoilEvent
from tests.factories import make_heap, make_pots, make_reading, make_user, yard_of


class Told(TestCase):
    def setUp(self):
        self.user = make_user()
        self.heap = make_heap(self.user, days_old=20)
        self.pots = make_pots(self.user)

    def planted(self):
        fill(
            group=self.pots,
            by=self.user,
            what="mix",
            batch=self.heap,
            taken_l=20.0,
            how="filled",
            on=timezone.localdate() - timedelta(days=2),
            filled_count=self.pots.count,
            plants=True,
        )
        self.pots.refresh_from_db()
        return self.pots.soil

    def test_a_checked_pen_counts_in_the_soil_that_goes_on(self):
        check_pen(
            yard=yard_of(self.user), by=self.user, meter="yard pen", read_low=4.01, read_high=7.0
        )
        make_reading(self.user, self.heap, ph=6.1, pen="yard pen")
        soil = self.planted()
        row = soil.events.get(do=SoilEvent.Do.READ)
        self.assertTrue(event_of(soil, row, {}, {}).checked)
        row.data = {k: v for k, v in row.data.items() if k != "checked"}
        self.assertFalse(event_of(soil, row, {}, {}).checked)

    def test_what_is_missing_is_named_not_called_gone_from_the_shelf(self):
        soil = self.planted()
        row = SoilEvent(yard=soil.yard, soil=soil, on=timezone.localdate(), do="rinsed", data={})
        with self.assertRaisesMessage(PelkError, "missing: litres"):
            event_of(soil, row, {}, {})
        row.do, row.data = "dressed", {"material": "moondust", "grams": 1, "placed": "on top"}
        with self.assertRaisesMessage(PelkError, "moondust is not on this yard’s shelf"):
            event_of(soil, row, {}, {})
        row.do = "danced"
        with self.assertRaisesMessage(PelkError, "found 'danced'"):
            event_of(soil, row, {}, {})

    def test_a_deed_that_the_soil_cannot_follow_is_not_kept_half(self):
        self.planted()
        count = PotDeed.objects.count()
        with self.assertRaises(PelkError):
            write_deed(
                group=self.pots,
                by=self.user,
                kind=PotDeed.Kind.RINSED,
                on=timezone.localdate() + timedelta(days=4000),
                figures={"litres": 1.0},
            )
        self.assertEqual(PotDeed.objects.count(), count)

    def test_a_read_of_a_life_names_what_it_does_not_take(self):
        self.assertEqual(set(DO["read"]), {"ph", "ec_ds_m", "method", "checked"})
