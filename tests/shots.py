"""`make shots`: one current picture of each main view, from the demo data.

Serves the application with its own database in a folder that is thrown away, so that
the pictures do not depend on what anyone has typed.
"""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from urllib.error import URLError
from urllib.request import urlopen

from playwright.sync_api import Page, sync_playwright

from tests.browser.chromium import ARGUMENTS, CHROMIUM

ROOT = Path(__file__).resolve().parents[1]
FOLDER = ROOT / "docs" / "screenshots"
ADDRESS = "127.0.0.1:8765"
DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}

VIEWS = [
    ("bench", "/bench/1/", DESK, "light"),
    ("bench-dark", "/bench/2/", DESK, "dark"),
    ("bench-phone", "/bench/1/", PHONE, "light"),
    ("recipe-book", "/bench/", DESK, "light"),
    ("feed-blend", "/bench/blends/1/", DESK, "light"),
    ("shelf", "/shelf/cottonseed-meal/?show=mine", DESK, "light"),
    ("shelf-phone", "/shelf/?show=mine", PHONE, "light"),
    ("today", "/today/", DESK, "light"),
    ("barrow", "/barrow/4/", DESK, "light"),
    ("barrow-phone", "/barrow/4/", PHONE, "light"),
    ("cure", "/cure/2/", DESK, "light"),
    ("cure-phone", "/cure/2/", PHONE, "light"),
    ("pots", "/pots/3/", DESK, "light"),
    ("yard-plan", "/pots/", DESK, "light"),
    ("old-soil", "/pots/old/1/", DESK, "light"),
    ("compare", "/bench/compare/?r=1&r=2&r=3", DESK, "light"),
    (
        "ph-desk",
        "/pots/ph/?soil=sandy&of=bed&area=2&depth=15&start=6.5&target=5.5&day=180&air=18",
        DESK,
        "light",
    ),
    ("start", "/today/start/", DESK, "light"),
]


def main() -> None:
    """Serve, look, keep the pictures."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as var:
        environment = {**os.environ, "PELK_VAR": var}
        manage = [sys.executable, str(ROOT / "manage.py")]
        for command in (["migrate", "--verbosity", "0"], ["load_demo"]):
            said = subprocess.run(
                [*manage, *command],
                env=environment,
                check=True,
                cwd=ROOT,
                capture_output=True,
                text=True,
            ).stdout
        email, password = said.strip().removeprefix("Demo sign-in: ").split(" / ")
        gunicorn = Path(sys.executable).with_name("gunicorn")
        server = subprocess.Popen(
            [
                gunicorn,
                "pelk.config.wsgi",
                "--bind",
                ADDRESS,
                "-k",
                "gthread",
                "--threads",
                "4",
                "--no-control-socket",
                "--log-level",
                "error",
            ],
            env=environment,
            cwd=ROOT,
        )
        try:
            wait_for(f"http://{ADDRESS}/yard/sign-in/")
            take_all(email, password)
        finally:
            server.terminate()
            server.wait()


def wait_for(url: str) -> None:
    """Wait until the server answers."""
    for _ in range(60):
        try:
            urlopen(url, timeout=2)
        except (URLError, OSError):
            time.sleep(0.5)
        else:
            return
    raise SystemExit("the server did not answer")


def take_all(email: str, password: str) -> None:
    """Take every view, and the door."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(base_url=f"http://{ADDRESS}", viewport=DESK)
        page = context.new_page()
        page.goto("/yard/sign-in/")
        keep(page, "sign-in")
        page.get_by_label("Email").fill(email)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        begin_a_batch(page)
        state = context.storage_state()
        for name, path, size, scheme in VIEWS:
            context = browser.new_context(
                base_url=f"http://{ADDRESS}",
                viewport=size,
                color_scheme=scheme,
                storage_state=state,
            )
            page = context.new_page()
            page.goto(path)
            if name == "shelf-handful":
                weigh_three(page)
            if name == "pots-fed":
                look_at_a_feed(page)
            keep(page, name)
            context.close()
        browser.close()


def begin_a_batch(page: Page) -> None:
    """Take the aubergine mix to the barrow and tick the cautions."""
    page.goto("/barrow/make/2/")
    page.get_by_role("button", name="Make this batch").click()
    bar = page.locator(".bigtick")
    while bar.inner_text() == "Understood":
        with page.expect_response("**/tick/"):
            bar.click()
        page.wait_for_timeout(200)


def look_at_a_feed(page: Page) -> None:
    """Ask what a feed would do; nothing is written."""
    page.get_by_label("what and how much, as you say it").fill("30 g feather meal each")
    page.get_by_role("button", name="What does it do?").click()
    page.get_by_text("nitrogen free within a month").wait_for()


def weigh_three(page: Page) -> None:
    """Type three handfuls, not kept."""
    page.get_by_label("What you measure").select_option("cottonseed-meal")
    for i, grams in enumerate(("31", "36", "34"), start=1):
        page.get_by_label(f"handful {i}").fill(grams)
    page.get_by_text("A handful is").wait_for()


def keep(page: Page, name: str) -> None:
    """Keep a picture once the fonts are there."""
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(250)
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
