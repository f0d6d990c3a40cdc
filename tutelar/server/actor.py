"""Who does something, with which right, and from where: every write carries it, so that rights can be asked for."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

Origin = Literal["web", "worker", "server"]


@dataclass(frozen=True, slots=True)
class Actor:
    """A person by the name of his account, or the server itself. `right` is what he acts by, `origin` where from; `at`
    when, where that is told afterwards (None: now)."""

    name: str
    right: str = "technician"
    origin: Origin = "web"
    at: datetime | None = None
