"""`make bench`: speed as ratios measured in one run, never as seconds to pass or fail.

Prints the core (central line, whole evaluation with its fan, proposals) against bare
numpy and the bare solver, the bench edit (a preview POST of the whole Bench) against an
empty view and the bare call of the core, and the list pages small against large.
"""

import os
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import timedelta
from itertools import count
from urllib.parse import urlencode

VAR = tempfile.mkdtemp(prefix="pelk-bench-")
os.environ["PELK_VAR"] = VAR
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pelk.config.settings_test")

import django  # noqa: E402
import numpy as np  # noqa: E402

django.setup()

from django.core.management import call_command  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import setup_test_environment  # noqa: E402
from django.utils import timezone  # noqa: E402

PARTS = [
    "sphagnum-peat-light",
    "coir-pith-loose",
    "pine-bark-fines-composted",
    "leaf-mould",
    "yard-compost",
    "worm-castings",
    "perlite",
    "pumice",
    "rice-hulls",
    "topsoil-loam",
]
DOSES = [
    "sulfur-dusting",
    "cottonseed-meal",
    "kelp-meal",
    "gypsum",
    "feather-meal",
    "fish-bone-meal",
    "basalt-dust",
    "alfalfa-meal",
    "lime-calcitic-ground",
    "greensand",
]
ROUNDS = 40


