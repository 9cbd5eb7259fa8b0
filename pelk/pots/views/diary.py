"""The diary of some pots: what was seen, drawn season above season."""

from __future__ import annotations

from django.contrib import messages
from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from pelk.core.base.errors import PelkError
from pelk.core.crops.pests import PESTS
from pelk.pots.forms.diary import SawForm
from pelk.pots.models import PotGroup, PotPhoto
from pelk.pots.pages.diary import diary_page
from pelk.pots.services.diary import see
from pelk.pots.views.groups import own_group
from pelk.ui.numbers import read_count
from pelk.ui.pictures import KIND
from pelk.ui.refusals import sentence
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

BESIDE = 60


@require_safe
def diary(request: YardRequest, group: int) -> HttpResponse:
    """Show a season of some pots above another: last year's, or that of other pots."""
    row, today = own_group(request, group), timezone.localdate()
    others = PotGroup.objects.of(request.yard).live().exclude(pk=row.pk)[:BESIDE]
    asked = read_count(request.GET.get("beside", ""))
    beside = next((other for other in others if other.pk == asked), None)
    years_back = min(read_count(request.GET.get("back", "")) or 1, 30)
    context = {
        "group": row,
        "others": others,
        "beside": beside,
        "back": years_back,
        "desk": diary_page(row, today, beside=beside, back=years_back),
        "phone": diary_page(row, today, beside=beside, back=years_back, is_narrow=True),
        "photos": row.photos.filter(deleted_at=None)[:BESIDE],
    }
    return render(request, "pots/diary.html", context)


@require_http_methods(["GET", "POST"])
@once()
def saw(request: YardRequest, group: int) -> HttpResponse:
    """Write down what was seen, and say what is done first about it."""
    row = own_group(request, group)
    sent = (request.POST, request.FILES) if request.method == "POST" else (None, None)
    form = SawForm(*sent, group=row)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        try:
            see(
                group=row,
                by=request.user,
                on=data["on"],
                figures=form.figures,
                text=data["text"],
                picture=data.get("picture") or None,
            )
        except PelkError as error:
            form.add_error("picture", sentence(error))
        else:
            for slug in data["pests"]:
                pest = PESTS[slug]
                messages.warning(request, f"{pest.name.capitalize()}: {pest.first}")
            return redirect("pots:diary", row.pk)
    return render(request, "pots/saw.html", {"group": row, "form": form})


@require_safe
def photo(request: YardRequest, photo: int) -> FileResponse:
    """Send a picture to whom it belongs; small where it is asked for."""
    row = get_object_or_404(PotPhoto.objects.of(request.yard).live(), pk=photo)
    file = row.thumb if request.GET.get("small") else row.file
    answer = FileResponse(file.open("rb"), content_type=KIND)
    answer["Cache-Control"] = "private, max-age=86400"
    answer["X-Content-Type-Options"] = "nosniff"
    return answer
