"""Guessing, flooding, being found out: what the doors of a yard stand."""

import re
from io import StringIO
from threading import Lock, Thread
from time import sleep
from unittest.mock import patch

from django.contrib.auth.hashers import Argon2PasswordHasher
from django.core import mail
from django.core.management import call_command
from django.db import OperationalError
from django.test import SimpleTestCase, TestCase, override_settings
from django.utils import timezone

from pelk.yards.doors.hashers import LONGEST, OneAtATime
from pelk.yards.doors.limits import Limit, passes
from pelk.yards.doors.sessions import hashed
from pelk.yards.models import Session, User, Yard
from tests.factories import make_user

PHONE = "Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Chrome/120.0 Mobile"
SIGN_IN = "/yard/sign-in/"
# A page's own token differs each time.
MASKED = re.compile(r"[A-Za-z0-9]{64}")


class Guessing(TestCase):
    def setUp(self):
        self.user = make_user("bench@steps.example")

    @override_settings(AXES_ENABLED=True)
    def test_after_some_wrong_passwords_the_door_rests_in_friendly_words(self):
        typed = {"username": "bench@steps.example", "password": "wrong-and-long"}
        for name in ("bench@steps.example", "Bench@Steps.example") * 4:
            page = self.client.post(SIGN_IN, {**typed, "username": name})
        self.assertContains(page, "Locked for a while", status_code=429)
        self.user.set_password("terrace-and-tub")
        self.user.save()
        right = {**typed, "password": "terrace-and-tub"}
        self.assertEqual(self.client.post(SIGN_IN, right).status_code, 429)
        # Another person at the same place is not locked out with them.
        other = make_user("other@cove.example", "Cove")
        other.set_password("terrace-and-tub")
        other.save()
        mine = {**right, "username": "other@cove.example"}
        self.assertEqual(self.client.post(SIGN_IN, mine).status_code, 302)

    @override_settings(LIMITS=True)
    def test_links_and_sign_ups_are_bounded_from_one_place(self):
        answers = [self.client.post("/yard/link/", {"email": "x@y.example"}) for _ in range(8)]
        codes = [answer.status_code for answer in answers]
        self.assertEqual((codes[0], codes[-1]), (302, 429))
        self.assertContains(answers[-1], "Wait 60 minutes", status_code=429)
        codes = [self.client.post("/yard/sign-up/", {}).status_code for _ in range(12)]
        self.assertEqual((codes[0], codes[-1]), (200, 429))

    def test_a_limit_begins_anew_when_its_time_is_over(self):
        limit = Limit("probe", 2, 60, "")
        self.assertEqual([passes(limit, "a") for _ in range(3)], [True, True, False])
        self.assertTrue(passes(limit, "b"))
        later = timezone.now() + timezone.timedelta(seconds=61)
        with patch("pelk.yards.doors.limits.timezone.now", return_value=later):
            self.assertTrue(passes(limit, "a"))

    def test_a_link_is_promised_alike_whoever_asks(self):
        known = self.client.post("/yard/link/", {"email": self.user.email}, follow=True)
        nobody = self.client.post("/yard/link/", {"email": "nobody@x.example"}, follow=True)
        self.assertEqual(known.status_code, nobody.status_code)
        self.assertEqual(known.redirect_chain, nobody.redirect_chain)
        self.assertEqual(*(MASKED.sub("", p.content.decode()) for p in (known, nobody)))


@override_settings(CONFIRM=True)
class ByLink(TestCase):
    TYPED = {"yard_name": "Wall Side", "password": "the-one-who-typed", "region": "GB"}
    SET = {"new_password1": "set-behind-the-link", "new_password2": "set-behind-the-link"}

    def test_signing_up_tells_nobody_whether_an_email_is_taken(self):
        make_user("here@cove.example", "Cove")
        new = self.client.post("/yard/sign-up/", {**self.TYPED, "email": "new@cove.example"})
        taken = self.client.post("/yard/sign-up/", {**self.TYPED, "email": "here@cove.example"})
        said = [MASKED.sub("", p.content.decode()) for p in (new, taken)]
        self.assertEqual(*(re.sub("(new|here)@", "@", text) for text in said))
        self.assertEqual(self.client.get("/log/").status_code, 302)
        first, second = (m.body for m in mail.outbox)
        self.assertIn("/yard/link/", second)
        link = first.split("http://testserver")[1].split()[0]
        # A scanner of mails opens nothing, nor does the password of whoever signed up.
        self.assertContains(self.client.get(link), "Set the password")
        self.assertEqual(self.client.get("/log/").status_code, 302)
        door = {"username": "new@cove.example", "password": self.TYPED["password"]}
        self.assertEqual(self.client_class().post("/yard/sign-in/", door).status_code, 200)
        self.assertNotContains(self.client.get("/yard/sign-up/"), "Use a password")
        self.assertRedirects(self.client.post(link, self.SET), "/today/start/")
        self.assertEqual(self.client.get("/log/").status_code, 200)
        self.assertEqual(self.client_class().post("/yard/sign-in/", door).status_code, 200)
        # The link is good once.
        self.assertEqual(self.client_class().get(link).headers["Location"], "/yard/sign-in/")
        self.assertEqual(self.client_class().get("/yard/welcome/x:y:z/").status_code, 404)

    def test_who_squats_an_email_keeps_nobody_out(self):
        for name in ("Squatter", "Mine"):
            typed = {**self.TYPED, "yard_name": name, "email": "mine@cove.example"}
            self.client.post("/yard/sign-up/", typed)
        old, new = (m.body.split("http://testserver")[1].split()[0] for m in mail.outbox)
        self.assertEqual(self.client.get(old).status_code, 404)
        self.assertRedirects(self.client.post(new, self.SET), "/today/start/")
        self.assertEqual(list(Yard.objects.values_list("name", flat=True)), ["Mine"])

    def test_who_never_follows_it_is_forgotten(self):
        self.client.post("/yard/sign-up/", {**self.TYPED, "email": "new@cove.example"})
        User.objects.update(date_joined=timezone.now() - timezone.timedelta(days=4))
        call_command("purge", stdout=StringIO())
        self.assertFalse(User.objects.exists() or Yard.objects.exists())


