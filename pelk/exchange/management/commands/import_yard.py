"""``manage.py import_yard FILE --as EMAIL``: a yard out of ``pelk.yard/1``."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.forms import PasswordResetForm
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from pelk.core.base.errors import PelkError
from pelk.exchange.services.yards import is_empty, take_in_yard, unpacked
from pelk.yards.models import Membership, User, Yard


class Command(BaseCommand):
    """Bring a yard in for a person; make the account where there is none."""

    help = "Bring a yard in; an account that is not there is made, and mailed a link."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take a file, and for whom it is."""
        parser.add_argument("file", type=Path)
        parser.add_argument("--as", dest="email", required=True)

    def handle(self, *args: Any, file: Path, email: str, **options: Any) -> None:
        """Bring it in, whole or not at all."""
        email = email.strip().lower()
        try:
            data, pictures = unpacked(file.read_bytes())
            with transaction.atomic():
                user, is_new = self._person(email)
                yard = self._yard(user)
                count = take_in_yard(yard=yard, data=data, pictures=pictures)
        except OSError as error:
            raise CommandError(f"{file} cannot be read: {error}") from error
        except PelkError as error:
            where = f"{error.path}: " if error.path else ""
            raise CommandError(f"{where}{error.message}") from error
        self.stdout.write(f"{yard.name}: {count} rows are in")
        if is_new:
            form = PasswordResetForm({"email": email})
            form.is_valid()
            host = settings.ALLOWED_HOSTS[0]
            form.save(
                domain_override=host,
                use_https=settings.HTTPS,
                email_template_name="yards/link_mail.txt",
                subject_template_name="yards/link_subject.txt",
            )
            self.stdout.write(f"a link to set a password was mailed to {email}")

    def _person(self, email: str) -> tuple[User, bool]:
        user = User.objects.filter(email=email).first()
        if user is not None:
            return user, False
        # A password nobody knows: the mailed link sets the first real one.
        from django.utils.crypto import get_random_string  # noqa: PLC0415

        return User.objects.create_user(email=email, password=get_random_string(40)), True

    def _yard(self, user: User) -> Yard:
        for place in user.memberships.select_related("yard"):
            if is_empty(place.yard):
                return place.yard
        yard: Yard = Yard.objects.create(name="Yard")
        Membership.objects.create(user=user, yard=yard)
        return yard
