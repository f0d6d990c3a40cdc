"""The kit."""

from tutelar.core.progress import unidentified
from tutelar.server.sites import models, queries
from tutelar.server.sites.sheets.base import Sheet, problem_rows


def kit(row: models.Site) -> Sheet:
    site = queries.document(row)
    revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
    open_labels = set(unidentified(site))
    return {
        "revision": row.revision,
        "devices": [
            {name: getattr(device, name) for name in
             ("key", "name", "model", "place", "network", "behind", "mac", "serial", "addressing", "used")}
            | {"family": site.family_of(device), "revision": revisions[device.key]}
            for device in sorted(site.devices, key=lambda item: item.key not in open_labels)
        ],
        "models": [{"key": model.key, "family": model.family, "label": model.label} for model in site.models],
        "unread": sorted(open_labels),
        "networks": [network.key for network in site.networks],
        "places": list(site.about.places),
        "problems": problem_rows(queries.planned(row).problems, "mac", "serial", "name", "device", "key", "switch"),
    }  # fmt: skip
