"""The yard: signing up, where it is, its measures and water."""

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import SetPasswordForm
from django.core import signing
from django.core.mail import send_mail
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.core.base.errors import PelkError
from pelk.core.base.regions import climates
from pelk.ui.months_chart import months_svg
from pelk.ui.pages import way_back
from pelk.yards import pages
from pelk.yards.doors.events import say
from pelk.yards.doors.limits import LINKS, SIGN_UPS, limited
from pelk.yards.forms.yard import SignUpForm, WaterForm, YardForm
from pelk.yards.middleware import YardRequest
from pelk.yards.models import User
from pelk.yards.services.yards import (
    change_system,
    keep_settings,
    keep_water,
    let_in,
    sign_up,
    sign_up_closed,
)

DOOR_SALT, DOOR_GOOD_FOR_S = "pelk.yards.door", 48 * 3600


@login_not_required
@require_http_methods(["GET", "POST"])
@limited(SIGN_UPS)
def sign_up_page(request: HttpRequest) -> HttpResponse:
    """Take in a new person and open their yard."""
    form = SignUpForm(request.POST or None, spoken=request.headers.get("Accept-Language", ""))
    if request.method == "POST" and form.is_valid():
        if settings.CONFIRM:
            _mail_door(request, form.said)
            return render(request, "yards/door_sent.html", {"email": form.said["email"]})
        try:
            user = sign_up(**form.said)
        except PelkError as error:
            form.add_error("email", error.message)
        else:
            login(request, user, "django.contrib.auth.backends.ModelBackend")
            return redirect("today:start")
    return render(request, "yards/sign_up.html", {"form": form})


def _mail_door(request: HttpRequest, said: dict[str, Any]) -> None:
    """Mail the link that opens the yard, or the one that opens the account that is there."""
    user, email = sign_up_closed(**said), said["email"]
    if user is not None:
        word = signing.dumps(user.pk, salt=DOOR_SALT)
        link = request.build_absolute_uri(reverse("yards:welcome", args=[word]))
    else:
        link = request.build_absolute_uri(reverse("yards:link"))
    body = render_to_string("yards/door_mail.txt", {"link": link, "is_new": user is not None})
    send_mail(pages.DOOR_SUBJECT, body, None, [email])


@login_not_required
@require_http_methods(["GET", "POST"])
@limited(LINKS)
def welcome(request: HttpRequest, word: str) -> HttpResponse:
    """Let in who followed their link and sets a password there; a GET opens nothing."""
    try:
        pk = signing.loads(word, salt=DOOR_SALT, max_age=DOOR_GOOD_FOR_S)
    except signing.BadSignature:
        return render(request, "yards/join.html", {"invitation": None}, status=404)
    user = get_object_or_404(User, pk=pk)
    if user.is_active or user.last_login is not None:
        return redirect("yards:sign_in")
    form = SetPasswordForm(user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        opened = let_in(user=user, password=form.cleaned_data["new_password1"])
        login(request, opened, "django.contrib.auth.backends.ModelBackend")
        say("an account was opened", request, user=user.pk)
        return redirect("today:start")
    return render(request, "yards/welcome.html", {"form": form, "email": user.email})


@login_not_required
@require_safe
def place(request: HttpRequest) -> HttpResponse:
    """Answer what is usual in a territory, each to be chosen otherwise."""
    form = SignUpForm(initial={"region": request.GET.get("region", "")})
    return render(request, "yards/_place.html", {"form": form})


@require_http_methods(["GET", "POST"])
def settings_page(request: YardRequest) -> HttpResponse:
    """Show and change the yard's measures."""
    form = YardForm(request.POST or None, instance=request.yard)
    if request.method == "POST" and form.is_valid():
        keep_settings(yard=request.yard, **form.said)
        messages.success(request, pages.SETTINGS_SAVED)
        return redirect("yards:settings")
    months = months_svg(form.months_c, request.yard.measures)
    return render(request, "yards/settings.html", {"form": form, "months": months})


@require_safe
def months(request: YardRequest) -> HttpResponse:
    """Draw the twelve months as they are being typed, or those of a climate just chosen."""
    form, chosen = YardForm(request.GET, instance=request.yard), request.GET.get("climate", "")
    brought = climates().get(chosen) if chosen != request.yard.climate else None
    normals_c = list(brought.normals_c) if brought else form.months_c
    return HttpResponse(months_svg(normals_c, request.yard.measures))


@require_http_methods(["GET", "POST"])
def water_page(request: YardRequest) -> HttpResponse:
    """Show and change what is known of the yard's water."""
    held = request.yard.water_analysis
    form = WaterForm(request.POST or None, initial=WaterForm.start(held))
    if request.method == "POST" and form.is_valid():
        keep_water(yard=request.yard, analysis=form.analysis)
        messages.success(request, pages.WATER_KEPT)
        return redirect("yards:water")
    context = {"form": form, "water": pages.water_page(held), "hardness": pages.hardness_rows()}
    return render(request, "yards/water.html", context)


@require_POST
def system(request: YardRequest) -> HttpResponse:
    """Switch between metric and US amounts, and go back to the page."""
    change_system(
        yard=request.yard, system="us" if request.POST.get("system") == "us" else "metric"
    )
    return way_back(request, reverse("home"))
