"""Pelk: plan, weigh, mix, cure and remember an organic grower's potting mixes."""

import os

VERSION = "0.3.0"

# Its matrices are small: threads of the linear algebra only wait for one another, and on a
# busy machine an ensemble takes three times as long. Read when numpy is first loaded.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
