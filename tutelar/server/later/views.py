"""What comes later as it is shown."""

from datetime import datetime
from typing import Any, cast

from django.utils import timezone

from tutelar.core.clock import has_clock
from tutelar.core.later import KINDS, diary, footage
from tutelar.core.site.types import Site
from tutelar.server import models
from tutelar.server.later import queries
from tutelar.server.later import schemas as shapes
from tutelar.server.schemas import Option
from tutelar.server.store import documents


def later_sheet(row: models.Site) -> shapes.LaterSheet:
    """Return the diary and the changes of a site, those under way first."""
    site, today = documents.document(row), timezone.localdate()
    walked = site.walking_order(list(site.devices))
    changes = sorted(queries.changes(row), key=lambda one: (one["over"] is not None, -one["id"]))
    return shapes.LaterSheet(
        diary=[
            shapes.DiaryRow(
                key=item.key,
                at=item.at,
                title=item.title,
                about=item.about,
                subject=item.subject,
                due=item.at.date() <= today,
            )
            for item in diary(site, today, looks=queries.looks(row))
        ],
        changes=[_change(site, one) for one in changes],
        kinds=[Option(value=key, word=word) for key, word in KINDS.items()],
        devices=[Option(value=item.key, word=item.label) for item in walked],
        clocks=[Option(value=item.key, word=item.label) for item in walked if has_clock(site, item)],
        empty=not site.devices,
    )


def _change(site: Site, one: dict[str, Any]) -> shapes.ChangeRow:
    device = site.device_by_key.get(one["device"] or "")
    done = {step["key"] for step in one["steps"] if step["done"] is not None}
    titles = {step["key"]: step["title"] for step in one["steps"]}
    steps = []
    for step in one["steps"]:
        first = next((key for key in step["after"] if key in titles and key not in done), None)
        state = "done" if step["key"] in done else "open" if first is None else "waits"
        steps.append(
            shapes.StepOfChange(
                state=state,  # type: ignore[arg-type]
                waits_for=titles[first] if state == "waits" and first is not None else None,
                at=site.label_of(step["at"]) if step["at"] else "",
                **{name: step[name] for name in ("key", "title", "why", "caution", "by", "done", "note")},
            )
        )
    return shapes.ChangeRow(
        id=one["id"],
        kind=one["kind"],
        word=KINDS[one["kind"]],
        device=one["device"],
        name=site.label_of(one["device"]) if one["device"] else site.about.name,
        begun=one["begun"],
        by=one["by"],
        over=one["over"],
        given_up=one.get("given_up"),
        asks=cast(Any, queries.unit_names(one["kind"], device)),
        was=one["was"],
        now={"mac": device.mac, "serial": device.serial, "wifi_mac": device.wifi_mac} if device is not None else {},
        steps=steps,
        open=sum(1 for step in steps if step.state != "done"),
    )


def footage_row(row: models.Site, device: str, shown: datetime) -> shapes.FootageRow:
    """Return when a recording was made that shows a time."""
    found = footage(documents.document(row), device, shown, queries.looks(row).get(device, []))
    return shapes.FootageRow(
        shown=shown.isoformat(),
        made=[at.isoformat() for at in found.made],
        certain=found.certain,
        sentence=found.sentence,
    )
