"""Odd input for every address: what a form may be sent by a hand, a machine, or an enemy."""

import random
import re

from django.urls import reverse

from tests.yards.test_permissions import SHARED, addresses

NAME = re.compile(r'name="([A-Za-z0-9_\-]{1,40})"')
ODD = (
    "", " ", "0", "-1", "1e309", "nan", "inf", "-inf", "9" * 400 + ".5", "9" * 5000, "1/0", "1//2",
    "\x00", "\x1b[31m", "\ud800", "ä" * 3000, "a" * 10_000, "N" + " " * 250 + "x", "'\"><script>",
    "=cmd()", "-1+1", "\t=1", "2031-13-45", "0001-01-01", "9999-12-31", "2031-03-01T99:99", "½",
    "../../etc/passwd", "//elsewhere.example", "move-part:0:--5", "why:N", "fit-take", "batch-3",
    "{\"a\":" * 200, "[" * 3000, "١٢", "1,250", "1.250,5", "12345678901234567890", "%s%n", "on",
)  # fmt: skip
CALM = ("1", "2", "keep", "save", "try", "sphagnum-peat-light", "2031-03-01", "mix", "6.1")
# Addresses that end the walk itself.
# `ready` answers 503 where it means it.
LEAVES = {"ready", "yards:sign_out", "yards:leave", "yards:switch", "yards:link_password"}


def walked(owned):
    """Yield (name, url) of every address, with its own objects and with odd ones."""
    for name, wanted in addresses():
        if name in LEAVES or (name in SHARED and wanted):
            continue
        if all(key in owned for key in wanted):
            yield name, reverse(name, kwargs={key: owned[key] for key in wanted})


def sent_to(client, url, dice, times):
    """Yield (method, status, what was sent) of some odd requests to one address."""
    page = client.get(url)
    yield "GET", page.status_code, {}
    names = {"action", "next", "page", "q", "sort"}
    if "html" in page.get("Content-Type", "") and not page.streaming:
        names |= set(NAME.findall(page.content.decode(errors="replace")))
    names.discard("csrfmiddlewaretoken")
    pool = sorted(names)
    for _ in range(times):
        chosen = dice.sample(pool, min(len(pool), dice.randint(1, 12)))
        sent = {name: dice.choice(ODD if dice.random() < 0.7 else CALM) for name in chosen}
        for method in (client.get, client.post):
            # A lone surrogate cannot be sent as text: its bytes can.
            plain = {k: v.encode("utf-8", "surrogatepass") for k, v in sent.items()}
            body = {k: v if b"\xed\xa0" in v else v.decode() for k, v in plain.items()}
            headers = dice.choice(
                ({}, {"HX-Request": "true", "HX-Target": dice.choice(("bench", "x"))})
            )
            yield method.__name__, method(url, body, headers=headers).status_code, sent


def seeded(seed):
    """Return the dice of one walk."""
    return random.Random(seed)
