"""People: who works in a yard, what of an account is one's own, where they are signed in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.contrib import messages
from django.core import signing
from django.core.mail import send_mail
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.core.base.errors import PelkError
from pelk.ui.numbers import read_count
from pelk.ui.refusals import sentence
from pelk.yards import pages
from pelk.yards.doors.events import say
from pelk.yards.doors.limits import LINKS, limited
from pelk.yards.doors.sessions import hashed
from pelk.yards.forms.people import EmailForm, InviteForm, NameForm
from pelk.yards.middleware import YardRequest
from pelk.yards.models import Membership, Role, Session
from pelk.yards.services import people as services

EMAIL_SALT, EMAIL_GOOD_FOR_S = "pelk.yards.email", 24 * 3600


@dataclass(frozen=True, slots=True)
class SignIn:
    """A browser that is signed in."""

    pk: str
    says: str
    begun: datetime
    is_here: bool


@require_safe
def sign_ins(request: YardRequest) -> HttpResponse:
    """List the browsers a person is signed in with."""
    here = hashed(request.session.session_key or "")
    rows = Session.objects.filter(user=request.user, expire_date__gt=timezone.now())
    shown = [
        SignIn(row.pk, pages.browser_named(row.browser), row.begun_at, row.pk == here)
        for row in rows.order_by("-begun_at")
    ]
    return render(request, "yards/sign_ins.html", {"rows": shown})


@require_POST
def end_sign_in(request: YardRequest, session: str) -> HttpResponse:
    """Sign one browser out, wherever it is."""
    row = get_object_or_404(Session.objects.filter(user=request.user), pk=session)
    row.delete()
    messages.success(request, pages.SIGNED_OUT)
    return redirect("yards:sign_ins")


@require_http_methods(["GET", "POST"])
def people(request: YardRequest) -> HttpResponse:
    """List who works in a yard; a keeper asks somebody in by a link that is shown once."""
    link = request.session.pop("invited", "")
    context = {
        "members": request.yard.memberships.select_related("user").order_by("pk"),
        "roles": Role.choices,
        "form": InviteForm(),
        "link": link,
        "is_keeper": request.role == Role.KEEPER,
        "invitations": services.open_invitations(request.yard),
        "yards": request.user.memberships.select_related("yard").order_by("pk"),
    }
    return render(request, "yards/people.html", context)


@require_POST
def invite(request: YardRequest) -> HttpResponse:
    """Make a link into the yard."""
    form = InviteForm(request.POST)
    if form.is_valid():
        role = form.cleaned_data["role"]
        token = services.invite(yard=request.yard, by=request.user, role=role)
        say("somebody was asked in", request, yard=request.yard.pk, role=role)
        path = reverse("yards:join", args=[token])
        request.session["invited"] = request.build_absolute_uri(path)
    return redirect("yards:people")


@require_POST
def withdraw(request: YardRequest, invitation: int) -> HttpResponse:
    """End a link into the yard."""
    row = get_object_or_404(services.open_invitations(request.yard), pk=invitation)
    services.withdraw(invitation=row)
    say("a link was withdrawn", request, yard=request.yard.pk)
    messages.success(request, pages.WITHDRAWN)
    return redirect("yards:people")


@require_http_methods(["GET", "POST"])
def join(request: YardRequest, token: str) -> HttpResponse:
    """Show where a link leads; POST takes the person in."""
    invitation = services.invitation_of(token)
    if request.method == "POST" and invitation is not None:
        try:
            yard = services.join(token=token, user=request.user)
        except PelkError as error:
            messages.error(request, sentence(error))
            return redirect("home")
        request.session["yard"] = yard.pk
        say("somebody came in", request, yard=yard.pk)
        messages.success(request, pages.HERE_NOW.format(yard=yard.name))
        return redirect("home")
    status = 200 if invitation else 404
    return render(request, "yards/join.html", {"invitation": invitation}, status=status)


@require_POST
def role(request: YardRequest, member: int) -> HttpResponse:
    """Change what a person may do, or send them away."""
    row = get_object_or_404(Membership.objects.filter(yard=request.yard), pk=member)
    asked = request.POST.get("role", "")
    try:
        if asked in Role.values:
            services.give_role(yard=request.yard, member=row, role=asked)
            say("a role was given", request, yard=request.yard.pk)
        elif asked == "away":
            services.remove(yard=request.yard, member=row)
            say("somebody was sent away", request, yard=request.yard.pk)
    except PelkError as error:
        messages.error(request, sentence(error))
    return redirect("yards:people")


@require_POST
def leave(request: YardRequest) -> HttpResponse:
    """Leave the yard."""
    row = get_object_or_404(Membership, yard=request.yard, user=request.user)
    try:
        services.remove(yard=request.yard, member=row)
    except PelkError as error:
        messages.error(request, sentence(error))
        return redirect("yards:people")
    messages.success(request, pages.LEFT.format(yard=request.yard.name))
    return redirect("home")


@require_POST
def switch(request: YardRequest) -> HttpResponse:
    """Go over to another yard of one's own."""
    chosen = read_count(request.POST.get("yard", "")) or 0
    row = get_object_or_404(request.user.memberships, yard=chosen)
    request.session["yard"] = row.yard_id
    return redirect("home")


