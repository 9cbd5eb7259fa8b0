"""Copies of everything on this machine: made while it is in use, kept by days, weeks, months."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
from collections.abc import Iterable
from datetime import datetime
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone

from pelk.core.base.errors import PelkError

DATABASE, DUMP, MEDIA = "pelk.sqlite3", "pelk.dump", "media"
STAMP = "%Y%m%dT%H%M%S"
KEEP = {"days": 7, "weeks": 4, "months": 12}


def make_copy(folder: Path) -> Path:
    """Return a new copy inside a folder: database and pictures, as they were at one moment.

    Pictures are never changed once they are written: copied after the database, each that it
    names is there.
    """
    stamp = timezone.now().strftime(STAMP)
    half, whole = folder / f".{stamp}", folder / stamp
    half.mkdir(parents=True, mode=0o700)
    if connection.vendor == "sqlite":
        with connection.cursor() as cursor:
            cursor.execute("VACUUM INTO %s", [str(half / DATABASE)])
        _check(half / DATABASE)
    else:
        _run("pg_dump", "--format=custom", "--file", str(half / DUMP))
    if settings.MEDIA_ROOT.exists():
        shutil.copytree(settings.MEDIA_ROOT, half / MEDIA)
    half.rename(whole)
    return whole


def bring_back(copy: Path) -> list[str]:
    """Put a copy in the place of what is here; what was here is kept beside it.

    Raises
    ------
    PelkError
        When it is no copy, or a server still writes here.
    """
    said = []
    aside = settings.VAR_DIR / f"before-{timezone.now().strftime(STAMP)}"
    if connection.vendor == "sqlite":
        source = copy / DATABASE
        if not source.exists():
            raise PelkError(f"{copy} holds no {DATABASE}")
        _check(source)
        target = Path(str(settings.DATABASES["default"]["NAME"]))
        _refuse_while_written(target)
        connection.close()
        aside.mkdir(mode=0o700)
        for path in (target, *(target.with_name(target.name + end) for end in ("-wal", "-shm"))):
            if path.exists():
                path.rename(aside / path.name)
        shutil.copyfile(source, target)
        target.chmod(0o600)
    else:
        if not (copy / DUMP).exists():
            raise PelkError(f"{copy} holds no {DUMP}")
        _run("pg_restore", "--clean", "--if-exists", "--no-owner", str(copy / DUMP))
        aside.mkdir(mode=0o700)
    if (copy / MEDIA).exists():
        if settings.MEDIA_ROOT.exists():
            settings.MEDIA_ROOT.rename(aside / MEDIA)
        shutil.copytree(copy / MEDIA, settings.MEDIA_ROOT)
    said.append(f"what was here is in {aside}")
    return said


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
    for path in gone:
        shutil.rmtree(path)
    return gone


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
