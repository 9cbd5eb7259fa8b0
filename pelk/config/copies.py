"""Copies of everything on this machine: made while it is in use, kept by days, weeks, months."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
from collections.abc import Iterable
from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.yards.models import Yard

DATABASE, DUMP, MEDIA = "pelk.sqlite3", "pelk.dump", "media"
STAMP = "%Y%m%dT%H%M%S"
KEEP = {"days": 7, "weeks": 4, "months": 12}


def make_copy(folder: Path) -> Path:
    """Return a new copy inside a folder: database and pictures, as they were at one moment.

    Pictures are never changed once they are written: copied after the database, each that it
    names is there.

    Raises
    ------
    PelkError
        Where there is nothing to copy: a database without tables is somebody else's, or none.
    """
    count_yards()
    stamp = timezone.now().strftime(STAMP)
    half, whole = folder / f".{stamp}", folder / stamp
    half.mkdir(parents=True, mode=0o700)
    try:
        if connection.vendor == "sqlite":
            with connection.cursor() as cursor:
                cursor.execute("VACUUM INTO %s", [str(half / DATABASE)])
            _check(half / DATABASE)
        else:
            _run("pg_dump", "--format=custom", "--file", str(half / DUMP))
        if settings.MEDIA_ROOT.exists():
            shutil.copytree(settings.MEDIA_ROOT, half / MEDIA)
        half.rename(whole)
    except BaseException:
        shutil.rmtree(half, ignore_errors=True)
        raise
    return whole


def which_database() -> str:
    """Return which database these settings mean, for the eyes of who copies it."""
    return str(settings.DATABASES["default"]["NAME"])


def count_yards() -> int:
    """Return how many yards the database holds.

    Raises
    ------
    PelkError
        When it has no tables of Pelk: these settings are not the service's.
    """
    if Yard._meta.db_table not in connection.introspection.table_names():
        raise PelkError(
            f"{which_database()} holds no tables: run this with the service’s own settings "
            "(deploy/pelk does)"
        )
    return Yard.objects.count()


def bring_back(copy: Path) -> list[str]:
    """Put a copy in the place of what is here; what was here is kept beside it.

    Whole or not at all: everything is first written under another name on the same disk and
    flushed, then each name is changed in one step, pictures before the database that names them.

    Raises
    ------
    PelkError
        When it is no copy, or a server still writes here; then nothing was changed.
    OSError
        When there is no room for it; then nothing was changed either.
    """
    aside = settings.VAR_DIR / f"before-{timezone.now():%Y%m%dT%H%M%S%f}"
    coming: list[tuple[Path, Path]] = []
    try:
        if (copy / MEDIA).exists():
            coming.append((_beside(settings.MEDIA_ROOT), settings.MEDIA_ROOT))
            shutil.copytree(copy / MEDIA, coming[-1][0])
        if connection.vendor == "sqlite":
            source, target = copy / DATABASE, Path(which_database())
            if not source.exists():
                raise PelkError(f"{copy} holds no {DATABASE}")
            _check(source)
            _refuse_while_written(target)
            coming.append((_beside(target), target))
            shutil.copyfile(source, coming[-1][0])
            coming[-1][0].chmod(0o600)
            _check(coming[-1][0])
            _close(target)
        elif not (copy / DUMP).exists():
            raise PelkError(f"{copy} holds no {DUMP}")
        for path, _ in coming:
            _flush(path)
    except BaseException:
        for path, _ in coming:
            _sweep(path)
        raise
    if connection.vendor != "sqlite":
        _run(
            "pg_restore",
            "--single-transaction",
            "--clean",
            "--if-exists",
            "--no-owner",
            str(copy / DUMP),
        )
    aside.mkdir(mode=0o700)
    for path, target in coming:
        _change_places(path, target, aside)
    return [f"what was here is in {aside}"]


def _change_places(path: Path, target: Path, aside: Path) -> None:
    """Put what was written beside in the place of what is there, which is kept."""
    if target.is_file():
        # A second name first: at no moment is there no database.
        os.link(target, aside / target.name)
        path.replace(target)
    else:
        if target.exists():
            target.rename(aside / target.name)
        path.rename(target)
    _flush(target.parent, deep=False)


def _close(target: Path) -> None:
    """Close the database so that all of it lies in its one file.

    Raises
    ------
    PelkError
        When its log could not be taken in.
    """
    if target.exists():
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()
    log = target.with_name(target.name + "-wal")
    if log.exists() and log.stat().st_size:
        raise PelkError(f"{log} could not be taken into the database: stop what holds it open")


def _beside(target: Path) -> Path:
    """Return a name on the same disk for what comes in its place; what a kill left goes."""
    path = target.with_name(f".{target.name}.coming")
    _sweep(path)
    return path


def _sweep(path: Path) -> None:
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)


def _flush(path: Path, *, deep: bool = True) -> None:
    """Wait until a file, or all of a folder, is on the disk."""
    inside = path.rglob("*") if deep and path.is_dir() else ()
    for each in (*inside, path):
        held = os.open(each, os.O_RDONLY)
        try:
            os.fsync(held)
        finally:
            os.close(held)


def thin_out(folder: Path) -> list[Path]:
    """Take away copies but the newest of 7 days, 4 weeks and 12 months; return what went."""
    copies = sorted(_copies(folder), key=lambda c: c[0], reverse=True)
    kept: set[Path] = set()
    for period, key in (("days", "%Y%j"), ("weeks", "%G%V"), ("months", "%Y%m")):
        seen: list[str] = []
        for at, path in copies:
            name = at.strftime(key)
            if name not in seen and len(seen) < KEEP[period]:
                seen.append(name)
                kept.add(path)
    gone = [path for _, path in copies if path not in kept]
    halves = [path for path in (folder.iterdir() if folder.exists() else ()) if _is_half(path)]
    left = []
    for path in (*gone, *halves):
        try:
            shutil.rmtree(path)
        except OSError as error:
            left.append(f"{path}: {error.strerror}")
    if left:
        raise PelkError(f"some copies could not be taken away: {'; '.join(left)}")
    return gone


def _is_half(path: Path) -> bool:
    """Return whether a copy was broken off: a hidden stamp, older than a day."""
    try:
        at = datetime.strptime(path.name, f".{STAMP}")
    except ValueError:
        return False
    return timezone.now().replace(tzinfo=None) - at > timedelta(days=1)


def _copies(folder: Path) -> Iterable[tuple[datetime, Path]]:
    for path in folder.iterdir() if folder.exists() else ():
        try:
            yield datetime.strptime(path.name, STAMP), path
        except ValueError:
            continue


def _check(database: Path) -> None:
    try:
        held = sqlite3.connect(f"file:{database}?mode=ro", uri=True)
        word = held.execute("PRAGMA integrity_check").fetchone()[0]
        held.close()
    except sqlite3.DatabaseError as error:
        raise PelkError(f"{database} is no whole database: {error}") from error
    if word != "ok":
        raise PelkError(f"{database} is not whole: {word}")


def _refuse_while_written(database: Path) -> None:
    """Refuse while another process holds the database open."""
    for process in Path("/proc").glob("[0-9]*"):
        if process.name == str(os.getpid()):
            continue
        try:
            held = any(link.readlink() == database.resolve() for link in (process / "fd").iterdir())
        except OSError:
            continue
        if held:
            raise PelkError(f"process {process.name} still has the database open: stop Pelk first")


def _run(program: str, *arguments: str) -> None:
    held = settings.DATABASES["default"]
    environment = {
        **os.environ,
        "PGHOST": str(held.get("HOST") or held.get("OPTIONS", {}).get("host") or ""),
        "PGPORT": str(held.get("PORT") or ""),
        "PGUSER": str(held.get("USER") or ""),
        "PGPASSWORD": str(held.get("PASSWORD") or ""),
    }
    environment = {k: v for k, v in environment.items() if v}
    done = subprocess.run(
        [program, "--dbname", str(held["NAME"]), *arguments],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise PelkError(f"{program}: {done.stderr.strip()[-300:]}")
