"""Writing model profiles: the catalogue's, and those of one site."""

import json
from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.http import Http404

from tutelar.core.answers import Untypable
from tutelar.core.kit.models import with_fields
from tutelar.core.site import Model, UnreadableSite, read_site
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.catalogue.shipped import FORMAT, shipped
from tutelar.server.store.writes import Stale, WriteRejected, bump, checked, log, site_for_update

MOST = 2_000


def catalogue_parts() -> dict[str, dict[str, Any]]:
    """Return all profiles of the catalogue by key; people's own stand for shipped ones of the same key."""
    return shipped() | {row.key: row.part for row in models.Profile.objects.order_by("key")}


def catalogue_models() -> list[Model]:
    """Return every model of the catalogue as in the document, by key."""
    return list(read_models(list(catalogue_parts().values())))


def read_models(parts: list[Any], path: str = "models") -> tuple[Model, ...]:
    """Return profiles as the core reads them, or raise Rejected with each fault and its path."""
    frame = {"format": "tutelar-site", "version": 1, "site": {"key": "frame", "name": "Frame"}, "models": parts}
    try:
        return read_site(json.dumps(frame)).models
    except UnreadableSite as error:
        single = f"{path}[0]."
        faults = [(at.removeprefix(single) if len(parts) == 1 else at, reason) for at, reason in error.faults]
        raise WriteRejected(faults[0][1], faults) from None


def _filled(part: Mapping[str, Any], key: str, typed: Mapping[str, str]) -> dict[str, Any]:
    try:
        fresh = {"key": key, **{name: value for name, value in with_fields(part, typed).items() if name != "key"}}
    except Untypable as error:
        raise WriteRejected(error.sentence, [(error.path, error.sentence)]) from None
    if not fresh.get("family"):
        sentence = "Say which family the model is of."
        raise WriteRejected(sentence, [("family", sentence)])
    read_models([fresh])
    return fresh


def keep_profile(key: str, actor: Actor, revision: int, typed: Mapping[str, str]) -> models.Profile:
    """Add or change a profile of the catalogue (revision 0: a new one, or a shipped one changed for the first time)."""
    with transaction.atomic():
        row = models.Profile.objects.filter(key=key).first()
        if (row.revision if row else 0) != revision:
            raise Stale(f"The model '{key}'", dict(typed), row.part if row else None, row.revision if row else 0)
        part = _filled(row.part if row else shipped().get(key, {}), key, typed)
        return _store(key, actor, part)


def _store(key: str, actor: Actor, part: dict[str, Any]) -> models.Profile:
    row, created = models.Profile.objects.get_or_create(key=key, defaults={"part": part, "by": actor.name})
    if not created:
        row.part, row.by, row.revision = part, actor.name, row.revision + 1
        row.save()
    return row


def drop_profile(key: str, revision: int) -> None:
    """Take people's own profile away; a shipped one of the same key stands again. Sites keep their copies."""
    row = models.Profile.objects.filter(key=key).first()
    if row is None:
        if key in shipped():
            raise WriteRejected(f"'{key}' is shipped; it can be changed, not removed.")
        raise Http404(f"The catalogue has no model '{key}'.")
    if row.revision != revision:
        raise Stale(f"The model '{key}'", None, row.part, row.revision)
    row.delete()


def import_catalogue(text: bytes, actor: Actor) -> int:
    """Add the models of a catalogue or site file, all or nothing; return how many were new or different."""
    try:
        whole = json.loads(text)
    except ValueError as error:
        raise WriteRejected(f"The file is not JSON: {error}.") from None
    except RecursionError:
        raise WriteRejected("The file is nested too deeply to be a catalogue.") from None
    if not isinstance(whole, dict) or whole.get("format") not in (FORMAT, "tutelar-site") or whole.get("version") != 1:
        raise WriteRejected(
            f"This is no catalogue; a file of the format '{FORMAT}', version 1, or a site file is expected."
        )
    parts = whole.get("models", [])
    if not isinstance(parts, list) or len(parts) > MOST:
        raise WriteRejected(f"'models' must be a list of up to {MOST} models.", [("models", "no list of models")])
    read = read_models(parts)
    if len({model.key for model in read}) < len(read):
        raise WriteRejected("A model key stands twice in this file; give every model a key of its own.")
    with transaction.atomic():
        known = catalogue_parts()
        fresh = [part for part in parts if known.get(part["key"]) != part]
        for part in fresh:
            _store(part["key"], actor, part)
    return len(fresh)


def change_site_model(site_key: str, key: str, actor: Actor, revision: int, typed: Mapping[str, str]) -> models.Site:
    """Change a model of one site; a model of the catalogue that the site lacks is taken over first."""
    with transaction.atomic():
        site = site_for_update(site_key)
        row = models.DeviceModel.objects.filter(site=site, key=key).first() or take_over(site, key)
        if site.revision != revision:
            raise Stale(f"The model '{key}'", dict(typed), profile_part(row), site.revision)
        before = profile_part(row)
        part = _filled(before, key, typed)
        row.family, row.extra = part["family"], {n: v for n, v in part.items() if n not in ("key", "family")}
        row.save()
        checked(site)
        bump(site)
        log(site, actor, "model.changed", key, f"The model {key} was changed.", before, part)
    return site


def profile_part(row: models.DeviceModel) -> dict[str, Any]:
    """Return a site's model as the document writes it."""
    return {"key": row.key, "family": row.family, **row.extra}


def take_over(site: models.Site, key: str) -> models.DeviceModel:
    """Copy a model of the catalogue into a site. Raises Rejected where the catalogue lacks it."""
    part = catalogue_parts().get(key)
    if part is None:
        raise WriteRejected(f"Neither the site nor the catalogue has a model '{key}'.", [("model", "unknown")])
    last = models.DeviceModel.objects.filter(site=site).order_by("-position").first()
    return models.DeviceModel.objects.create(
        site=site,
        position=last.position + 1 if last else 0,
        key=key,
        family=part["family"],
        extra={name: value for name, value in part.items() if name not in ("key", "family")},
    )


def imported_words(number: int) -> str:
    """Return what bringing models in did, in one sentence."""
    return (
        f"{count(number, 'model is', 'models are')} new or different." if number else "Every model stands so already."
    )
