"""Pages of the works."""

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.core.base.sources import MARKS, library
from pelk.sources.selectors import methods_by_source


@require_safe
def works(request: HttpRequest) -> HttpResponse:
    """List every work and ground, with how many methods rest on it."""
    rows = [
        (source, MARKS[source.mark], len(methods_by_source()[source.key]))
        for source in library().values()
    ]
    return render(request, "sources/works.html", {"rows": rows})


@require_safe
def work(request: HttpRequest, source: str) -> HttpResponse:
    """Show one work and every method that rests on it."""
    if source not in library():
        raise Http404
    cited = library()[source]
    context = {"source": cited, "mark": MARKS[cited.mark], "methods": methods_by_source()[source]}
    return render(request, "sources/work.html", context)
