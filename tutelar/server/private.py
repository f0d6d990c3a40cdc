"""What only the account that serves may read: the data folder and all that lies in it.

Nothing of Django is needed here, so that the settings can use it.
"""

import contextlib
import os
import secrets
from pathlib import Path

UNFINISHED = ".new"


def private_folder(path: Path) -> Path:
    """Make a folder where it is missing, and close it, its files and its photographs to other accounts of the machine.

    What belongs to another account stays as it is.
    """
    os.umask(0o077)
    path.mkdir(parents=True, exist_ok=True)
    for item in (path, *path.iterdir(), *(path / "photos").rglob("*")):
        with contextlib.suppress(FileNotFoundError):  # another process writes here too
            found = item.lstat()
            if not item.is_symlink() and found.st_uid == os.geteuid() and found.st_mode & 0o077:
                item.chmod(found.st_mode & 0o700)
    return path


def write_private(path: Path, content: bytes) -> None:
    """Write a file that only its owner reads; it is whole at every moment, or not there."""
    fresh = path.with_name(f"{path.name}.{secrets.token_hex(4)}{UNFINISHED}")
    with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        out.write(content)
        out.flush()
        os.fsync(out.fileno())
    fresh.replace(path)
    folder = os.open(path.parent, os.O_RDONLY)  # its name is to stand after a loss of power too
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def kept_or_made(path: Path, made: str) -> str:
    """Return the text of a file; where it is missing or empty, this one is written to it and returned."""
    text = path.read_text().strip() if path.exists() else ""
    if not text:
        write_private(path, made.encode())
    return path.read_text().strip()


def clear_unfinished(folder: Path) -> int:
    """Remove what somebody who was killed had begun to write; return how many files that were."""
    left = list(folder.rglob(f"*{UNFINISHED}"))
    for path in left:
        path.unlink(missing_ok=True)
    return len(left)
