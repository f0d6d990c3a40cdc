"""Writing the site's settings: clock readings, ports that change, forwards that were decided, choices by family."""

from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.clock import Difference, UnknownZone, zone_named
from tutelar.core.clock.difference import typed_difference
from tutelar.core.ports import clashes, port_problems, told_of_change
from tutelar.core.proof import CLOCK_GOOD_S
from tutelar.core.setting.family import CHOICES, STREAM_OF, choice_words
from tutelar.core.site import Reading, Site
from tutelar.core.site.model import StreamChoice
from tutelar.core.wording import sentence
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.kit.services import change_parts
from tutelar.server.secrets.services import tell
from tutelar.server.store import documents, lookup
from tutelar.server.store.readings import reading_row
from tutelar.server.store.writes import WriteRejected, bump, checked, log, log_all, site_at_revision, site_for_update

FARTHEST_AGO_S = 3600


def clock_shown(key: str, device_key: str, shown: str, ago_s: float, actor: Actor, *, keep: bool) -> Difference:
    """Return what is wrong with the time that a device showed `ago_s` seconds ago; kept as a reading on demand.

    Raises Rejected for a time that cannot be read, and where the site has no time zone.
    """
    if not 0 <= ago_s <= FARTHEST_AGO_S:
        raise WriteRejected(f"The look was {ago_s:.0f} s ago; look again.", [("ago_s", "too long ago")])
    with transaction.atomic():
        row = site_for_update(key)
        device = lookup.device_row(row, device_key)
        about = documents.document(row).about
        if not about.time_zone:
            raise WriteRejected(
                "The site's time zone is not known yet; ask for it in the survey.", [("zone", "missing")]
            )
        now = timezone.now() - timedelta(seconds=ago_s)
        try:
            zone = zone_named(about.time_zone)
            local = now.astimezone(zone)
            found = typed_difference(shown, about.date_order, local, zone)
        except (UnknownZone, ValueError) as error:
            raise WriteRejected(sentence(error), [("shown", sentence(error))]) from None
        if keep:
            good = found.finding == "good"
            offset = round(found.offset_s, 1)
            unit = documents.document(row).device_by_key[device.key].unit
            seen = Reading(
                device=device.key,
                check="clock",
                measured=found.message,
                result="pass" if good else "fail",
                offset_s=offset,
                code="right" if good else "off",
                values={"offset_s": offset},
                basis={
                    "within_s": f"{CLOCK_GOOD_S:g}",
                    "time-zone": about.time_zone,
                    **({"hardware": unit} if unit else {}),
                },
            )
            kept = reading_row(row, device, seen, now.astimezone(UTC), actor.name)
            kept.measured = found.message
            kept.save()
            log(row, actor, "clock.read", device.key, f"Clock of {device.name or device.key}: {found.message}")
    return found


def change_ports(key: str, device_key: str, actor: Actor, revision: int, ports: dict[str, int]) -> models.Device:
    """Change ports of a device by service; every device that has one of them typed in is told.

    Raises Rejected where two services would meet on one port, or the device does not have the service; Stale.
    """
    with transaction.atomic():
        row = site_for_update(key)
        lookup.device_row(row, device_key)  # it is there
        site = documents.document(row)
        device = site.device_by_key[device_key]
        before = site.services_of(device)
        strange = next((service for service in ports if service not in before), None)
        if strange is not None:
            raise WriteRejected(f"{device.label} has no service '{strange}'.", [(strange, "unknown")])
        model = site.model_of(device)
        usual = model.services if model else {}
        own = {name: port for name, port in {**before, **ports}.items() if usual.get(name) != port}
        clash = next(clashes(device, {**usual, **own}), None)
        if clash is not None:
            raise WriteRejected(f"{clash.message} {clash.fix}", [("ports", clash.message)])
        events, (changed,) = change_parts(row, [{"device": device_key, "revision": revision, "services": own or None}])
        checked(row)
        bump(row)
        log_all(row, actor, events)
        site = documents.document(row, fresh=True)
        for service, wanted in told_of_change(site, site.device_by_key[device_key], before).items():
            tell(row, actor, f"port:{service}", wanted)
    return changed


def decide_forward(key: str, actor: Actor, revision: int, part: dict[str, Any]) -> models.Site:
    """Record that an outside port leads to a device, who decided it and why.

    Raises Rejected where it cannot work (carrier-grade NAT, a port that is taken or blocked) or lacks its reason.
    """
    for name, words in (("decided_by", "Say who decided it."), ("why", "Say why it is needed.")):
        if not str(part.get(name) or "").strip():
            raise WriteRejected(words, [(name, words)])
    stamped = part | {"at": datetime.now(UTC).isoformat("T", "seconds")}
    return _change_forwards(
        key, actor, revision, lambda rows: [*rows, stamped], f"decided by {part['decided_by']}: {part['why']}", stamped
    )


