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

PARTS = ["sphagnum-peat-light", "coir-pith-loose", "pine-bark-fines-composted", "leaf-mould",
         "yard-compost", "worm-castings", "perlite", "pumice", "rice-hulls",
         "topsoil-loam"]  # fmt: skip
DOSES = ["sulfur-dusting", "cottonseed-meal", "kelp-meal", "gypsum", "feather-meal",
         "fish-bone-meal", "basalt-dust", "alfalfa-meal", "lime-calcitic-ground",
         "greensand"]  # fmt: skip
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
    from pelk.bench.documents import as_plan, read
    from pelk.core.course import Surroundings, course
    from pelk.core.evaluate import evaluate
    from pelk.core.fan import fan
    from pelk.core.heap import heap_of
    from pelk.core.materials import library
    from tests.factories import mix

    shelf = library()
    pile = heap_of(
        [(shelf[s], 1 / len(PARTS)) for s in PARTS], [(shelf[s], 0.5) for s in DOSES]
    )
    year = mix(
        bulk=[{"material": slug, "parts": 1} for slug in PARTS],
        doses=[{"material": slug, "amount": 0.5, "unit": "g/L"} for slug in DOSES],
        days=365,
    )
    plan, own = as_plan(read(year), shelf)
    where, own = Surroundings(), {**shelf, **own}
    one, many = median_ms(bare_loop(1)), median_ms(bare_loop(200))
    line = median_ms(lambda: course(pile, where, 365))
    wide = median_ms(lambda: fan(pile, where, 365, 200))
    plain = median_ms(lambda: evaluate(plan, own, samples=0), 20)
    whole = median_ms(lambda: evaluate(plan, own, samples=200), 20)
    print(f"bare numpy, 365 days x 20        {one:7.2f} ms, x 200 lanes {many:7.2f} ms")
    print(
        f"central line, 20 lines, 365 d    {line:7.2f} ms   {line / one:5.2f} x numpy   budget 10 ms"
    )
    print(f"fan of 200 alone                 {wide:7.2f} ms   {wide / many:5.2f} x numpy")
    print(
        f"evaluation without its fan       {plain:7.2f} ms   {plain / one:5.2f} x numpy"
    )
    print(
        f"evaluation with its fan          {whole:7.2f} ms   {whole / many:5.2f} x numpy   budget 60 ms"
    )


def measure_proposals() -> None:
    """Print the least-cost programme of 40 materials against the bare solver."""
    from scipy.optimize import milp

    from pelk.core.programme import Row, Variable, arrays_of, milp_arguments, solve

    rng = np.random.default_rng(1)
    elements = ("N", "P", "K", "Ca", "Mg", "S", "salts")
    brings = rng.gamma(0.6, 20, (40, len(elements)))
    forty = [
        Variable(name=str(i), cost=float(c), most=5.0, least=0.05,
                 per_unit=dict(zip(elements, map(float, row), strict=True)))
        for i, (c, row) in enumerate(zip(rng.uniform(1, 9, 40), brings, strict=True))
    ]  # fmt: skip
    rows = [Row(name=e, low=60.0, high=400.0) for e in elements[:-1]]
    rows.append(Row(name="salts", high=300.0))
    arguments = milp_arguments(arrays_of(forty, rows), fewest=False)
    bare = median_ms(lambda: milp(**arguments), 15)
    ours = median_ms(lambda: solve(forty, rows), 15)
    print(f"bare milp, 40 materials          {bare:7.2f} ms")
    print(
        f"least-cost proposal              {ours:7.2f} ms   {ours / bare:5.2f} x milp   budget 1.5 x"
    )
    start = time.perf_counter()
    found = solve(forty, rows, fewest=True)
    took = time.perf_counter() - start
    print(
        f"fewest of 40                     {took:7.2f} s    gap {found.gap:.1%}   stops at 5 s"
    )


def main() -> None:
    """Measure and print."""
    setup_test_environment()
    import pelk.config.wsgi  # noqa: F401  (sets the garbage collector as the server has it)

    measure_core()
    measure_proposals()
    call_command("migrate", verbosity=0)
    from pelk.bench.documents import as_plan, read
    from pelk.core.evaluate import evaluate
    from pelk.core.materials import library
    from tests.factories import make_heap, make_reading, make_user, mix

    user = make_user()
    client = Client()
    client.force_login(user)
    document = mix(
        bulk=[{"material": slug, "parts": 1} for slug in PARTS],
        doses=[{"material": slug, "amount": 0.5, "unit": "g/L"} for slug in DOSES],
    )
    plan, shelf = as_plan(read(document), library())
    typed = {
        "name": "Twenty lines", "crop": "citrus", "how": "litres", "volume": "60",
        "part_material": PARTS, "part_parts": ["1"] * len(PARTS),
        "dose_material": DOSES, "dose_amount": ["0.5"] * len(DOSES),
        "dose_unit": ["g/L"] * len(DOSES), "dose_per": [""] * len(DOSES),
    }  # fmt: skip
    core = median_ms(lambda: evaluate(plan, shelf, samples=0))
    empty = median_ms(lambda: client.get("/favicon.ico"))
    # As htmx sends it; the test client's multipart would be measured too.
    form = urlencode(typed, doseq=True)
    edit = median_ms(
        lambda: client.post(
            "/bench/new/", form, headers={"HX-Target": "bench"},
            content_type="application/x-www-form-urlencoded",
        )
    )  # fmt: skip
    print(f"evaluate without fan, 20 lines         {core:7.2f} ms")
    print(
        f"empty view, all middleware       {empty:7.2f} ms   {empty / core:5.2f} x evaluate"
    )
    print(
        f"bench edit, 20 lines             {edit:7.2f} ms   {edit / core:5.2f} x evaluate"
    )
    print(f"bench edit / (evaluate + empty)  {edit / (core + empty):7.2f}")

    heap = make_heap(user, days_old=40)
    url = f"/cure/{heap.pk}/"
    for _ in range(100):
        make_reading(user, heap, ph=6.0)
    few = median_ms(lambda: client.get(url), 15)
    log_few = median_ms(lambda: client.get("/log/"), 15)
    from pelk.cure.models import Reading
    from pelk.log.models import Entry

    first = Reading.objects.first()
    Reading.objects.bulk_create(
        [Reading(yard=first.yard, batch=heap, ph=6.0) for _ in range(100_000)], 2000
    )
    Entry.objects.bulk_create(
        [Entry(yard=first.yard, station="cure", text="deed") for _ in range(100_000)],
        2000,
    )
    many = median_ms(lambda: client.get(url), 15)
    log_many = median_ms(lambda: client.get("/log/"), 15)
    print(f"heap, 100 readings               {few:7.2f} ms")
    print(f"heap, 100 000 readings           {many:7.2f} ms   {many / few:5.2f} x")
    print(
        f"log, 100 000 deeds               {log_many:7.2f} ms   {log_many / log_few:5.2f} x"
    )


if __name__ == "__main__":
    main()
