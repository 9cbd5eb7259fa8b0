"""A browser for the journeys: one Chromium, a clean page a test, no error forgiven."""

import atexit
from functools import cache

from django.apps import apps
from django.conf import settings
from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.servers.basehttp import WSGIRequestHandler
from django.test import Client, tag
from playwright.sync_api import expect, sync_playwright

from tests.browser.chromium import ARGUMENTS, CHROMIUM
from tests.factories import (
    PASSWORD,
    make_bag,
    make_heap,
    make_pots,
    make_reading,
    make_recipe,
    make_user,
)

# Nagle's algorithm costs 44 ms an answer on the test server.
WSGIRequestHandler.disable_nagle_algorithm = True
# The icon of the tab: Chromium asks for it when it likes, be it in a dead spot.
ICON = "pelk.svg"
NO_WORKER = "Service Worker registration blocked"
# A loaded machine is slow, not wrong.
expect.set_options(timeout=15_000)


@cache
def the_browser():
    """Return the Chromium of this process; starting one for each class took a minute."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
    atexit.register(playwright.stop)
    atexit.register(browser.close)
    return browser


class KeptStaticFiles(StaticFilesHandler):
    """Styles and scripts asked for once a visit, as the real server has them kept."""

    def serve(self, request):
        response = super().serve(request)
        response.headers["Cache-Control"] = "max-age=3600"
        return response


@tag("browser")
class BrowserTestCase(StaticLiveServerTestCase):
    """Fails on any JavaScript error, console error or CSP violation."""

    size = {"width": 1280, "height": 800}
    static_handler = KeptStaticFiles
    # While the page's worker takes over, the test's eyes miss what is asked for meanwhile.
    worker = "block"
    # Named, the tables are emptied after a test without making every permission anew.
    available_apps = [config.name for config in apps.get_app_configs()]

    def setUp(self):
        self.troubles = []
        self.page = self.open_page()

    def open_page(self, **options):
        context = the_browser().new_context(
            viewport=self.size,
            base_url=self.live_server_url,
            service_workers=self.worker,
            **options,
        )
        self.addCleanup(context.close)
        context.set_default_timeout(10_000)
        page = context.new_page()
        page.on("pageerror", lambda error: self.troubles.append(f"page error: {error}"))
        page.on("console", self.hear)
        page.on("requestfailed", lambda r: self.hear_failed(r))
        return page

    def hear(self, message):
        is_ours = not message.location["url"].endswith(ICON) and NO_WORKER not in message.text
        if message.type in ("error", "warning") and is_ours:
            self.troubles.append(f"console {message.type}: {message.text}")

    def hear_failed(self, request):
        # Chromium aborts a request that a newer one overtakes: that is wanted.
        if "ERR_ABORTED" not in (request.failure or "") and not request.url.endswith(ICON):
            self.troubles.append(f"failed: {request.url} {request.failure}")

    def tearDown(self):
        self.assertEqual(self.unexplained(), [])

    def unexplained(self):
        """Return the troubles, less the two that htmx tells of a request overtaken."""
        aborts = [t for t in self.troubles if "htmx:sendAbort" in t]
        left = [t for t in self.troubles if t not in aborts]
        for _ in aborts:
            told = next((t for t in left if "htmx:afterRequest" in t), None)
            if told:
                left.remove(told)
        return left

    def sign_in(self, user):
        """Give the page the cookie of a person who has signed in."""
        client = Client()
        client.force_login(user)
        cookie = client.cookies[settings.SESSION_COOKIE_NAME].value
        self.page.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": cookie, "url": self.live_server_url}]
        )

    def sign_in_by_hand(self, user):
        self.page.goto("/yard/sign-in/")
        self.page.get_by_label("Email").fill(user.email)
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign in").click()
        # Away from here before the answer is there, one would arrive a stranger.
        self.page.wait_for_selector("body[data-who]")


class StockedTestCase(BrowserTestCase):
    """Signed in to a yard with one of each: recipe, heap, reading, bag, pots."""

    def setUp(self):
        super().setUp()
        self.user = make_user()
        self.recipe = make_recipe(self.user)
        self.heap = make_heap(self.user, days_old=12)
        make_reading(self.user, self.heap)
        make_bag(self.user)
        self.pots = make_pots(self.user)
        self.sign_in(self.user)
