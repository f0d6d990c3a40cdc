"""The catalogue as a file."""

import json

from tutelar.server.catalogue.services import catalogue_parts
from tutelar.server.catalogue.shipped import FORMAT


def catalogue_text() -> str:
    """Return the whole catalogue as an open JSON file, ready to be imported elsewhere."""
    whole = {"format": FORMAT, "version": 1, "models": list(catalogue_parts().values())}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
