"""Files of this machine that are for our eyes only: database, session keys, mailed links."""

import os
from contextlib import suppress
from pathlib import Path

OTHERS = 0o077  # what others may do with a file


def keep_private(folder: Path) -> None:
    """Make a folder that no other account can read; mend what stands in it.

    From then on whatever this process writes is for its own account alone.
    """
    os.umask(OTHERS)
    folder.mkdir(parents=True, exist_ok=True)
    for path in (folder, *folder.rglob("*")):
        # Another process may take a file away meanwhile; another account's files are its own.
        with suppress(FileNotFoundError, PermissionError):
            mode = path.lstat().st_mode
            if mode & OTHERS and not path.is_symlink():
                path.chmod(mode & 0o777 & ~OTHERS)
