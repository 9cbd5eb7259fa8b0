"""Whether the service lives, and whether it can answer: for a proxy, a supervisor, a monitor."""

from __future__ import annotations

import shutil

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_safe

LEAST_FREE_BYTES = 200_000_000


@login_not_required
@require_safe
def live(request: HttpRequest) -> HttpResponse:
    """Answer: the process is there."""
    return HttpResponse("ok", content_type="text/plain")


@login_not_required
@require_safe
def ready(request: HttpRequest) -> HttpResponse:
    """Answer whether the database is there, up to date, and has room to write."""
    said = {"database": _database(), "room": _room()}
    is_ready = all(word == "ok" for word in said.values())
    return JsonResponse(said, status=200 if is_ready else 503)


def _database() -> str:
    try:
        connection.ensure_connection()
        executor = MigrationExecutor(connection)
        waiting = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        return "not there"
    return f"{len(waiting)} migrations wait" if waiting else "ok"


def _room() -> str:
    free = shutil.disk_usage(settings.VAR_DIR).free
    return "ok" if free > LEAST_FREE_BYTES else "the disk is full"
