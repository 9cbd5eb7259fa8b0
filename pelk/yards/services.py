"""What is done to people and yards."""

from django.db import transaction

from pelk.yards.models import Membership, User, Yard


@transaction.atomic
def sign_up(*, email: str, password: str, yard_name: str) -> User:
    """Save a new person with a yard of their own."""
    user = User.objects.create_user(email=email, password=password)
    yard = Yard.objects.create(name=yard_name)
    Membership.objects.create(user=user, yard=yard)
    return user


@transaction.atomic
def change_system(*, yard: Yard, system: str) -> Yard:
    """Switch a yard between metric and US amounts."""
    yard.system = Yard.System(system)
    yard.save(update_fields=["system"])
    return yard
