"""The API of the kit: devices, delivery notes, labels, and the models of a site."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.core.kit.columns import FIELDS, heading_row, match_columns
from tutelar.core.kit.labels import scan
from tutelar.core.kit.names import names_by_pattern
from tutelar.core.wording import sentence
from tutelar.server.catalogue import schemas as profiles
from tutelar.server.catalogue import services as catalogue_services
from tutelar.server.catalogue import views as catalogue_views
from tutelar.server.http import BYTES, REFUSED, WRITE, who
from tutelar.server.kit import delivery, services, views
from tutelar.server.kit import schemas as shapes
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.sheet import shaped
from tutelar.server.store import documents, lookup
from tutelar.server.store.kept import kept
from tutelar.server.store.writes import WriteRejected
from tutelar.server.uploads import ENCODINGS, rows_of

router = Router(tags=["kit"])


@router.get("/{key}/kit", response={200: shapes.Kit, 404: ApiError}, auth=SEE, operation_id="kit")
def kit(request: HttpRequest, key: str) -> Any:
    """Return every device of the site as the kit shows it."""
    return kept(views.kit, lookup.site_row(key))


@router.post("/{key}/devices", response={201: Revised, **WRITE}, auth=WORK, operation_id="add_device")
def add_device(request: HttpRequest, key: str, device: shapes.NewDevice) -> Any:
    """Add a device as in the document."""
    return Status(201, services.add_device(key, who(request), device.model_dump()))


@router.patch(
    "/{key}/devices", response={200: shapes.DeviceRevisions, **WRITE}, auth=WORK, operation_id="change_devices"
)
def change_devices(request: HttpRequest, key: str, body: shapes.DeviceChanges) -> Any:
    """Change several devices at once, all or nothing."""
    changes = [item.model_dump(exclude_unset=True) for item in body.changes]
    return shapes.DeviceRevisions(
        devices=[shaped(shapes.DeviceRevision, item) for item in services.change_devices(key, who(request), changes)]
    )


@router.post("/{key}/devices/remove", response={200: shapes.Removed, **WRITE}, auth=WORK, operation_id="remove_devices")
def remove_devices(request: HttpRequest, key: str, body: shapes.Removal) -> Any:
    """Remove devices with their links, all or nothing; returns what puts them back."""
    return services.remove_devices(key, who(request), [(item.key, item.revision) for item in body.devices])


@router.post("/{key}/devices/restore", response={200: Revised, **WRITE}, auth=WORK, operation_id="restore_devices")
def restore_devices(request: HttpRequest, key: str, body: shapes.Removed) -> Any:
    """Put devices and links back as they were removed."""
    return services.restore(key, who(request), body.devices, body.links, body.positions)


@router.patch("/{key}/devices/{device}", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_device")
def change_device(request: HttpRequest, key: str, device: str, change: shapes.DeviceChange) -> Any:
    """Change keys of one device, based on its revision."""
    changes = change.model_dump(exclude_unset=True, exclude={"revision"})
    return services.change_device(key, device, who(request), change.revision, changes)


@router.post("/{key}/kit/names", response={200: shapes.Names, **REFUSED}, auth=WORK, operation_id="names_by_pattern")
def names(request: HttpRequest, key: str, wanted: shapes.NamePattern) -> Any:
    """Return the names that a pattern gives to devices; nothing is stored."""
    site = documents.document(lookup.site_row(key))
    strange = next((item for item in wanted.devices if item not in site.device_by_key), None)
    if strange is not None:
        raise WriteRejected(f"The site has no device '{strange}'.", [("devices", strange)])
    try:
        return shapes.Names(names=names_by_pattern(site, wanted.devices, wanted.pattern))
    except ValueError as error:
        raise WriteRejected(sentence(error), [("pattern", sentence(error))]) from None


@router.post(
    "/{key}/kit/note", response={200: shapes.Note, **REFUSED}, auth=SEE, operation_id="read_note", openapi_extra=BYTES
)
def read_note(request: HttpRequest, key: str, encoding: str | None = None) -> Any:
    """Read a delivery note (XLSX, CSV or text) into rows, and guess what each column holds."""
    row = lookup.site_row(key)
    site = documents.document(row)
    rows = rows_of(request.body, encoding)
    digest = delivery.digest_of(rows)
    heads = heading_row(rows)
    return shapes.Note(
        rows=rows,
        heads=heads,
        fields=match_columns(site, rows, heads),
        known=FIELDS,
        encodings=list(ENCODINGS),
        digest=digest,
        before=delivery.imported_before(row, digest),
    )


def _lines(note: shapes.NoteRows) -> list[tuple[int, list[str]]]:
    return [(item.line, item.cells) for item in note.rows]


@router.post("/{key}/kit/preview", response={200: shapes.NotePreview, **REFUSED}, auth=SEE, operation_id="preview_note")
def preview_note(request: HttpRequest, key: str, note: shapes.NoteRows) -> Any:
    """Return what bringing a delivery note in would add and change; nothing is stored."""
    row = lookup.site_row(key)
    found = delivery.preview_delivery(row, note.fields, _lines(note), note.defaults.model_dump())
    return shapes.NotePreview(rows=[shaped(shapes.NoteRow, item) for item in found], revision=row.revision)


@router.post("/{key}/kit/import", response={200: shapes.NoteResult, **WRITE}, auth=WORK, operation_id="import_note")
def import_note(request: HttpRequest, key: str, note: shapes.NoteImport) -> Any:
    """Bring a delivery note in as its preview said, all or nothing."""
    return delivery.import_delivery(
        key, who(request), note.revision, note.fields, _lines(note), note.defaults.model_dump(), note.digest
    )


@router.post("/{key}/kit/scan", response={200: shapes.ScanResult, **REFUSED}, auth=SEE, operation_id="read_label")
def read_label(request: HttpRequest, key: str, body: shapes.ScanText) -> Any:
    """Return what a scanned label means, with the device in hand or without."""
    site = documents.document(lookup.site_row(key))
    if body.device is not None and body.device not in site.device_by_key:
        raise WriteRejected(f"The site has no device '{body.device}'.", [("device", body.device)])
    found = scan(site, site.device_by_key.get(body.device or ""), body.text)
    return shapes.ScanResult(
        mac=found.label.mac,
        serial=found.label.serial,
        device=found.device,
        sentence=found.sentence,
        fits=found.fits,
    )


@router.get(
    "/{key}/models/{model}", response={200: profiles.ProfileSheet, 404: ApiError}, auth=SEE, operation_id="site_model"
)
def site_model(request: HttpRequest, key: str, model: str) -> Any:
    """Return a model of the site with the fields that people may write."""
    row = lookup.site_row(key)
    part, devices = lookup.site_model(row, model)
    return catalogue_views.profile(model, part, row.revision, "site", devices)


@router.patch("/{key}/models/{model}", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_site_model")
def change_site_model(request: HttpRequest, key: str, model: str, change: profiles.ProfileChange) -> Any:
    """Change fields of a model of this site, all or nothing."""
    return catalogue_services.change_site_model(key, model, who(request), change.revision, change.typed)
