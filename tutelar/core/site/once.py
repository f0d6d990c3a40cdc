"""What is worked out of a site once and goes with it: a document does not change, a changed copy begins anew."""

from collections.abc import Callable
from functools import wraps
from typing import TypeVar

from tutelar.core.site.types import Site

_Found = TypeVar("_Found")


def once_a_site(work: Callable[[Site], _Found]) -> Callable[[Site], _Found]:
    """Return the function that works this out once for each site. All who ask share what it gives; nobody changes
    it."""
    name = f"{work.__module__}.{work.__qualname__}"

    @wraps(work)
    def asked(site: Site) -> _Found:
        kept = site.__dict__  # where the look-ups of `Site` are kept too, and left behind by its copies
        if name not in kept:
            kept[name] = work(site)
        return kept[name]  # type: ignore[no-any-return]

    return asked
