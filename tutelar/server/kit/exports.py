"""Labels."""

from tutelar.core.links.numbering import own_numbers
from tutelar.server import models
from tutelar.server.paper.labels import Label, label_pdf, label_svg
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected


def labels(row: models.Site, ending: str, keys: list[str], base: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of the labels of these devices, or of all; `base` is the server's own address.

    Raises Rejected for an ending other than pdf or svg, and for a device that the site does not have.
    """
    if ending not in ("pdf", "svg"):
        raise WriteRejected(f"Labels come as pdf or svg, not as '{ending}'.", status=404)
    site, planned = documents.document(row), documents.planned(row).addresses()
    strange = next((key for key in keys if key not in site.device_by_key), None)
    if strange is not None:
        raise WriteRejected(f"The site {row.name} has no device '{strange}'.", status=404)
    chosen = [site.device_by_key[key] for key in keys] or site.walking_order(list(site.devices))
    if not chosen:
        raise WriteRejected(f"{row.name} has no device yet; there is nothing to print.")
    found = [
        Label(
            f"{base}sites/{row.key}/devices/{device.key}",
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
    title = f"Labels, {site.about.title}"
    return (
        (label_pdf(found, title), "application/pdf") if ending == "pdf" else (label_svg(found, title), "image/svg+xml")
    )
