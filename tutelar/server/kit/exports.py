"""Labels."""

from tutelar.core.links.numbering import own_numbers
from tutelar.paper.labels import Label, label_pdf, label_svg
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected


def _labels(row: models.Site, asked: Asked) -> tuple[list[Label], str]:
    """Return the labels of the devices asked for, or of all, and their title.

    Raises WriteRejected for a device that the site does not have, and where it has none.
    """
    site, planned = documents.document(row), documents.planned(row).addresses()
    strange = next((key for key in asked.devices if key not in site.device_by_key), None)
    if strange is not None:
        raise WriteRejected(f"The site {row.name} has no device '{strange}'.", status=404)
    chosen = [site.device_by_key[key] for key in asked.devices] or site.walking_order(list(site.devices))
    if not chosen:
        raise WriteRejected(f"{row.name} has no device yet; there is nothing to print.")
    found = [
        Label(
            f"{asked.base}sites/{row.key}/devices/{device.key}",
            device.label,
            (
                ", ".join(filter(None, (device.key, device.place))),
                planned.get(device.key, ""),
                "; ".join(own_numbers(site, device)),
                device.serial or "",
                device.mac or "",
            ),
        )
        for device in chosen
    ]
    return found, f"Labels, {site.about.title}"


EXPORTS = (
    Export(
        "labels",
        "Labels",
        {
            "pdf": lambda row, asked: label_pdf(*_labels(row, asked)),
            "svg": lambda row, asked: label_svg(*_labels(row, asked)),
        },
    ),
)