@require_http_methods(["GET", "POST"])
def account(request: YardRequest) -> HttpResponse:
    """Show and change one's name; what else belongs to the account stands there."""
    form = NameForm(request.POST or None, initial={"name": request.user.first_name})
    if request.method == "POST" and form.is_valid():
        services.rename(user=request.user, name=form.cleaned_data["name"])
        messages.success(request, "Kept.")
        return redirect("yards:account")
    return render(request, "yards/account.html", {"form": form})


@require_http_methods(["GET", "POST"])
@limited(LINKS)
def email(request: YardRequest) -> HttpResponse:
    """Ask for another email: a link goes there, and it counts once that is followed."""
    form = EmailForm(request.POST or None, user=request.user)
    if request.method == "POST" and form.is_valid():
        new = form.cleaned_data["email"]
        word = signing.dumps({"user": request.user.pk, "email": new}, salt=EMAIL_SALT)
        link = request.build_absolute_uri(reverse("yards:email_link", args=[word]))
        body = render_to_string("yards/email_mail.txt", {"link": link, "email": new})
        send_mail(pages.EMAIL_SUBJECT, body, None, [new])
        messages.success(request, pages.LINK_SENT.format(email=new))
        return redirect("yards:account")
    return render(request, "yards/email.html", {"form": form})


@require_safe
def email_link(request: YardRequest, word: str) -> HttpResponse:
    """Take the new email whose owner followed the link."""
    try:
        said = signing.loads(word, salt=EMAIL_SALT, max_age=EMAIL_GOOD_FOR_S)
        if said["user"] != request.user.pk:
            raise signing.BadSignature
        services.change_email(user=request.user, email=said["email"])
        say("an email was changed", request)
    except (signing.BadSignature, PelkError):
        messages.error(request, pages.LINK_OLD)
    else:
        messages.success(request, pages.EMAIL_NOW.format(email=said["email"]))
    return redirect("yards:account")


@require_POST
def end_account(request: YardRequest) -> HttpResponse:
    """Ask to be forgotten; thirty days to take it back."""
    say("an account asked to be forgotten", request)
    try:
        services.end_account(user=request.user)
    except PelkError as error:
        messages.error(request, sentence(error))
    return redirect("yards:account")


@require_POST
def stay(request: YardRequest) -> HttpResponse:
    """Take it back."""
    services.stay(user=request.user)
    messages.success(request, pages.YOU_STAY)
    return redirect("yards:account")


@require_POST
def end_yard(request: YardRequest) -> HttpResponse:
    """Ask to delete the yard; thirty days to take it back."""
    services.end_yard(yard=request.yard)
    say("a yard is to be deleted", request, yard=request.yard.pk)
    return redirect("yards:people")


@require_POST
def keep_yard(request: YardRequest) -> HttpResponse:
    """Take it back."""
    services.keep_yard(yard=request.yard)
    messages.success(request, pages.YARD_STAYS)
    return redirect("yards:people")
