"""Tests. Properties try the same examples every run; PELK_EXPLORE=1 looks for new ones.

How fast examples come says how busy the machine is, not whether a property holds.
"""

import os

from hypothesis import HealthCheck, settings

STEADY = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}
settings.register_profile("steady", derandomize=True, **STEADY)
settings.register_profile("explore", derandomize=False, **STEADY)
settings.load_profile("explore" if os.environ.get("PELK_EXPLORE") else "steady")
