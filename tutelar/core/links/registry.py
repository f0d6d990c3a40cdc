"""The one list of link kinds: a module a kind in `kinds/`, found by itself; adding a kind adds a file."""

import pkgutil
from collections.abc import Mapping
from functools import cache
from importlib import import_module

from tutelar.core.links import kinds
from tutelar.core.links.base import Kind
from tutelar.core.links.index import LinkIndex
from tutelar.core.site.types import Device, Link, Site


def _found() -> tuple[Kind, ...]:
    modules = (import_module(f"{kinds.__name__}.{item.name}") for item in pkgutil.iter_modules(kinds.__path__))
    return tuple(sorted((module.KIND for module in modules), key=lambda kind: (kind.rank, kind.key)))


KINDS: tuple[Kind, ...] = _found()
BY_WORD: dict[str, tuple[Kind, ...]] = {
    word: tuple(kind for kind in KINDS if kind.word == word) for word in dict.fromkeys(kind.word for kind in KINDS)
}
GROUPS = tuple(dict.fromkeys(kind.group for kind in KINDS))


def kind_between(word: str, start: str, end: str | None, outside: str, behind: bool) -> Kind:
    """Return the kind of a link of a word between families (end None: to the outside end `outside`)."""
    return _kind(word, start, end, outside, behind)[0]


@cache
def _kind(word: str, start: str, end: str | None, outside: str, behind: bool) -> tuple[Kind, bool]:
    known = BY_WORD[word]
    fitting = next((kind for kind in known if kind.takes(start, end, outside, behind=behind)), None)
    return (known[0], False) if fitting is None else (fitting, True)


def kind_and_fit(site: Site, link: Link, start: Device | None, end: Device | None) -> tuple[Kind, bool]:
    """Return the kind of a link, and whether the families of its ends fit it (if not, the first kind of its word)."""
    family = site.family_by_model
    begins = family.get(start.model, "other") if start is not None else "other"
    behind = start is not None and start.behind == link.to
    if end is not None:
        return _kind(link.kind, begins, family.get(end.model, "other"), "", behind)
    return _kind(link.kind, begins, None, link.to, behind)


def kind_of(site: Site, link: Link) -> Kind:
    """Return the kind of a link of the document; of an unknown device or one that does not fit, the word's first."""
    devices = site.device_by_key
    return kind_and_fit(site, link, devices.get(link.from_), devices.get(link.to))[0]


def slot_word(word: str) -> str:
    """Return what the number of a link with this word in the document is called: "channel", "door"."""
    return next((kind.number.word for kind in BY_WORD.get(word, ()) if kind.number is not None), "number")


def link_index(
    site: Site,
    addresses: Mapping[str, str],
    states: Mapping[str, str] | None = None,
    secrets: Mapping[tuple[str, str], str] | None = None,
    pending: frozenset[tuple[str, str]] = frozenset(),
) -> LinkIndex:
    """Return what is known of a site's links, with all the kinds that there are (see `LinkIndex`)."""
    return LinkIndex(site, addresses, states, secrets, pending, kind_and_fit=kind_and_fit)
