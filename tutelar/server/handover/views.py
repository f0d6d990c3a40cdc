"""What is open before one leaves, the pack and the sealed sheet, as they are shown."""

from django.utils import timezone

from tutelar.core.cards import cards_of
from tutelar.core.credentials.sealed import PARTS
from tutelar.core.loose_ends import CODES, NOTED, SITE, LooseEnd, name_of
from tutelar.core.site.types import Site
from tutelar.server import models
from tutelar.server.cards import queries as cards_queries
from tutelar.server.handover import leaving, packing, queries, sealing
from tutelar.server.handover import schemas as shapes
from tutelar.server.schemas import Option
from tutelar.server.store import documents

_TOLD_FROM = 0.05  # share from which the time left can be told


def leaving_sheet(row: models.Site) -> shapes.LeavingSheet:
    """Return everything that is open on a site in walking order, the whole site's last."""
    site, left = documents.document(row), queries.left_open(row)
    rows = [_row(site, end, left.get((end.code, end.subject))) for end in queries.ends_of(row)]
    order = site.place_order
    rows.sort(key=lambda item: (item.subject == SITE, order.get(item.place or "", len(order)), item.name))
    signed = site.sign_off
    return shapes.LeavingSheet(
        ends=rows,
        holding=sum(1 for item in rows if item.blocks and item.left_open is None),
        cards=sum(card.open_in("leaving") for card in cards_of(site, cards_queries.items())),
        empty=not site.devices,
        notable=[
            Option(value=code, word=CODES[code].says.replace(" of {name}", "").replace("{name}", "it"))
            for code in NOTED
        ],
        subjects=[
            Option(value=SITE, word="The whole site"),
            *(Option(value=item.key, word=item.label) for item in site.walking_order(list(site.devices))),
        ],
        signed=None
        if signed is None
        else shapes.SignedRow(
            by=signed.by,
            for_whom=signed.for_ or "",
            at=signed.at or "",
            open=list(signed.open),
            changed=leaving.changed_since(row),
        ),
    )


def _row(site: Site, end: LooseEnd, left: dict[str, str] | None) -> shapes.EndRow:
    device = site.device_by_key.get(end.subject)
    door = next((item for item in site.doors if item.key == end.subject), None)
    return shapes.EndRow(
        code=end.code,
        subject=end.subject,
        name=name_of(site, end.subject),
        place=device.place if device is not None else door.place if door is not None else None,
        message=end.message,
        fix=end.fix,
        whose=end.whose,
        blocks=end.blocks,
        goes=_goes(end, is_device=device is not None, is_door=door is not None),
        by_tick=end.code in NOTED,
        left_open=left["reason"] if left is not None else None,
        left_by=left["by"] if left is not None else None,
    )


def _goes(end: LooseEnd, *, is_device: bool, is_door: bool) -> str:
    """Return the page of the site that closes an end."""
    if end.stage == "doors" and is_door:
        return f"doors?door={end.subject}"
    if end.code in ("station-on-test", "alarm-not-as-found"):
        return "doors?part=alarm"
    if end.code == "access-not-sent":
        return "doors?part=access&open=sent"
    if end.stage in ("proof", "remote") and is_device:
        return f"{end.stage}?device={end.subject}"
    if end.stage in ("settings", "handover"):
        return f"devices/{end.subject}" if is_device else "cards" if end.stage == "handover" else "settings"
    return end.stage


def pack_sheet(row: models.Site) -> shapes.PackSheet:
    """Return the last pack of a site and the parts of its sealed sheet."""
    job = packing.last_job(row)
    counts = sealing.counted(row)
    printed = list(models.SealedSheet.objects.filter(site=row))
    return shapes.PackSheet(
        last=_pack(row, job) if job is not None else None,
        sealed=[_sealed(key, counts[key], [one for one in printed if one.part == key]) for key in PARTS],
    )


def _pack(row: models.Site, job: models.PackJob) -> shapes.PackRow:
    gone = (timezone.now() - job.begun_at).total_seconds() if job.begun_at is not None else 0.0
    running = job.state == "running" and job.share > _TOLD_FROM
    return shapes.PackRow(
        number=job.pk,
        state=job.state,
        share=job.share,
        part=job.part,
        left_s=round(gone / job.share * (1 - job.share), 1) if running else None,
        size=job.size,
        by=job.by,
        at=(job.ended_at or job.asked_at).isoformat(timespec="seconds"),
        ready=job.ready,
        changed=job.revision != row.revision,
        message=job.message,
    )


def _sealed(key: str, slots: int, printed: list[models.SealedSheet]) -> shapes.SealedPart:
    last = printed[0] if printed else None
    return shapes.SealedPart(
        key=key,
        title=PARTS[key][0],
        says=PARTS[key][1],
        slots=slots,
        printed=len(printed),
        for_whom=last.for_whom if last is not None else None,
        by=last.by if last is not None else None,
        at=last.at.isoformat(timespec="seconds") if last is not None else None,
    )
