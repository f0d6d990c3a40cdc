"""The model catalogue that ships: invented makers, one open JSON file."""

import json
from functools import cache
from pathlib import Path
from typing import Any

FORMAT = "tutelar-models"


@cache
def shipped() -> dict[str, dict[str, Any]]:
    """Return the shipped profiles by key, as in a site file's `models`."""
    whole = json.loads(Path(__file__).with_name("models.json").read_text("utf-8"))
    return {part["key"]: part for part in whole["models"]}
