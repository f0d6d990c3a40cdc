"""What each stage shows, put together from the core's answers. Nothing is decided here."""

from collections import defaultdict
from dataclasses import asdict
from typing import Any

from django.db.models import Q

from tutelar.core.addressing.ground import Ground, Standing, standings
from tutelar.core.links.readiness import readiness
from tutelar.core.links.rules import incoming_mbps
from tutelar.core.problems import Problem
from tutelar.core.progress import laptop_setting, unanswered, unidentified, untied
from tutelar.core.proof import CHECKS, check_title, is_stale
from tutelar.core.run.advice import advice
from tutelar.core.run.chain import Setting
from tutelar.core.site import Site
from tutelar.core.site.values import dotted, netmask
from tutelar.server.sites import models, queries
from tutelar.standin.faults import PLAYED

Sheet = dict[str, Any]


def _problems(problems: tuple[Problem, ...], *families: str) -> list[Sheet]:
    return [
        item.as_dict() | {"move": item.move and dict(zip(("device", "address"), item.move, strict=True))}
        for item in problems
        if not families or item.code.split(".")[0] in families
    ]


def _laptop(setting: Setting | None) -> Sheet:
    return {"fixed": False} if setting is None else {"fixed": True, **asdict(setting)}


def sites() -> list[Sheet]:
    """Return one row a site: how many devices, how many proven, and the next thing."""
    rows = []
    for row in models.Site.objects.order_by("name"):
        site, now = queries.document(row), queries.site_progress(row)
        rows.append({
            "key": row.key, "name": row.name, "devices": len(site.devices),
            "proven": len(site.devices) - now.open["proof"], "next": now.next.sentence, "updated_at": row.updated_at,
        })  # fmt: skip
    return rows


def frame(row: models.Site) -> Sheet:
    site, now = queries.document(row), queries.site_progress(row)
    addresses = queries.planned(row).addresses()
    return {
        "key": row.key, "name": row.name, "revision": row.revision,
        "stages": [{"stage": stage, "open": number} for stage, number in now.open.items()],
        "next": asdict(now.next),
        "laptop": _laptop(now.laptop),
        "reserved": sum(1 for device in site.devices if device.addressing == "reserved" and device.mac),
        "devices": [
            {"key": device.key, "name": device.label, "place": device.place, "family": site.family_of(device),
             "address": addresses.get(device.key), "network": device.behind or device.network}
            for device in site.devices
        ],
    }  # fmt: skip


def survey(row: models.Site) -> Sheet:
    document = queries.export(row)
    return {
        "revision": row.revision,
        **{name: document[name] for name in ("site", "internet", "networks", "policy")},
        "unanswered": [item._asdict() for item in unanswered(queries.document(row))],
        "problems": _problems(queries.planned(row).problems, "network", "pool", "range"),
    }


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
        "problems": _problems(queries.planned(row).problems, "mac", "serial", "name", "device", "key", "switch"),
    }  # fmt: skip


# --- addresses -------------------------------------------------------------------------------------------------


def addresses(row: models.Site) -> Sheet:
    site, planned = queries.document(row), queries.planned(row)
    states = queries.device_states(row, queries.readings(row), queries.finished(queries.step_records(row)))
    clashes = {
        key for item in planned.problems if item.level == "error" and item.code.startswith("address.")
        for key in item.subjects
    }  # fmt: skip
    revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
    rooms = {item["key"]: item for item in planned.networks}
    by_network: dict[str, list[Sheet]] = defaultdict(list)
    for item in planned.assignments:
        device = site.device_by_key[item.device]
        state = "planned" if item.source == "planned" else states[item.device]
        by_network[item.network].append({
            "key": device.key, "name": device.label, "place": device.place, "family": site.family_of(device),
            "address": item.address, "state": "clash" if device.key in clashes else state, "source": item.source,
            "why": item.why, "locked": device.locked, "revision": revisions[device.key],
        })  # fmt: skip
    return {
        "revision": row.revision,
        "networks": [_network(item, rooms[item.ground.key], by_network[item.ground.key]) for item in standings(site)],
        "problems": _problems(planned.problems, "address", "network", "pool", "range", "plan"),
        "unplanned": sum(1 for item in planned.assignments if item.source == "planned"),
        "leased": sum(1 for device in site.devices if device.addressing == "leased"),
    }


def _network(standing: Standing, room: dict[str, Any], devices: list[Sheet]) -> Sheet:
    ground = standing.ground
    return {
        "key": ground.key, "label": ground.label, "cidr": ground.cidr, "prefix": ground.prefix,
        "mask": netmask(ground.prefix), "gateway": None if ground.gateway is None else dotted(ground.gateway),
        "recorder": ground.recorder, "usable": room["usable"], "free": room["fixed_free"],
        "wanted": room["fixed_wanted"], "spans": _spans(ground), "devices": devices,
    }  # fmt: skip


