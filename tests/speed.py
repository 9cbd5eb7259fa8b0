"""`make bench`: speed as ratios measured in one run, never as seconds to pass or fail.

Prints the bench edit (a preview POST of the whole Bench) against an empty view and
against the bare call of the core, and the list pages small against large.
"""

import os
import statistics
import tempfile
import time
from collections.abc import Callable

VAR = tempfile.mkdtemp(prefix="pelk-bench-")
os.environ["PELK_VAR"] = VAR
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pelk.config.settings_test")

import django  # noqa: E402

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


def main() -> None:
    """Measure and print."""
    setup_test_environment()
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
    core = median_ms(lambda: evaluate(plan, shelf))
    empty = median_ms(lambda: client.get("/favicon.ico"))
    edit = median_ms(
        lambda: client.post("/bench/new/", typed, headers={"HX-Target": "bench"})
    )
    print(f"bare evaluate, 20 lines          {core:7.2f} ms")
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
