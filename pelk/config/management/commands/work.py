"""``manage.py work``: reckon what takes long, one question after the other."""

import os
import signal
import time
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand
from django.db import OperationalError, close_old_connections
from django.http import QueryDict

from pelk.bench.domain import fit_queue
from pelk.bench.models import FitAsked
from pelk.bench.pages import fitting
from pelk.core.base.errors import PelkError

IDLE_S = 0.2
# Pages go before: a worker takes what they leave of the machine.
NICE = 10


class Command(BaseCommand):
    """Answer the queue until told to stop."""

    help = "Answer dear questions from the queue; run one or two beside gunicorn."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take how long to run, for tests."""
        parser.add_argument("--until-idle", action="store_true", help="end when nobody waits")

    def handle(self, *args: Any, until_idle: bool, **options: Any) -> None:
        """Take one after the other."""
        self.runs = True
        if not until_idle:
            os.nice(NICE)
            signal.signal(signal.SIGTERM, self._stop)
            signal.signal(signal.SIGINT, self._stop)
        parent, beaten = os.getppid(), 0.0
        while self.runs and (until_idle or os.getppid() == parent):
            try:
                if time.monotonic() - beaten > fit_queue.BEATS_S:
                    fit_queue.beat()
                    beaten = time.monotonic()
                asked = fit_queue.next_asked()
                if asked is not None:
                    fit_queue.answered(asked, self._answer(asked))
                elif until_idle:
                    return
                else:
                    time.sleep(IDLE_S)
            except OperationalError:
                # A busy or restarted database: again in a moment.
                close_old_connections()
                time.sleep(1.0)

    def _stop(self, *_: Any) -> None:
        self.runs = False

    def _answer(self, asked: FitAsked) -> Any:
        post = QueryDict(asked.posted)
        try:
            form = fitting.form_for(post, asked.yard)
            return fitting.stored(fitting.fit(form, post, asked.yard))
        except (PelkError, ValueError, ArithmeticError) as error:
            return {
                "minimise": "cost",
                "source": "shelf",
                "keeps": False,
                "asked": True,
                "problem": str(error),
                "lines": [],
                "misses": [],
            }
