"""Signing up, in and out; passwords; the yard's measures; headers."""

import re

from django.core import mail
from django.test import TestCase

from pelk.yards.models import User
from tests.factories import PASSWORD, make_user, yard_of


class Accounts(TestCase):
    def test_a_new_person_gets_a_yard_and_is_in(self):
        data = {
            "email": "New@Steps.example",
            "yard_name": "Wall Side",
            "password": PASSWORD,
            "region": "GB",
        }
        self.assertRedirects(self.client.post("/yard/sign-up/", data), "/today/start/")
        user = User.objects.get(email="new@steps.example")
        self.assertEqual(yard_of(user).name, "Wall Side")

    def test_sign_up_refuses_beside_the_field_and_keeps_what_was_typed(self):
        make_user()
        data = {
            "email": "GROWER@steps.example",
            "yard_name": "Second",
            "password": "short",
            "region": "GB",
        }
        response = self.client.post("/yard/sign-up/", data)
        self.assertContains(response, "There is already an account with this email")
        self.assertContains(response, "too short")
        self.assertContains(response, 'value="Second"')

    def test_sign_in_whatever_the_case_and_sign_out(self):
        make_user()
        wrong = {"username": "grower@steps.example", "password": "not it"}
        self.assertContains(self.client.post("/yard/sign-in/", wrong), "do not match")
        right = {"username": "Grower@Steps.Example", "password": PASSWORD}
        self.assertRedirects(self.client.post("/yard/sign-in/", right), "/", target_status_code=302)
        self.client.post("/yard/sign-out/")
        self.assertEqual(self.client.get("/shelf/").status_code, 302)

    def test_a_link_by_mail_sets_a_new_password(self):
        make_user()
        self.client.post("/yard/link/", {"email": "grower@steps.example"})
        (letter,) = mail.outbox
        path = re.search(r"http://testserver(\S+)", letter.body)[1]
        page = self.client.get(path, follow=True)
        new = {"new_password1": "rain-butt-by-the-wall", "new_password2": "rain-butt-by-the-wall"}
        self.client.post(page.redirect_chain[-1][0], new)
        self.assertTrue(User.objects.get().check_password("rain-butt-by-the-wall"))
        self.assertContains(self.client.get(path, follow=True), "has been used")

    def test_change_of_password(self):
        user = make_user()
        self.client.force_login(user)
        new = {
            "old_password": PASSWORD,
            "new_password1": "a-longer-word-yet",
            "new_password2": "a-longer-word-yet",
        }
        self.assertRedirects(self.client.post("/yard/password/", new), "/yard/password/done/")

    def test_units_switch_and_go_back_to_our_own_pages_only(self):
        user = make_user()
        self.client.force_login(user)
        response = self.client.post("/yard/system/", {"system": "us", "next": "/log/"})
        self.assertRedirects(response, "/log/")
        self.assertEqual(yard_of(user).system, "us")
        away = {"system": "metric", "next": "https://elsewhere.example/"}
        self.assertRedirects(self.client.post("/yard/system/", away), "/", target_status_code=302)

    def test_yard_measures_are_real(self):
        self.client.force_login(make_user())
        data = {
            "name": "Y",
            "system": "metric",
            "barrow_l": "0",
            "barrow_limit_kg": "x",
            "bucket_l": "10",
        }
        response = self.client.post("/yard/settings/", data)
        self.assertContains(response, "greater than or equal to 0.1")
        self.assertContains(response, "Enter a number")

    def test_headers_are_strict(self):
        response = self.client.get("/yard/sign-in/")
        policy = response["Content-Security-Policy"]
        self.assertNotIn("unsafe", policy)
        self.assertIn("default-src 'self'", policy)
        self.assertEqual(response["X-Frame-Options"], "DENY")
        self.assertEqual(response["X-Content-Type-Options"], "nosniff")
        self.assertEqual(response["Referrer-Policy"], "same-origin")
