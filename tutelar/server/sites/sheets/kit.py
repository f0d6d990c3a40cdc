"""The kit and the model catalogue."""

from collections.abc import Mapping
from typing import Any

from tutelar.core.kit.models import model_fields
from tutelar.core.kit.names import PREFIXES, Stickers
from tutelar.core.kit.used import used_steps
from tutelar.core.progress import unidentified
from tutelar.core.site import Model, Site
from tutelar.core.wording import listed
from tutelar.server.catalogue import shipped
from tutelar.server.sites import models, queries
from tutelar.server.sites.services import catalogue_models
from tutelar.server.sites.sheets.base import Sheet, problem_rows

_COLUMNS = ("key", "name", "model", "place", "network", "behind", "mac", "serial", "locked", "used")


def kit(row: models.Site) -> Sheet:
    site = queries.document(row)
    rows = {
        key: (revision, own)
        for key, revision, own in models.Device.objects.filter(site=row).values_list("key", "revision", "addressing")
    }
    stickers = Stickers(rows)
    return {
        "revision": row.revision,
        "devices": [
            {name: getattr(device, name) for name in _COLUMNS}
            | {
                "family": site.family_of(device),
                "revision": rows[device.key][0],
                "addressing": rows[device.key][1],
                "address": None if device.address is None else str(device.address),
                "used_steps": used_steps(site, device),
            }
            for device in site.devices
        ],
        "models": _choices(site),
        "unread": unidentified(site),
        "networks": [{"key": network.key, "label": network.label} for network in site.networks],
        "places": list(site.about.places),
        "addressing": site.policy.addressing or "fixed",
        "next_keys": {family: stickers.next(family) for family in PREFIXES},
        "problems": problem_rows(queries.planned(row).problems, "mac", "serial", "name", "device", "key", "switch"),
    }


def _choices(site: Site) -> list[Sheet]:
    here = [_choice(model, here=True) for model in site.models]
    return here + [_choice(model, here=False) for model in catalogue_models() if model.key not in site.model_by_key]


def _choice(model: Model, *, here: bool) -> Sheet:
    return {"key": model.key, "family": model.family, "label": model.label, "here": here}


def catalogue() -> list[Sheet]:
    """Return one row a model of the catalogue."""
    own = {row.key: row.revision for row in models.Profile.objects.all()}
    return [
        {
            "key": model.key,
            "label": model.label,
            "maker": model.maker,
            "family": model.family,
            "origin": _origin(model.key, own),
            "factory": _factory(model),
            "revision": own.get(model.key, 0),
            "services": listed([f"{name} {port}" for name, port in model.services.items()], 9),
        }
        for model in sorted(catalogue_models(), key=lambda item: (item.family, item.label))
    ]


def _origin(key: str, own: Mapping[str, int]) -> str:
    return "shipped" if key not in own else "changed" if key in shipped() else "own"


def _factory(model: Model) -> str:
    factory = model.factory
    if factory is None:
        return "not known"
    at = f"{factory.address}/{factory.prefix}" if factory.prefix is not None else str(factory.address)
    if factory.mode == "leased" or factory.address is None:
        return {"leased": "takes a lease", "link-local": "link-local"}.get(factory.mode, factory.mode)
    return at if factory.mode == "fixed" else f"{'lease, else ' if factory.mode == 'leased-then-fixed' else ''}{at}"


def profile(key: str, part: Mapping[str, Any], revision: int, origin: str | None = None, devices: int = 0) -> Sheet:
    """Return a profile with all its fields; a new one has an empty part."""
    label = " ".join(filter(None, (part.get("maker"), part.get("name")))) or key
    own = {key: revision} if revision else {}
    return {
        "key": key,
        "label": label,
        "revision": revision,
        "origin": origin or _origin(key, own),
        "devices": devices,
        "fields": [
            {
                "group": item.group,
                "path": item.path,
                "label": item.label,
                "kind": item.kind,
                "value": item.value,
                "options": [{"value": value, "word": word} for value, word in item.options],
            }
            for item in model_fields(part)
        ],
    }
