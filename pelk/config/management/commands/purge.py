"""``manage.py purge``: what was asked to be deleted 30 days ago goes for good; run every night."""

from datetime import timedelta
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone

from pelk.exchange.services.yards import purge_yard
from pelk.log.models import Entry
from pelk.yards.models import Done, Invitation, Tally, User, Yard
from pelk.yards.services.people import due_yards


class Command(BaseCommand):
    """Delete yards and accounts whose thirty days are over, with their files."""

    help = "Delete yards and accounts whose 30 days are over; clear ended sessions and links."

    def handle(self, *args: Any, **options: Any) -> None:
        """Delete for good."""
        now = timezone.now()
        for yard in due_yards(now):
            name = yard.name
            for file in purge_yard(yard=yard):
                file.delete(save=False)
            self.stdout.write(f"yard deleted: {name}")
        for user in User.objects.filter(ends_at__lte=now):
            # A shared yard keeps what was done; whose hands it were goes.
            Entry.objects.filter(by=user).update(by_name="")
            user.delete()
            self.stdout.write("an account was forgotten")
        # Who never followed the link of their sign-up was never here.
        nobody = User.objects.filter(is_active=False, date_joined__lte=now - timedelta(days=3))
        for yard in Yard.objects.filter(memberships__user__in=nobody):
            yard.delete()
        nobody.delete()
        Invitation.objects.filter(ends_at__lte=now).delete()
        Done.objects.filter(at__lte=now - timedelta(days=2)).delete()
        Tally.objects.filter(since__lte=now - timedelta(days=1)).delete()
        call_command("clearsessions")
