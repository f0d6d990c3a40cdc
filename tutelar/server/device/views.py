"""Everything known about one device on one page."""

from tutelar.core.clock import drift, has_clock, zone_of
from tutelar.core.credentials import rule_for, slots_of, tries
from tutelar.core.kit.used import used_steps
from tutelar.core.links.registry import slot_word
from tutelar.core.loads.budget import can_feed
from tutelar.core.site.types import Device, Site
from tutelar.server import models
from tutelar.server.proof import queries as proof_queries
from tutelar.server.schemas import EventRow, Option
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.sheet import shaped
from tutelar.server.store import bench_steps, documents, lookup
from tutelar.server.values import queries
from tutelar.server.values.rows import Values, telling_rows
from tutelar.server.values.schemas import DeviceLink, DevicePage, SlotRow
from tutelar.server.values.views import port_rows

MOST_EVENTS = 100


def device_page(row: models.Site, key: str) -> DevicePage:
    """Return a device with its values, links, readings, ports, slots, what must be told, and its history."""
    stored = lookup.device_row(row, key)
    site = documents.document(row)
    device = site.device_by_key[key]
    network = site.network_by_key.get(device.network or "")
    model, item = site.model_of(device), queries.settings_of(row).assignments.get(key)
    states = proof_queries.device_states(row, proof_queries.readings(row), bench_steps.finished(row))
    refusals = models.FailedLogins.objects.filter(device=stored).first()
    seen = drift(queries.clock_readings(row).get(key, []), zone_of(site))
    events = models.Event.objects.filter(site_key=row.key, subject=key)[:MOST_EVENTS]
    tellings = [item for item in secrets_queries.open_tellings(row) if key in (item.device.key, item.about.key)]
    return DevicePage(
        revision=stored.revision,
        key=key,
        name=device.label,
        place=device.place,
        family=site.family_of(device),
        model=model.label if model else device.model,
        network=site.label_of(device.behind) if device.behind else network.label if network else None,
        ground=device.behind or device.network,
        address=item.address if item else None,
        addressing=device.addressing,
        mac=device.mac,
        medium=device.medium,
        wifi_mac=device.wifi_mac,
        outdoors=device.outdoors,
        serial=device.serial,
        locked=device.locked,
        used_steps=list(used_steps(site, device)),
        powered_by=_powered_by(site, device),
        feeder=device.powered_by.device if device.powered_by else None,
        feeder_port=device.powered_by.port if device.powered_by else None,
        feeders=[
            Option(value=item.key, word=item.label)
            for item in site.devices
            if item.key != key and can_feed(site.model_of(item))
        ],
        cable_m=device.cable_m,
        state=states[key],
        groups=Values(row, device).groups(),
        slots=[
            SlotRow(
                slot=slot.key,
                title=slot.title,
                kind=slot.kind,
                why=slot.why,
                rule=found.words,
                conflicts=list(found.conflicts),
                shared=max(0, len(_shared(row, key, slot.key)) - 1),
            )
            for slot in slots_of(site, device)
            if (found := rule_for(site, device, slot))
        ],
        tries=tries(model.password_rule if model else None, refusals.number if refusals else 0),
        has_clock=has_clock(site, device),
        clock=seen.sentence if seen else None,
        clock_due=seen.due if seen else None,
        date_order=site.about.date_order,
        time_zone=site.about.time_zone,
        clock_face=site.about.clock,
        ports=port_rows(site, device),
        links=[
            DeviceLink(
                kind=link.kind,
                outgoing=link.from_ == key,
                other=link.to if link.from_ == key else link.from_,
                name=site.label_of(link.to if link.from_ == key else link.from_),
                slot=None if link.slot is None else f"{slot_word(link.kind)} {link.slot}",
            )
            for link in site.links_of(key)
        ],
        tellings=telling_rows(tellings),
        events=[shaped(EventRow, event) for event in events],
    )


def _powered_by(site: Site, device: Device) -> str | None:
    by = device.powered_by
    if by is None:
        return None
    return site.label_of(by.device) + (f", port {by.port}" if by.port is not None else "")


def _shared(row: models.Site, key: str, slot: str) -> list[str]:
    use = models.SecretUse.objects.filter(site=row, device_key=key, slot=slot).first()
    if use is None:
        return []
    return list(models.SecretUse.objects.filter(secret=use.secret_id).values_list("device_key", flat=True))
