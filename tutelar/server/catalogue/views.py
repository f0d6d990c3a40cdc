"""What the catalogue shows."""

from collections.abc import Mapping
from typing import Any, Literal

from tutelar.core.kit.models import model_fields
from tutelar.core.site import Model
from tutelar.core.wording import listed
from tutelar.server import models
from tutelar.server.catalogue import schemas as shapes
from tutelar.server.catalogue.services import catalogue_models
from tutelar.server.catalogue.shipped import shipped
from tutelar.server.schemas import Option


def catalogue() -> list[shapes.ProfileRow]:
    """Return one row a model of the catalogue."""
    own = {row.key: row.revision for row in models.Profile.objects.all()}
    return [
        shapes.ProfileRow(
            key=model.key,
            label=model.label,
            maker=model.maker,
            family=model.family,
            origin=_origin(model.key, own),
            factory=_factory(model),
            revision=own.get(model.key, 0),
            services=listed([f"{name} {port}" for name, port in model.services.items()], 9),
        )
        for model in sorted(catalogue_models(), key=lambda item: (item.family, item.label))
    ]


def _origin(key: str, own: Mapping[str, int]) -> shapes.Origin:
    return "shipped" if key not in own else "changed" if key in shipped() else "own"


def _factory(model: Model) -> str:
    factory = model.factory
    if factory is None:
        return "not known"
    at = f"{factory.address}/{factory.prefix}" if factory.prefix is not None else str(factory.address)
    if factory.mode == "leased" or factory.address is None:
        return {"leased": "takes a lease", "link-local": "link-local"}.get(factory.mode, factory.mode)
    return at if factory.mode == "fixed" else f"{'lease, else ' if factory.mode == 'leased-then-fixed' else ''}{at}"


def profile(
    key: str, part: Mapping[str, Any], revision: int, origin: Literal["site"] | None = None, devices: int = 0
) -> shapes.ProfileSheet:
    """Return a profile with all its fields; a new one has an empty part."""
    label = " ".join(filter(None, (part.get("maker"), part.get("name")))) or key
    own = {key: revision} if revision else {}
    return shapes.ProfileSheet(
        key=key,
        label=label,
        revision=revision,
        origin=origin or _origin(key, own),
        devices=devices,
        fields=[
            shapes.FieldRow(
                group=item.group,
                path=item.path,
                label=item.label,
                kind=item.kind,
                value=item.value,
                options=[Option(value=value, word=word) for value, word in item.options],
            )
            for item in model_fields(part)
        ],
    )
