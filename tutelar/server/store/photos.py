"""Where photographs of a site are kept: beside the database, each under a name made of what it shows."""

import re
from pathlib import Path

from django.conf import settings

_PHOTO = re.compile(r"[0-9a-f]{32}\.jpg")


def photo_path(key: str, name: str) -> Path | None:
    """Return where a photograph is kept, None for what is no name of one."""
    return photo_folder(key) / name if _PHOTO.fullmatch(name) else None


def photo_folder(key: str) -> Path:
    """Return the folder of a site's photographs; it may not be there yet."""
    return Path(settings.DATA_DIR) / "photos" / key