def drop_forward(key: str, actor: Actor, revision: int, outside: int) -> models.Site:
    """Take a forward back. Raises Rejected for a port that is not forwarded."""

    def without(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
        kept = [item for item in rows if item["outside"] != outside]
        if len(kept) == len(rows):
            raise WriteRejected(f"The outside port {outside} is not forwarded.", status=404)
        return kept

    return _change_forwards(key, actor, revision, without, "taken back", {"outside": outside})


def _change_forwards(
    key: str, actor: Actor, revision: int, change: Any, said: str, part: dict[str, Any]
) -> models.Site:
    with transaction.atomic():
        row = site_at_revision(key, revision)
        before = {item.message for item in port_problems(documents.document(row))}
        rows = (row.internet or {}).get("forwards", [])
        row.internet = {**(row.internet or {}), "forwards": change(rows)}
        row.save()
        site: Site = checked(row)
        wrong = [
            item
            for item in port_problems(site)
            if item.level == "error" and item.message not in before and item.code != "port.clash"
        ]
        if wrong:
            fix = f" {wrong[0].fix}" if wrong[0].fix else ""
            raise WriteRejected(f"{wrong[0].message}{fix}", [("outside", item.message) for item in wrong])
        bump(row)
        sentence = f"Outside port {part['outside']}: {said}."
        log(row, actor, "forward.changed", str(part.get("device") or key), sentence, None, part)
    return row


def _without_words(row: models.Site, family: str, setting: str) -> str | None:
    """Take the site's own word for a setting away; return what it was."""
    words = {name: dict(part) for name, part in row.policy.get("choices", {}).items()}
    before: str | None = words.get(family, {}).pop(setting, None)
    words = {name: part for name, part in words.items() if part}
    row.policy = {name: part for name, part in row.policy.items() if name != "choices"}
    row.policy |= {"choices": words} if words else {}
    return before


def choose(key: str, actor: Actor, revision: int, family: str, setting: str, value: str) -> models.Site:
    """Keep the site's own choice of a setting for a family; "" goes back to what is usual. Raises Rejected, Stale."""
    if setting not in CHOICES:
        raise WriteRejected(f"'{setting}' is no setting that a site chooses; it may choose {', '.join(CHOICES)}.")
    if setting in STREAM_OF and value.strip():
        sentence = "Set a stream in numbers: width, height, pictures a second, codec, kbit/s."
        raise WriteRejected(sentence, [("value", sentence)])
    with transaction.atomic():
        row = site_at_revision(key, revision)
        before = _without_words(row, family, setting)
        if value.strip():
            words = row.policy.get("choices", {})
            row.policy = {**row.policy, "choices": {**words, family: {**words.get(family, {}), setting: value.strip()}}}
        row.save()
        checked(row)
        bump(row)
        said = f"{family}, {CHOICES[setting].lower()}: {value.strip() or 'as usual'}."
        log(row, actor, "setting.chosen", key, said, before, value.strip() or None)
    return row


def choose_stream(
    key: str, actor: Actor, revision: int, family: str, setting: str, numbers: dict[str, Any]
) -> models.Site:
    """Keep what the site sets of a family's stream; what is None is as each model sends it. Raises Rejected, Stale."""
    if setting not in STREAM_OF:
        raise WriteRejected(f"'{setting}' is no stream; there are {' and '.join(STREAM_OF)}.", [("setting", setting)])
    with transaction.atomic():
        row = site_at_revision(key, revision)
        families = {name: dict(part) for name, part in row.policy.get("streams", {}).items()}
        own = families.setdefault(family, {})
        before = own.pop(STREAM_OF[setting], None)
        fresh = {name: value for name, value in numbers.items() if value is not None}
        if fresh:
            own[STREAM_OF[setting]] = fresh
        kept = {name: part for name, part in families.items() if part}
        row.policy = {name: part for name, part in row.policy.items() if name != "streams"}
        row.policy |= {"streams": kept} if kept else {}
        _without_words(row, family, setting)
        row.save()
        checked(row)
        bump(row)
        said = f"{family}, {CHOICES[setting].lower()}: {choice_words(StreamChoice(**fresh))}."
        log(row, actor, "setting.chosen", key, said, before, fresh or None)
    return row


def choose_password_policy(key: str, actor: Actor, revision: int, policy: str) -> models.Site:
    """Choose one password a device, or one a family. What is stored stays until it is set anew."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        before = row.policy.get("passwords", "device")
        row.policy = {**row.policy, "passwords": policy}
        row.save()
        checked(row)
        bump(row)
        words = {"device": "one password per device", "family": "one password per family"}
        log(row, actor, "policy.passwords", key, f"Administrator passwords: {words[policy]}.", before, policy)
    return row
