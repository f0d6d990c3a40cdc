"""The loom."""

from collections import defaultdict
from typing import Any

from tutelar.core.links.readiness import readiness
from tutelar.core.links.rules import incoming_mbps
from tutelar.core.progress import untied
from tutelar.core.site import Site
from tutelar.server.sites import models, queries
from tutelar.server.sites.sheets.base import Sheet, problem_rows


def links(row: models.Site) -> Sheet:
    site = queries.document(row)
    rows = list(models.Link.objects.filter(site=row).select_related("start", "end"))
    states = queries.device_states(row, queries.readings(row), frozenset())
    by_recorder: dict[str, list[models.Link]] = defaultdict(list)
    others = []
    for link in rows:
        if link.kind == "records" and link.end is not None:
            by_recorder[link.end.key].append(link)
        else:
            end = link.end.name or link.end.key if link.end else link.outside
            others.append(
                {"kind": link.kind, "start": link.start.name or link.start.key, "end": end, "slot": link.slot}
            )
    recorders = [device for device in site.devices if site.family_of(device) in ("recorder", "software-recorder")]
    document = {(link.from_, link.to): link for link in site.links if link.kind == "records"}
    beams = []
    for recorder in recorders:
        model = site.model_of(recorder)
        capacity = model.capacity if model else None
        core_links = [link for link in site.links if link.kind == "records" and link.to == recorder.key]
        threads = [
            _thread(site, link, states, incoming_mbps(site, [document[link.start.key, recorder.key]]))
            for link in by_recorder[recorder.key]
        ]
        beams.append({
            "key": recorder.key, "name": recorder.label, "channels": capacity.channels if capacity else None,
            "incoming_mbps": capacity.incoming_mbps if capacity else None,
            "wanted_mbps": round(incoming_mbps(site, core_links), 1), "threads": threads,
        })  # fmt: skip
    return {
        "revision": row.revision, "beams": beams,
        "untied": [
            {"key": key, "name": site.label_of(key), "place": site.device_by_key[key].place} for key in untied(site)
        ],
        "others": others, "places": list(site.about.places),
        "problems": problem_rows(queries.planned(row).problems, "link", "recorder"),
    }  # fmt: skip


def _thread(site: Site, link: models.Link, states: dict[str, Any], mbps: float) -> Sheet:
    start, end = site.device_by_key[link.start.key], site.device_by_key[link.end.key if link.end else ""]
    state, reason = readiness(site, start, end, link.slot, states)
    return {
        "id": link.pk, "revision": link.revision, "start": start.key, "start_name": start.label, "place": start.place,
        "from_channel": link.rest.get("from_channel"), "slot": link.slot, "mbps": mbps, "state": state,
        "reason": reason,
    }  # fmt: skip
