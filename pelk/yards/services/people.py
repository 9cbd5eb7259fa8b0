"""People of a yard: invited, given a role, leaving, ending an account or a yard."""

from __future__ import annotations

import hashlib
from datetime import datetime, timedelta
from secrets import token_urlsafe

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.yards.models import Invitation, Membership, Role, User, Yard

INVITED_DAYS, REPENT_DAYS = 7, 30
LAST = "somebody has to keep the yard: make another one keeper first, or delete it"


def hashed(token: str) -> str:
    """Return what a link's word is kept as."""
    return hashlib.sha256(token.encode()).hexdigest()


@transaction.atomic
def invite(*, yard: Yard, by: User, role: str) -> str:
    """Return the word of a new link into a yard; it is shown once and kept as a hash."""
    token = token_urlsafe(24)
    ends = timezone.now() + timedelta(days=INVITED_DAYS)
    Invitation.objects.create(
        yard=yard, author=by, role=Role(role), token=hashed(token), ends_at=ends
    )
    return token


def open_invitations(yard: Yard) -> QuerySet[Invitation]:
    """Return the links into a yard that are still good."""
    rows = Invitation.objects.filter(yard=yard, used_at=None, ends_at__gt=timezone.now())
    return rows.select_related("author").order_by("ends_at", "pk")


@transaction.atomic
def withdraw(*, invitation: Invitation) -> None:
    """End a link before its time."""
    invitation.delete()


def _end_links_of(yard: Yard, user: User) -> None:
    """End the links that a keeper made who is none any more."""
    open_invitations(yard).filter(author=user).delete()


def invitation_of(token: str) -> Invitation | None:
    """Return the invitation of a link that is still good."""
    rows = Invitation.objects.filter(token=hashed(token), used_at=None)
    return rows.filter(ends_at__gt=timezone.now()).select_related("yard").first()


@transaction.atomic
def join(*, token: str, user: User) -> Yard:
    """Take a person into a yard.

    Raises
    ------
    PelkError
        When the link was used or is too old.
    """
    invitation = invitation_of(token)
    if invitation is None:
        raise PelkError("this link was used, or is too old: ask for another")
    invitation.lock()
    if invitation.used_at is not None:
        raise PelkError("this link was used, or is too old: ask for another")
    Membership.objects.get_or_create(
        user=user, yard=invitation.yard, defaults={"role": invitation.role}
    )
    invitation.used_at = timezone.now()
    invitation.save(update_fields=["used_at"])
    return invitation.yard


@transaction.atomic
def give_role(*, yard: Yard, member: Membership, role: str) -> None:
    """Change what a person may do; the last keeper stays one."""
    yard.lock()
    if member.role == Role.KEEPER and role != Role.KEEPER:
        _refuse_the_last(yard, member)
    member.role = Role(role)
    member.save(update_fields=["role"])
    if member.role != Role.KEEPER:
        _end_links_of(yard, member.user)


@transaction.atomic
def remove(*, yard: Yard, member: Membership) -> None:
    """Let a person leave, or send them away; the last keeper stays."""
    yard.lock()
    if member.role == Role.KEEPER:
        _refuse_the_last(yard, member)
    _end_links_of(yard, member.user)
    member.delete()


def _refuse_the_last(yard: Yard, member: Membership) -> None:
    others = yard.memberships.filter(role=Role.KEEPER).exclude(pk=member.pk)
    if not others.exists():
        raise PelkError(LAST, "role")


@transaction.atomic
def end_yard(*, yard: Yard) -> None:
    """Begin the thirty days after which a yard is deleted for good."""
    yard.lock()
    yard.ends_at = timezone.now() + timedelta(days=REPENT_DAYS)
    yard.save(update_fields=["ends_at"])


@transaction.atomic
def keep_yard(*, yard: Yard) -> None:
    """Take it back."""
    yard.lock()
    yard.ends_at = None
    yard.save(update_fields=["ends_at"])


@transaction.atomic
def end_account(*, user: User) -> None:
    """Begin the thirty days after which an account is forgotten, its lonely yards with it.

    Raises
    ------
    PelkError
        While others live in a yard that only this person keeps.
    """
    for place in user.memberships.filter(role=Role.KEEPER).select_related("yard"):
        others = place.yard.memberships.exclude(user=user)
        if others.exists() and not others.filter(role=Role.KEEPER).exists():
            raise PelkError(f"{place.yard.name}: {LAST}")
    user.ends_at = timezone.now() + timedelta(days=REPENT_DAYS)
    user.save(update_fields=["ends_at"])


@transaction.atomic
def stay(*, user: User) -> None:
    """Take it back."""
    user.ends_at = None
    user.save(update_fields=["ends_at"])


def due_yards(now: datetime) -> list[Yard]:
    """Return the yards whose time is over: their own, or their last person's."""
    ended = list(Yard.objects.filter(ends_at__lte=now))
    leaving = User.objects.filter(ends_at__lte=now)
    for yard in Yard.objects.filter(memberships__user__in=leaving).distinct():
        staying = yard.memberships.exclude(user__in=leaving)
        if yard not in ended and not staying.exists():
            ended.append(yard)
    return ended


@transaction.atomic
def rename(*, user: User, name: str) -> None:
    """Keep what others of the yard read of a person."""
    user.first_name = name
    user.save(update_fields=["first_name"])


@transaction.atomic
def change_email(*, user: User, email: str) -> None:
    """Take another email, once its owner followed the link that was sent there.

    Raises
    ------
    PelkError
        When somebody has it meanwhile.
    """
    if User.objects.filter(email=email).exclude(pk=user.pk).exists():
        raise PelkError("this email cannot be taken")
    user.email = email
    user.save(update_fields=["email"])