def median_ms(action: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Return the median time of an action after warming up."""
    for _ in range(3):
        action()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        action()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


def medians_in_turn(*actions: Callable[[], object], rounds: int = ROUNDS) -> list[float]:
    """Return the median time of each action, taken in turns: a slow spell hits them all."""
    times: list[list[float]] = [[] for _ in actions]
    for round_ in range(rounds + 3):
        for kept, action in zip(times, actions, strict=True):
            start = time.perf_counter()
            action()
            if round_ >= 3:
                kept.append(1000 * (time.perf_counter() - start))
    return [statistics.median(kept) for kept in times]


def bare_loop(lanes: int) -> Callable[[], object]:
    """Return a loop of numpy of the size of a course: 365 days, 20 lines, some lanes.

    Each day touches every line once with the four operations any step needs; it is the
    least that a daily model written straight in numpy costs.
    """
    state, rate = np.ones((20, lanes)), np.full((20, lanes), 0.01)

    def run() -> object:
        now = state.copy()
        for _ in range(365):
            gone = now * rate
            now = now - gone
            np.exp(-gone).sum(0)
        return now

    return run


def measure_core() -> None:
    """Print the central line, the fan, and the whole evaluation of twenty lines."""
    from pelk.bench.formats.documents import read
    from pelk.bench.formats.planning import as_plan
    from pelk.core.evaluation.evaluate import evaluate
    from pelk.core.materials.library import library
    from pelk.core.simulation.ensemble import ensemble
    from pelk.core.simulation.initial_state import heap_of
    from pelk.core.simulation.run import Surroundings, simulate
    from tests.factories import mix

    shelf = library()
    pile = heap_of([(shelf[s], 1 / len(PARTS)) for s in PARTS], [(shelf[s], 0.5) for s in DOSES])
    year = mix(
        bulk=[{"material": slug, "parts": 1} for slug in PARTS],
        doses=[{"material": slug, "amount": 0.5, "unit": "g/L"} for slug in DOSES],
        days=365,
    )
    plan, own = as_plan(read(year), shelf)
    where, own = Surroundings(), {**shelf, **own}
    one, many = median_ms(bare_loop(1)), median_ms(bare_loop(200))
    line = median_ms(lambda: simulate(pile, where, 365))
    wide = median_ms(lambda: ensemble(pile, where, 365, 200))
    plain = median_ms(lambda: evaluate(plan, own, samples=0), 20)
    whole = median_ms(lambda: evaluate(plan, own, samples=200), 20)
    print(f"bare numpy, 365 days x 20        {one:7.2f} ms, x 200 lanes {many:7.2f} ms")
    print(
        f"central line, 20 lines, 365 d    {line:7.2f} ms   {line / one:5.2f} x numpy   budget "
        "10 ms"
    )
    print(f"ensemble of 200                  {wide:7.2f} ms   {wide / many:5.2f} x numpy")
    print(f"evaluation without ensemble      {plain:7.2f} ms   {plain / one:5.2f} x numpy")
    print(
        f"evaluation with its ensemble     {whole:7.2f} ms   {whole / many:5.2f} x numpy   budget "
        "60 ms"
    )


def measure_lives() -> None:
    """Print a soil followed for two years with 60 events beside a year's evaluation."""
    from pelk.bench.formats.documents import read
    from pelk.bench.formats.planning import as_plan
    from pelk.core.evaluation.evaluate import evaluate
    from pelk.core.materials.library import library
    from pelk.core.simulation.soil_forecast import follow_soil
    from pelk.exchange.formats.lives import as_life, read_life
    from tests.factories import mix

    shelf = library()
    year = mix(
        bulk=[{"material": slug, "parts": 1} for slug in PARTS],
        doses=[{"material": slug, "amount": 0.5, "unit": "g/L"} for slug in DOSES],
        days=365,
    )
    poured = {"do": "poured", "material": "fish-emulsion", "amount": 3, "litres_per_pot": 1}
    events = [
        {"on": "2031-04-12", "do": "planted", "crop": "fruiting"},
        {"on": "2031-04-12", "do": "watered"},
        *(
            {"on": f"203{y}-{m:02d}-{d:02d}", **poured}
            for y in (1, 2)
            for m in (5, 6, 7, 8, 9)
            for d in (3, 8, 13, 18, 23, 28)
        ),
    ][:60]
    told = {
        "mixed_on": "2031-03-01",
        "until": "2033-02-28",
        "mix": year,
        "pot": {"litres": 14.5},
        "events": events,
    }
    life = as_life(read_life(told), shelf)
    plan, own = as_plan(read(year), shelf)
    for samples, budget in ((0, 4), (200, 5)):
        took, times = beside(
            lambda n=samples: follow_soil(life, n),
            lambda n=samples: evaluate(plan, own, samples=n),
            9,
        )
        print(
            f"follow, 2 years, 60 events, {samples:3d}  {took:7.2f} ms   {times:5.2f} x evaluate   "
            f"budget {budget} x"
        )


def measure_proposals() -> None:
    """Print the least-cost programme of 40 materials against the bare solver."""
    from scipy.optimize import milp

    from pelk.core.base.integer_programme import Row, Variable, arrays_of, milp_arguments, solve

    rng = np.random.default_rng(1)
    elements = ("N", "P", "K", "Ca", "Mg", "S", "salts")
    brings = rng.gamma(0.6, 20, (40, len(elements)))
    forty = [
        Variable(
            name=str(i),
            cost=float(c),
            most=5.0,
            least=0.05,
            per_unit=dict(zip(elements, map(float, row), strict=True)),
        )
        for i, (c, row) in enumerate(zip(rng.uniform(1, 9, 40), brings, strict=True))
    ]
    rows = [Row(name=e, low=60.0, high=400.0) for e in elements[:-1]]
    rows.append(Row(name="salts", high=300.0))
    arguments = milp_arguments(arrays_of(forty, rows), fewest=False)
    bare = median_ms(lambda: milp(**arguments), 15)
    ours = median_ms(lambda: solve(forty, rows), 15)
    print(f"bare milp, 40 materials          {bare:7.2f} ms")
    print(
        f"least-cost proposal              {ours:7.2f} ms   {ours / bare:5.2f} x milp   budget "
        "1.5 x"
    )
    start = time.perf_counter()
    got = solve(forty, rows, fewest=True)
    took = time.perf_counter() - start
    print(f"fewest of 40                     {took:7.2f} s    gap {got.gap:.1%}   stops at 5 s")


def measure_judged() -> None:
    """Print a judged proposal and the remedies of a mix against what they are made of."""
    from unittest.mock import patch

    from pelk.core.advice import proposals, remedies, remedy_candidates
    from pelk.core.advice.judgement import judge
    from pelk.core.evaluation.evaluate import evaluate
    from pelk.core.materials.library import library
    from tests.core.mixes import plan

    shelf, calls = library(), []
    mix = plan({"sphagnum-peat-light": 5, "perlite": 3}, [("feather-meal", 2)], crop="leafy")
    plain = median_ms(lambda: evaluate(mix, shelf, samples=0), 15)
    drawn = median_ms(lambda: evaluate(mix, shelf), 15)
    solve = proposals.solve

    def kept(*given: object, **more: object) -> object:
        calls.append((given, more))
        return solve(*given, **more)

    with patch.object(proposals, "solve", kept):
        proposals.propose(mix, shelf, proposals.Goal())
    given, more = calls[0]
    bare = median_ms(lambda: solve(*given, **more), 10)
    whole = median_ms(lambda: proposals.propose(mix, shelf, proposals.Goal()), 8)
    print(
        f"judged proposal                  {whole:7.2f} ms   "
        f"{whole / (bare + 6 * plain):5.2f} x (a solve + 6 evaluations)   budget 4 x"
    )
    before = evaluate(mix, shelf)
    judgement, pantry = judge(before), remedy_candidates.Pantry(shelf)
    judged = median_ms(lambda: judge(before), 30)
    mended = median_ms(lambda: remedies.remedied(mix, pantry, before, judgement), 8)
    print(
        f"remedies of a mix                {mended:7.2f} ms   "
        f"{mended / (12 * plain + 2 * drawn):5.2f} x (12 evaluations + 2 with ensembles)"
    )
    print(f"one judgement                    {judged:7.2f} ms   {judged / plain:5.2f} x evaluation")


def measure_cure() -> None:
    """Print the re-fit of fifty readings, and how many simulated heaps the forecast covers."""
    from pelk.core.evaluation.evaluate import evaluate
    from pelk.core.materials.library import library
    from pelk.core.simulation.calibration import PhReading, calibrate
    from pelk.core.simulation.forecast import Observed
    from pelk.core.simulation.synthetic_heap import true_line, true_ph, truth_of
    from tests.core.mixes import plan

    mixes = (
        plan({"sphagnum-peat-light": 3, "perlite": 1}, [("lime-dolomitic-ground", 3.0)]),
        plan({"coir-pith-loose": 3, "yard-compost": 1, "pumice": 1}, [("feather-meal", 1.0)]),
        plan(
            {"pine-bark-fines-composted": 2, "sphagnum-peat-light": 2},
            [("sulfur-dusting", 0.3), ("cottonseed-meal", 2.0)],
            crop="ericaceous",
        ),
    )
    shelf, lot = library(), np.random.default_rng(3)
    days, read_on = (45, 90, 150), (3, 8, 15, 22, 30)
    before, after, tried = 0, 0, 0
    for number, made in enumerate(mixes):
        ahead = evaluate(made, shelf).forecast
        for seed in range(COVERED):
            truth = truth_of(1000 * number + seed)
            trace = true_line(ahead.heap, ahead.around, 180, truth)
            readings = [
                PhReading(
                    day=d,
                    ph=true_ph(trace, truth, d) + float(lot.normal(0, 0.1)),
                    meter="checked pen",
                )
                for d in read_on
            ]
            learned = calibrate(ahead.heap, ahead.around, readings).posterior
            fitted = evaluate(made, shelf, observed=Observed(learned=learned)).forecast
            for day in days:
                ph = true_ph(trace, truth, day)
                tried += 1
                before += ahead.ph[0][day] <= ph <= ahead.ph[2][day]
                after += fitted.ph[0][day] <= ph <= fitted.ph[2][day]
    print(
        f"p10 to p90 holds the truth       {before / tried:7.0%}      before readings, "
        f"{after / tried:.0%} after five; {len(mixes) * COVERED} simulated heaps, wanted about 80 %"
    )
    ahead = evaluate(mixes[0], shelf, samples=0).forecast
    fifty = [PhReading(day=2.0 + 2 * i, ph=5.5 + 0.1 * (i % 3)) for i in range(50)]
    took = median_ms(lambda: calibrate(ahead.heap, ahead.around, fifty), 9)
    print(f"calibration by 50 readings       {took:7.2f} ms   budget 300 ms")
    measure_logger()


def measure_logger() -> None:
    """Print a logger's file of 20,000 rows: read, and read beside a bare csv reader."""
    import csv
    from io import StringIO

    from pelk.core.curing.logger_csv import read_logger

    begun = timezone.now().replace(tzinfo=None, microsecond=0) - timedelta(days=210)
    lines = [
        f"{begun + i * timedelta(minutes=15):%Y-%m-%d %H:%M:%S},{5 + i % 90 / 100:.2f},{18.5}"
        for i in range(20_000)
    ]
    text = "\n".join(["time,ph,temperature (\u00b0C)", *lines])
    bare = median_ms(lambda: list(csv.reader(StringIO(text))), 3)
    took = median_ms(lambda: read_logger(text), 3)
    assert len(read_logger(text).rows) == 20_000
    print(
        f"logger's file of 20 000 rows     {took / 1000:7.2f} s    {took / bare:5.1f} x bare csv   "
        "wanted within 4 s"
    )


COVERED = 40
SHELF_PAGES = (
    "",
    "?q=meal",
    "?show=mine",
    "?show=low",
    "?origin=plant",
    "?sort=price",
    "?sort=nitrogen",
    "?sort=left",
    "?school=1",
)


def own_materials(user, first: int, last: int) -> None:
    """Put materials of one's own on the shelf, each with what its bags come to."""
    from pelk.shelf.models.materials import Analysis, Material, ShelfItem
    from tests.factories import yard_of

    yard = yard_of(user)
    shared = list(Material.objects.filter(yard=None).prefetch_related("analyses"))
    rows = [
        Material(
            yard=yard,
            slug=f"own-{i}",
            name=f"{like.name} {i}",
            family=like.family,
            role=like.role,
            search=f"{like.search} {i}",
            place=like.place,
            origin=like.origin,
            n_pct=(i * 7919 % 1000) / 100,
            like=like,
        )
        for i in range(first, last)
        for like in [shared[i % len(shared)]]
    ]
    Material.objects.bulk_create(rows, 1000)
    Analysis.objects.bulk_create(
        [
            Analysis(
                material=m,
                origin="own",
                facts={**m.like.analyses.all()[0].facts, "slug": m.slug, "name": m.name},
            )
            for m in rows
        ],
        1000,
    )
    made = dict(Analysis.objects.filter(origin="own").values_list("material", "pk"))
    for row in rows:
        row.current_id = made[row.pk]
    Material.objects.bulk_update(rows, ["current"], 500)
    ShelfItem.objects.bulk_create(
        [
            ShelfItem(
                yard=yard,
                material=m,
                left_l=i % 97,
                left_kg=i % 31,
                price_l=i % 53,
                price_kg=i % 71,
                is_low=i % 2 == 0,
            )
            for i, m in enumerate(rows)
        ],
        1000,
    )


def beside(
    action: Callable[[], object], yardstick: Callable[[], object], rounds: int = 25
) -> tuple[float, float]:
    """Return the median time of an action, and of it in the yardstick's, turn by turn.

    The machine's own pace drifts by a factor of two within a run; it drifts for both.
    """
    action(), yardstick()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        action()
        middle = time.perf_counter()
        yardstick()
        times.append((middle - start, time.perf_counter() - middle))
    own = statistics.median(t for t, _ in times)
    return 1000 * own, own / statistics.median(t for _, t in times)


def measure_shelf(client, user) -> None:
    """Print the shelf's list and a material's page at 100 and at 5,000 own materials."""
    urls = [f"/shelf/{query}" for query in SHELF_PAGES] + ["/shelf/own-7/"]

    def work() -> int:
        return sum(hash(str(i)) & 1 for i in range(20_000))

    def times() -> list[tuple[float, float]]:
        return [beside(lambda url=url: client.get(url), work) for url in urls]

    own_materials(user, 0, 100)
    few = times()
    own_materials(user, 100, 5000)
    for name, small, large in zip([*SHELF_PAGES, "one material"], few, times(), strict=True):
        said = f"{small[0]:7.2f} ms, of 5 000 {large[0]:7.2f} ms   {large[1] / small[1]:5.2f} x"
        print(f"shelf {name or 'all':<26} {said}   budget 1.2 x")
    for text in ("2 tbsp lime per gal", "kelp meel", "unobtainium"):
        url = f"/bench/look/?{urlencode({'box': 'dose', 'text': text})}"
        took = median_ms(lambda url=url: client.get(url), 15)
        print(f"understood of 5 000, {text:<20} {took:7.2f} ms   wanted within 60 ms")


def measure_pots(client, user) -> None:
    """Print a group's page, the list and Today with 100 groups, at 100 and at 100,000 deeds."""
    from pelk.pots.models import PotDeed, PotGroup
    from pelk.pots.services.groups import fill
    from tests.factories import make_heap, make_pots, yard_of

    heap, yard = make_heap(user, days_old=60), yard_of(user)
    groups = [make_pots(user, name=f"Pots {i}", crop="fruiting", count=4) for i in range(100)]
    on = timezone.localdate() - timedelta(days=50)
    filled = {"what": "mix", "taken_l": 40.0, "how": "filled", "on": on, "plants": True}
    fill(group=groups[0], by=user, batch=heap, **filled)
    PotGroup.objects.filter(yard=yard).exclude(pk=groups[0].pk).update(planted_on=on)
    pages = [groups[0].get_absolute_url(), "/pots/", "/today/"]

    def tap(many: int) -> None:
        PotDeed.objects.bulk_create(
            [
                PotDeed(yard=yard, group=g, kind="watered", on=on + timedelta(days=i % 50))
                for g in groups
                for i in range(many)
            ],
            2000,
        )

    tap(1)
    few = [median_ms(lambda at=at: client.get(at), 9) for at in pages]
    tap(999)
    for at, small in zip(pages, few, strict=True):
        large = median_ms(lambda at=at: client.get(at), 9)
        print(
            f"{at:<14} 100 groups, 100 000 deeds {large:7.2f} ms   {large / small:5.2f} x of 100 "
            "deeds   budget 1.2 x"
        )


def measure_learning() -> None:
    """Print how the day-0 forecast of simulated yards gets narrower and nearer, heap by heap."""
    from tests.learning_yards import PEAT_AND_PERLITE, WITH_COMPOST, by_heap

    for name, parts in (("peat and perlite", PEAT_AND_PERLITE), ("with compost", WITH_COMPOST)):
        rows = by_heap(parts, yards=100)
        for number, (width, error, inside) in enumerate(rows, 1):
            print(
                f"yards that learn, {name:<17} heap {number}: width {width:.2f} pH, error "
                f"{error:.2f}, inside p10 to p90 {inside:.0%}"
            )
        shrink = 1 - rows[-1][0] / rows[0][0]
        print(f"{name}: {shrink:.0%} narrower   wanted a third")


def measure_against_the_books() -> None:
    """Print the course of mixes that handbooks and growers know, against their bands."""
    from pelk.core.simulation.ensemble import ensemble, quantiles
    from pelk.core.simulation.run import Surroundings, simulate
    from tests.core.simulation.test_reference_mixes import REFERENCES, heap_of_row

    off, inside = [], 0
    for row in REFERENCES:
        if "band" not in row:
            continue
        pile, day, middle = heap_of_row(row), row["day"], float(np.mean(row["band"]))
        got = float(simulate(pile, Surroundings(), day).daily("ph")[day])
        low, high = quantiles(ensemble(pile, Surroundings(), day), "ph", (0.1, 0.9))[:, day]
        off.append(got - middle)
        inside += low <= middle <= high
        print(
            f"{row['id']:<38} day {day:>3}  wanted {row['band'][0]:.1f} to {row['band'][1]:.1f}  "
            f"got {got:.2f} ({low:.2f} to {high:.2f})  {'growers' if row.get('known') else 'ours'}"
        )
    rms = float(np.sqrt(np.mean(np.square(off))))
    print(
        f"against the books: mean error {np.mean(off):+.2f} pH (within 0.10), rms {rms:.2f}; the "
        f"middle of the band inside p10 to p90 in {inside} of {len(off)} (four in five)"
    )


def main() -> None:
    """Measure and print."""
    setup_test_environment()
    import pelk.config.wsgi  # noqa: F401  (sets the garbage collector as the server has it)

    if not os.environ.get("ONLY"):
        measure_core()
    if not os.environ.get("ONLY"):
        measure_lives()
        measure_proposals()
        measure_judged()
        measure_cure()
        measure_against_the_books()
        measure_learning()
    call_command("migrate", verbosity=0)
    from pelk.bench.formats.documents import read
    from pelk.bench.formats.planning import as_plan
    from pelk.core.evaluation.evaluate import evaluate
    from pelk.core.materials.library import library
    from tests.factories import bench_posted, make_heap, make_reading, make_user, mix

    user = make_user()
    client = Client()
    client.force_login(user)
    document = mix(
        bulk=[{"material": slug, "parts": 1} for slug in PARTS],
        doses=[{"material": slug, "amount": 0.5, "unit": "g/L"} for slug in DOSES],
    )
    plan, shelf = as_plan(read(document), library())
    typed = {
        "name": "Twenty lines",
        "crop": "citrus",
        "how": "litres",
        "volume": "60",
        "slot": "only-xl",
        "part_material": PARTS,
        "part_parts": ["1"] * len(PARTS),
        "dose_material": DOSES,
        "dose_amount": ["0.5"] * len(DOSES),
        "dose_unit": ["g/L"] * len(DOSES),
        "dose_per": [""] * len(DOSES),
    }
    amounts = count(1)

    def post_edit() -> None:
        # As htmx sends it (the test client's multipart would be measured too), with one
        # dose typed anew each time.
        typed["dose_amount"][0] = f"0.{next(amounts)}"
        client.post(
            "/bench/new/",
            urlencode(bench_posted(typed), doseq=True),
            headers={"HX-Target": "bench"},
            content_type="application/x-www-form-urlencoded",
        )

    core, empty, edit = medians_in_turn(
        lambda: evaluate(plan, shelf, samples=0), lambda: client.get("/favicon.ico"), post_edit
    )
    print(f"evaluate without ensemble, 20 lines    {core:7.2f} ms")
    print(f"empty view, all middleware       {empty:7.2f} ms   {empty / core:5.2f} x evaluate")
    print(f"bench edit, 20 lines             {edit:7.2f} ms   {edit / core:5.2f} x evaluate")
    print(f"bench edit / (evaluate + empty)  {edit / (core + empty):7.2f}")

    if os.environ.get("ONLY") != "pots":
        measure_shelf(client, user)
    measure_pots(client, user)
    if os.environ.get("ONLY") == "pots":
        return

    heap = make_heap(user, days_old=40)
    url = f"/cure/{heap.pk}/"
    for _ in range(100):
        make_reading(user, heap, ph=6.0)
    pages = {
        "heap": url,
        "schedule": f"{url}schedule/",
        "today": "/today/",
        "log": "/log/",
        "log, a word": "/log/?q=pH",
        "heaps": "/cure/",
        "side by side": f"/cure/beside/?h={heap.pk}",
    }
    from tests.cure.test_work_done_once import Counted

    with Counted() as counts:
        client.post(url, {"ph": "6.1", "method": "slurry", "sure": "1"}, follow=True)
    told = ", ".join(f"{n} {what}" for what, n in counts.items())
    print(f"one reading saved and shown: {told}   wanted at most 2 evaluations, 1 calibration")
    few = {name: median_ms(lambda at=at: client.get(at), 9) for name, at in pages.items()}
    from pelk.cure.models import Reading
    from pelk.log.models import Entry

    first = Reading.objects.first()
    Reading.objects.bulk_create(
        [Reading(yard=first.yard, batch=heap, ph=6.0) for _ in range(100_000)], 2000
    )
    Entry.objects.bulk_create(
        [Entry(yard=first.yard, station="cure", text="deed, pH 6") for _ in range(100_000)], 2000
    )
    for name, at in pages.items():
        many = median_ms(lambda at=at: client.get(at), 9)
        print(
            f"{name:<14} 100 000 / 100      {many:7.2f} ms   {many / few[name]:5.2f} x   budget "
            "1.2 x"
        )


if __name__ == "__main__":
    main()