def _spans(ground: Ground) -> list[Sheet]:
    found: list[tuple[str, int, int, str | None]] = []
    if ground.prefix < 31:
        found += [
            ("edge", ground.base, ground.base, "the network itself"),
            ("edge", ground.top, ground.top, "broadcast"),
        ]
    if ground.gateway is not None and ground.contains(ground.gateway):
        found.append(("gateway", ground.gateway, ground.gateway, "recorder" if ground.recorder else None))
    found += [
        ("dns", number, number, None) for number in ground.dns if number != ground.gateway and ground.contains(number)
    ]
    found += [("pool", first, last, None) for first, last in ground.pools]
    found += [("kept", first, last, why) for first, last, why in ground.reserved]
    return [
        {"kind": kind, "first": dotted(first), "last": dotted(last), "why": why} for kind, first, last, why in found
    ]


# --- bench -----------------------------------------------------------------------------------------------------


def bench(row: models.Site) -> Sheet:
    site, order = queries.document(row), queries.bench_run(row)
    records = queries.step_records(row)
    done = queries.finished(records)
    steps = []
    for step in order.steps:
        record = records.get(step.id)
        steps.append({
            "id": step.id, "device": step.device, "kind": step.kind, "title": step.title, "start_s": step.start_s,
            "end_s": step.end_s, "hands": step.hands, "state": record.state if record else "open",
            "reason": record.reason if record else "", "by": record.by if record else None,
            "revision": record.revision if record else 0,
            "ticked": record.ticked if record else [], "values": [asdict(value) for value in step.values],
        })  # fmt: skip
    current = next((step for step in order.steps if step.hands and step.id not in done), None)
    following = {item.device: item for item in queries.planned(row).assignments}
    device = site.device_by_key.get(current.device or "") if current else None
    return {
        "revision": row.revision,
        "steps": steps,
        "current": None if current is None else {
            "step": current.id,
            **asdict(advice(site, current, following.get(current.device or ""), done)),
            **{name: getattr(device, name, None) for name in ("place", "serial", "mac")},
            "name": device.label if device else None,
        },
        "left_s": 0 if current is None else order.total_s - current.start_s,
        "total_s": order.total_s,
        "lower_bound_s": order.lower_bound_s,
        "laptop": _laptop(laptop_setting(order.steps, done)),
        "problems": _problems(order.problems, "run"),
    }  # fmt: skip


# --- links -----------------------------------------------------------------------------------------------------


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
        "problems": _problems(queries.planned(row).problems, "link", "recorder"),
    }  # fmt: skip


def _thread(site: Site, link: models.Link, states: dict[str, Any], mbps: float) -> Sheet:
    start, end = site.device_by_key[link.start.key], site.device_by_key[link.end.key if link.end else ""]
    state, reason = readiness(site, start, end, link.slot, states)
    return {
        "id": link.pk, "revision": link.revision, "start": start.key, "start_name": start.label, "place": start.place,
        "from_channel": link.rest.get("from_channel"), "slot": link.slot, "mbps": mbps, "state": state,
        "reason": reason,
    }  # fmt: skip


# --- proof -----------------------------------------------------------------------------------------------------


def proof(row: models.Site) -> Sheet:
    site = queries.document(row)
    wanted, last = queries.expectations(row), queries.readings(row)
    states = queries.device_states(row, last, queries.finished(queries.step_records(row)))
    addresses_by_key = {device.key: device.address for device in site.devices}
    cells, checks = [], dict[str, str]()
    for items in wanted.values():
        for item in items:
            checks.setdefault(item.check, check_title(item.check, site.about.date_order))
            reading = last.get((item.device, item.check))
            state = _STATES[reading.result] if reading else "planned"
            if reading is not None and is_stale(reading, item):
                state = "stale"
            cells.append({
                "device": item.device, "check": item.check, "state": state, "expected": item.expected,
                **{name: getattr(reading, name, None) for name in ("measured", "result", "took_ms", "at", "by")},
            })  # fmt: skip
    order = {check: at for at, check in enumerate(CHECKS)}
    newest = models.Proof.objects.filter(site=row).first()
    return {
        "columns": [
            {"key": device.key, "name": device.label, "place": device.place or "No place",
             "family": site.family_of(device),
             "address": None if (at := addresses_by_key[device.key]) is None else str(at), "state": states[device.key]}
            for device in site.walking_order(list(site.devices)) if wanted[device.key]
        ],
        "checks": [
            {"check": check, "title": title}
            for check, title in sorted(checks.items(), key=lambda item: order.get(item[0], 99))
        ],
        "cells": cells,
        "last": None if newest is None else proof_run(newest),
        "fault_kinds": list(PLAYED),
    }  # fmt: skip


_STATES = {"pass": "proven", "fail": "broken", "silent": "broken", "skipped": "not-measured"}


def proof_run(proof_row: models.Proof) -> Sheet:
    names = ("state", "measured", "total", "message", "faults", "by", "started_at", "finished_at")
    return {"id": proof_row.pk, **{name: getattr(proof_row, name) for name in names}}


def events(key: str, search: str, most: int = 200) -> list[Sheet]:
    """Return the newest lines of a site's log that hold every word of the search."""
    rows = models.Event.objects.filter(site_key=key)
    for word in search.split()[:10]:
        rows = rows.filter(Q(sentence__icontains=word) | Q(by__icontains=word)
                           | Q(subject__icontains=word) | Q(kind__icontains=word))  # fmt: skip
    return [dict(row) for row in rows.values("id", "at", "by", "kind", "subject", "sentence")[:most]]
