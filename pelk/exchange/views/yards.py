"""A whole yard carried off in one file, and brought in where nothing stands yet."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe

from pelk.core.base.errors import PelkError
from pelk.exchange.formats.yard_file import yard_file
from pelk.exchange.pages import said
from pelk.exchange.services.yards import MOST_BYTES, is_empty, take_in_yard, unpacked
from pelk.yards.doors.events import say
from pelk.yards.doors.limits import DEAR, limited
from pelk.yards.middleware import YardRequest


@require_safe
def yard(request: YardRequest) -> HttpResponse:
    """Offer the yard as a file; an empty yard takes one in."""
    return render(request, "exchange/yard.html", {"is_empty": is_empty(request.yard)})


@require_safe
def yard_out(request: YardRequest) -> HttpResponse:
    """Hand out everything of the yard."""
    say("a yard was carried off", request, yard=request.yard.pk)
    response = HttpResponse(yard_file(request.yard), content_type="application/zip")
    name = f"{slugify(request.yard.name) or 'yard'}-{timezone.localdate():%Y-%m-%d}.zip"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@require_POST
@limited(DEAR)
def yard_in(request: YardRequest) -> HttpResponse:
    """Fill an empty yard from a file, whole or not at all."""
    file = request.FILES.get("file")
    problem = ""
    if file is None:
        problem = said.CHOOSE_FILE
    elif (file.size or 0) > MOST_BYTES:
        problem = said.TOO_LARGE.format(most=MOST_BYTES // 1_000_000)
    else:
        try:
            data, pictures = unpacked(file.read())
            count = take_in_yard(yard=request.yard, data=data, pictures=pictures)
        except PelkError as error:
            where = f"{error.path}: " if error.path else ""
            problem = f"{where}{error.message}."
        else:
            messages.success(request, said.YARD_IN.format(count=count))
            return redirect("home")
    context = {"is_empty": is_empty(request.yard), "problem": problem}
    return render(request, "exchange/yard.html", context, status=400)
