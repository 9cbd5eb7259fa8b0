"""Air and water after draining: every material against its own row, mixes at three heights."""

from itertools import pairwise

from django.test import SimpleTestCase

from pelk.core.base.tables import rows
from pelk.core.materials.library import library
from pelk.core.vessels.structure import gaps_open, structure_of
from pelk.core.vessels.volumes import blending_loss

# Air/water in percent at 10, 15 and 20 cm, blending loss counted: the fitted curves, run by
# themselves outside this code (derived).
MIXES = [
    ({"sphagnum-peat-light": 1}, ((16, 76), (22, 70), (26, 66))),
    ({"sphagnum-peat-light": 3, "perlite": 1}, ((18, 69), (24, 64), (28, 60))),
    ({"sphagnum-peat-light": 1, "perlite": 1}, ((22, 61), (27, 56), (31, 52))),
    ({"sphagnum-peat-light": 1, "perlite": 3}, ((35, 44), (39, 40), (41, 37))),
    ({"sphagnum-peat-light": 2, "vermiculite": 1}, ((16, 75), (21, 69), (25, 65))),
    ({"pine-bark-fines-aged": 4, "coarse-sand": 1}, ((18, 54), (22, 49), (25, 46))),
    ({"coir-pith-loose": 7, "perlite": 3}, ((20, 67), (26, 61), (30, 57))),
    ({"sphagnum-peat-light": 2, "yard-compost": 1}, ((11, 75), (16, 70), (20, 66))),
    (
        {"topsoil-loam": 7, "sphagnum-peat-light": 3, "coarse-sand": 2},
        ((6, 52), (10, 49), (12, 46)),
    ),
]
# Two rows lie on the line itself (5.004): the rows give whole points.
POINTS = 5.05


def shares(mix):
    whole = sum(mix.values())
    return [(library()[slug], n / whole) for slug, n in mix.items()]


class AirAndWater(SimpleTestCase):
    def test_every_material_alone_agrees_with_its_own_air_and_water(self):
        tried = 0
        for row in rows("materials.csv"):
            material = library().get(row["slug"])
            if material is None or not material.retention_set or not row["air_space_pct"]:
                continue
            got = structure_of([(material, 1.0)], 0.0, 10.0)
            air, whole = float(row["air_space_pct"]), float(row["total_porosity_pct"])
            with self.subTest(material.slug):
                self.assertAlmostEqual(100 * got.air_filled, air, delta=POINTS)
                self.assertAlmostEqual(100 * got.container_capacity, whole - air, delta=POINTS)
                tried += 1
        self.assertGreater(tried, 40)

    def test_mixes_at_three_heights(self):
        for mix, wanted in MIXES:
            parts = shares(mix)
            loss = blending_loss(parts)
            for height_cm, (air, water) in zip((10, 15, 20), wanted, strict=True):
                got = structure_of(parts, loss, height_cm)
                with self.subTest("+".join(mix), height_cm=height_cm):
                    self.assertAlmostEqual(100 * got.air_filled, air, delta=1)
                    self.assertAlmostEqual(100 * got.container_capacity, water, delta=1)

    def test_gaps_open_steadily_as_grains_take_over(self):
        peat, perlite = library()["sphagnum-peat-light"], library()["perlite"]
        steps = [gaps_open([(peat, 1 - x / 20), (perlite, x / 20)]) for x in range(21)]
        self.assertEqual((steps[0], steps[10], steps[20]), (0.0, 0.0, 1.0))
        self.assertEqual(steps, sorted(steps))
        jumps = [b - a for a, b in pairwise(steps)]
        self.assertLess(max(jumps), 0.2)
