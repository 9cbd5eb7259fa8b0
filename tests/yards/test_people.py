"""People of a yard: keeper, hand, guest; invited by a link, leaving, handing over."""

from datetime import timedelta

from django.core import mail
from django.test import TestCase
from django.utils import timezone

from pelk.log.models import Entry
from pelk.yards.models import Invitation, Membership
from tests.factories import PASSWORD, make_heap, make_recipe, make_user, yard_of


class People(TestCase):
    def setUp(self):
        self.keeper = make_user()
        self.yard = yard_of(self.keeper)
        self.other = make_user("ann.hand@cove.example", "Cove")
        self.door = self.client_class()
        self.door.force_login(self.keeper)
        self.client.force_login(self.other)

    def link(self, role="hand"):
        page = self.door.post("/yard/people/invite/", {"role": role}, follow=True)
        return page.context["link"].removeprefix("http://testserver")

    def come_in(self, role="hand"):
        link = self.link(role)
        self.client.post(link)
        return link

    def test_a_link_is_shown_once_good_once_and_for_some_days(self):
        link = self.link()
        self.assertNotIn(link.split("/")[-2], str(Invitation.objects.values()))
        self.assertNotContains(self.door.get("/yard/people/"), link)
        self.assertContains(self.client.get(link), "Come into Lower Steps")
        self.client.post(link)
        self.assertEqual(self.client.get("/").wsgi_request.yard, self.yard)
        third = make_user("third@cove.example", "Third")
        self.client.force_login(third)
        self.assertEqual(self.client.get(link).status_code, 404)
        self.client.post(link)
        self.assertEqual(third.memberships.count(), 1)
        late = self.link()
        Invitation.objects.filter(used_at=None).update(ends_at=timezone.now() - timedelta(1))
        self.assertEqual(self.client.get(late).status_code, 404)

    def test_links_are_listed_withdrawn_and_end_with_their_makers_going(self):
        link = self.link()
        page = self.door.get("/yard/people/")
        self.assertContains(page, "asked in by")
        pk = Invitation.objects.get().pk
        self.door.post(f"/yard/people/invite/{pk}/withdraw/")
        self.assertEqual(self.client.get(link).status_code, 404)
        self.come_in("keeper")
        self.client.get("/")
        made = self.client.post("/yard/people/invite/", {"role": "keeper"}, follow=True)
        back = made.context["link"].removeprefix("http://testserver")
        second = self.yard.memberships.get(user=self.other)
        with self.assertLogs("pelk.security", "INFO") as seen:
            self.door.post(f"/yard/people/{second.pk}/role/", {"role": "away"})
        self.assertIn("somebody was sent away", seen.records[0].event)
        self.assertEqual(self.client.get(back).status_code, 404)

    def test_a_guest_reads_and_changes_nothing(self):
        self.come_in("guest")
        recipe = make_recipe(self.keeper)
        self.assertContains(self.client.get(recipe.get_absolute_url()), "You are a guest in")
        self.assertNotContains(self.door.get(recipe.get_absolute_url()), "You are a guest in")
        answer = self.client.post("/log/note/", {"note": "mine"})
        self.assertContains(answer, "You are here as", status_code=403)
        self.assertFalse(Entry.objects.filter(text="mine").exists())

    def test_a_hand_works_and_leaves_settings_and_people_alone(self):
        self.come_in("hand")
        make_heap(self.keeper)
        self.assertEqual(self.client.post("/log/note/", {"note": "turned it"}).status_code, 302)
        entry = Entry.objects.get(text="turned it")
        self.assertEqual((entry.by, entry.by_name), (self.other, "ann.hand"))
        self.assertContains(self.door.get("/log/"), "ann.hand")
        for url in ("/yard/people/invite/", "/yard/end/", "/yard/system/", "/yard/settings/"):
            with self.subTest(url):
                self.assertEqual(self.client.post(url, {"role": "keeper"}).status_code, 403)
        self.assertEqual(self.client.get("/exchange/yard/out/").status_code, 403)
        self.assertEqual(self.client.get("/yard/settings/").status_code, 200)

    def test_handing_over_leaving_and_the_last_keeper(self):
        self.come_in("hand")
        mine = Membership.objects.get(yard=self.yard, user=self.keeper)
        hand = Membership.objects.get(yard=self.yard, user=self.other)
        self.door.post("/yard/people/leave/")
        self.door.post(f"/yard/people/{mine.pk}/role/", {"role": "guest"})
        mine.refresh_from_db()
        self.assertEqual(mine.role, "keeper")
        self.door.post(f"/yard/people/{hand.pk}/role/", {"role": "keeper"})
        self.door.post("/yard/people/leave/")
        self.assertFalse(Membership.objects.filter(pk=mine.pk).exists())
        page = self.door.get("/log/")
        self.assertContains(page, "You are in no yard", status_code=403)
        self.client.post("/yard/switch/", {"yard": self.yard.pk})
        self.assertEqual(self.client.get("/log/").wsgi_request.yard, self.yard)
        theirs = yard_of(make_user("far@cove.example", "Far"))
        self.assertEqual(self.client.post("/yard/switch/", {"yard": theirs.pk}).status_code, 404)

    def test_another_email_counts_once_its_link_is_followed(self):
        typed = {"email": "New@cove.example", "password": "wrong"}
        self.assertContains(self.client.post("/yard/account/email/", typed), "not your password")
        self.client.post("/yard/account/email/", {**typed, "password": PASSWORD})
        self.other.refresh_from_db()
        self.assertEqual(self.other.email, "ann.hand@cove.example")
        link = mail.outbox[0].body.split("http://testserver")[1].split()[0]
        self.assertEqual(mail.outbox[0].to, ["new@cove.example"])
        self.door.get(link)
        self.keeper.refresh_from_db()
        self.assertNotEqual(self.keeper.email, "new@cove.example")
        self.client.get(link)
        self.other.refresh_from_db()
        self.assertEqual(self.other.email, "new@cove.example")

    def test_an_account_is_not_ended_under_others_and_loses_its_name_in_their_log(self):
        self.come_in("hand")
        self.door.post("/yard/account/end/")
        self.keeper.refresh_from_db()
        self.assertIsNone(self.keeper.ends_at)
        self.client.post("/log/note/", {"note": "turned it"})
        self.client.post("/yard/account/end/")
        self.other.refresh_from_db()
        self.assertIsNotNone(self.other.ends_at)
        type(self.other).objects.filter(pk=self.other.pk).update(ends_at=timezone.now())
        from io import StringIO

        from django.core.management import call_command

        call_command("purge", stdout=StringIO())
        entry = Entry.objects.get(text="turned it")
        self.assertEqual((entry.by, entry.by_name), (None, ""))
        self.assertFalse(type(self.other).objects.filter(pk=self.other.pk).exists())
