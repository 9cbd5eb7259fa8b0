"""WSGI entry for gunicorn."""

import gc
import os
from importlib import import_module

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pelk.config.settings")

application = get_wsgi_application()
# Draws its samples: a second to load, better now than in the first answer.
import_module("scipy.stats.qmc")

# What is loaded by now stays: the collector need not walk it at every answer, nor run
# every 700 allocations where one answer makes a hundred thousand.
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 10, 10)
