"""Odd input is never a 500: every address of the application, with seeded odd words."""

import logging

from django.test import TestCase

from tests.factories import make_user
from tests.yards.fuzz import seeded, sent_to, walked
from tests.yards.test_permissions import everything_of

# Each walk that once failed stays here; `make soak` looks for others.
SEEDS = (1, 10)
TIMES = 3


class OddInput(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = make_user()
        cls.owned = everything_of(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)
        self.client.raise_request_exception = False
        logging.disable(logging.CRITICAL)
        self.addCleanup(logging.disable, logging.NOTSET)

    def walk(self, seed):
        dice, tried, broke = seeded(seed), 0, []
        for name, url in walked(self.owned):
            for method, status, sent in sent_to(self.client, url, dice, TIMES):
                tried += 1
                if status >= 500:
                    broke.append((name, method, {k: v[:40] for k, v in sent.items()}))
        self.assertEqual(broke, [], f"seed {seed}")
        self.assertGreater(tried, 500)

    def test_no_address_breaks(self):
        for seed in SEEDS:
            self.walk(seed)

    def test_odd_bodies_and_charsets(self):
        for kind in ("application/x-www-form-urlencoded; charset=utf-7", "text/plain", "a/b"):
            for url in ("/bench/new/", "/shelf/lab/new/", "/log/note/", "/yard/sign-in/"):
                with self.subTest(kind, url=url):
                    body = b"\xff\xfe=+AGE-&note=+ADw-"
                    answer = self.client.generic("POST", url, body, content_type=kind)
                    self.assertLess(answer.status_code, 500)
