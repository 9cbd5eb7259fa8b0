"""A pot built in layers: all of it fits, nothing is lost, mulch stays as it was asked for."""

from itertools import pairwise

from django.test import SimpleTestCase
from hypothesis import assume, given
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError
from pelk.core.vessels.planting_layers import Kind, ToBuild, built

TUB = ToBuild(litres=12.0, height_cm=25.0, brim_cm=28.4, settling=0.2)


def with_(**changes):
    return built(ToBuild(**{**{k: getattr(TUB, k) for k in TUB.__slots__}, **changes}))


def named(pot, kind):
    return [layer for layer in pot.layers if layer.kind is kind]


class Layers(SimpleTestCase):
    def test_lifts_hold_the_mix_and_are_patted(self):
        pot = with_()
        lifts = named(pot, Kind.LIFT)
        # 12 L settled by a fifth are 15 L loose; 25 cm in lifts of at most 15: two.
        self.assertEqual(len(lifts), 2)
        self.assertAlmostEqual(sum(x.litres for x in lifts), 15.0)
        self.assertEqual([x.name for x in lifts], ["Second lift", "First lift"])
        self.assertEqual(named(pot, Kind.BASE), [])  # no crocks in a pot with holes

    def test_two_inches_of_mulch_stay_two_inches(self):
        deep = 5.08
        pot = with_(mulch_cm=deep)
        mulch = named(pot, Kind.MULCH)[0]
        self.assertAlmostEqual(mulch.top_cm - mulch.base_cm, deep)
        # 3.4 cm of room, one of them for water: the soil ends 2.68 cm lower.
        self.assertAlmostEqual(pot.lowered_cm, deep - 2.4)
        self.assertAlmostEqual(pot.mix_l, 15.0 * (25 - 2.68) / 25)
        self.assertEqual(with_(mulch_cm=2.0).lowered_cm, 0.0)

    def test_half_now_half_later(self):
        pot = with_(is_half=True, mulch_cm=2.0)
        self.assertAlmostEqual(pot.now_l, pot.mix_l / 2)
        later = [x.kind for x in pot.layers if x.is_later]
        self.assertEqual(later, [Kind.MULCH, Kind.TOP_UP])

    def test_a_base_only_where_it_belongs(self):
        bag = with_(wall="fabric", height_cm=40.0, brim_cm=44.0)
        self.assertEqual(len(named(bag, Kind.BASE)), 1)
        self.assertEqual(named(with_(kind="bed"), Kind.BASE), [])
        self.assertEqual(len(named(with_(kind="bed", is_wet_below=True), Kind.BASE)), 1)

    def test_what_leaves_no_room_is_said(self):
        for wrong in ({"mulch_cm": 24.0}, {"hole_l": 20.0, "hole": "castings"}):
            with self.assertRaises(PelkError):
                with_(**wrong)

    @given(
        st.floats(2, 200),
        st.floats(12, 60),
        st.floats(0, 8),
        st.floats(0, 0.3),
        st.booleans(),
        st.floats(0, 0.2),
    )
    def test_layers_add_up_and_stand_on_one_another(self, litres, tall, mulch, settles, half, hole):
        pot = ToBuild(
            litres=litres,
            height_cm=tall,
            brim_cm=tall / 0.88,
            settling=settles,
            mulch_cm=mulch,
            is_half=half,
            hole_l=hole * litres,
            hole="castings" if hole else "",
        )
        try:
            made = built(pot)
        except PelkError:
            assume(False)
        mix = sum(x.litres for x in made.layers if x.kind in (Kind.LIFT, Kind.TOP_UP))
        self.assertAlmostEqual(mix, made.mix_l, places=6)
        settled = (made.mix_l + pot.hole_l) * (1 - settles)
        self.assertAlmostEqual(settled, litres * made.soil_cm / tall, places=6)
        solid = [x for x in reversed(made.layers) if x.kind not in (Kind.HOLE, Kind.PLANT)]
        for below, above in pairwise(solid):
            self.assertAlmostEqual(below.top_cm, above.base_cm, places=6)
        self.assertLessEqual(solid[-1].top_cm, max(made.brim_cm, pot.height_cm) + 1e-6)