class Passwords(SimpleTestCase):
    def test_hashed_one_at_a_time_and_never_when_too_long(self):
        now, most, lock = 0, 0, Lock()

        def slow(*_):
            nonlocal now, most
            with lock:
                now += 1
                most = max(most, now)
            sleep(0.02)
            with lock:
                now -= 1
            return True

        with patch.object(Argon2PasswordHasher, "verify", slow):
            threads = [Thread(target=OneAtATime().verify, args=["x", "y"]) for _ in range(6)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            self.assertEqual(most, 1)
        with patch.object(Argon2PasswordHasher, "verify", side_effect=AssertionError):
            self.assertFalse(OneAtATime().verify("x" * (LONGEST + 1), "y"))


class Sessions(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_the_table_holds_no_key_that_opens(self):
        key = self.client.session.session_key
        row = Session.objects.get()
        self.assertNotEqual(row.pk, key)
        self.assertEqual((row.pk, row.user), (hashed(key), self.user))
        self.client.cookies["sessionid"] = row.pk
        self.assertEqual(self.client.get("/log/").status_code, 302)

    def test_they_are_listed_and_ended_from_the_yard(self):
        other = self.client_class(headers={"User-Agent": PHONE})
        self.user.set_password("terrace-and-tub")
        self.user.save()
        self.client.force_login(self.user)
        typed = {"username": self.user.email, "password": "terrace-and-tub"}
        self.assertEqual(other.post(SIGN_IN, typed).status_code, 302)
        page = self.client.get("/yard/sign-ins/")
        self.assertContains(page, "Chrome or its kin on a phone")
        self.assertContains(page, "this one")
        row = Session.objects.get(browser=PHONE)
        self.client.post(f"/yard/sign-ins/{row.pk}/end/")
        self.assertEqual(other.get("/log/").status_code, 302)
        self.assertEqual(self.client.get("/log/").status_code, 200)


class Answers(TestCase):
    def setUp(self):
        self.client.force_login(make_user())

    def test_pages_of_a_person_are_kept_by_nobody_and_go_out_small(self):
        page = self.client.get("/shelf/", headers={"Accept-Encoding": "gzip"})
        self.assertIn("no-store", page["Cache-Control"])
        self.assertIn("camera=()", page["Permissions-Policy"])
        self.assertEqual(page["Content-Encoding"], "gzip")

    def test_a_locked_database_is_said_and_keeps_what_was_typed(self):
        busy = OperationalError("database is locked")
        with patch("pelk.log.views.log.record", side_effect=busy):
            page = self.client.post("/log/note/", {"note": "frost on the terrace"})
        self.assertContains(page, "Send it again", status_code=503)
        self.assertContains(page, 'value="frost on the terrace"', status_code=503)
        self.assertEqual(page["Retry-After"], "5")


class OnePhone(TestCase):
    def test_what_another_person_wrote_is_not_taken_for_mine(self):
        user = make_user()
        self.client.force_login(user)
        mine = self.client.get("/today/")["X-Pelk-Who"]
        note = {"note": "frost"}
        ok = self.client.post("/log/note/", note, headers={"X-Pelk-Author": mine})
        self.assertEqual(ok.status_code, 302)
        other = self.client.post("/log/note/", note, headers={"X-Pelk-Author": "f" * 16})
        self.assertEqual(other.status_code, 409)
        # Signed out it is refused too: a redirect to the door would look like taken.
        out = self.client_class().post("/log/note/", note, headers={"X-Pelk-Author": mine})
        self.assertEqual(out.status_code, 409)

    def test_it_installs_and_has_a_page_without_signal(self):
        said = self.client.get("/manifest.webmanifest").json()
        self.assertEqual({i["sizes"] for i in said["icons"]}, {"192x192", "512x512"})
        self.client.force_login(make_user())
        page = self.client.get("/offline/")
        self.assertNotIn("X-Pelk-Who", page)
        self.assertNotContains(page, "data-who")
        self.assertContains(self.client.get("/worker.js"), "pelk-pages-")
