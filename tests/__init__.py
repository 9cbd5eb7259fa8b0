"""Tests. Properties try the same examples every run; PELK_EXPLORE=1 looks for new ones."""

import os

from hypothesis import settings

settings.register_profile("steady", derandomize=True)
settings.register_profile("explore", derandomize=False)
settings.load_profile("explore" if os.environ.get("PELK_EXPLORE") else "steady")
