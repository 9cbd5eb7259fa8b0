"""Pelk: plan, weigh, mix, cure and remember an organic grower's potting mixes."""

VERSION = "0.3.0"
