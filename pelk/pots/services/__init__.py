"""What is done with pots, and with the soil that comes out of them."""

from pelk.pots.services.groups import (
    decide,
    delete_deed,
    delete_fill,
    delete_group,
    fill,
    keep_group,
    refresh,
    restore_deed,
    restore_fill,
    restore_group,
    write_deed,
)
from pelk.pots.services.jars import begin_jars, delete_jars, read_jars, restore_jars
from pelk.pots.services.old_soil import (
    answer,
    begin_old_soil,
    delete_old_soil,
    mix_old_soil,
    restore_old_soil,
)

__all__ = [
    "answer",
    "begin_jars",
    "begin_old_soil",
    "decide",
    "delete_deed",
    "delete_fill",
    "delete_group",
    "delete_jars",
    "delete_old_soil",
    "fill",
    "keep_group",
    "mix_old_soil",
    "read_jars",
    "refresh",
    "restore_deed",
    "restore_fill",
    "restore_group",
    "restore_jars",
    "restore_old_soil",
    "write_deed",
]
