"""What somebody saw with his own eyes, and what somebody decided to leave open: each with a name and a reason."""

from collections.abc import Iterable
from datetime import date
from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.check import check as problems_of
from tutelar.core.doors.held import held_open
from tutelar.core.proof import Expectation, check_title
from tutelar.core.proof.registry import check_of, never_open
from tutelar.core.site import Reading
from tutelar.core.wording import spoken_date
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.proof import queries
from tutelar.server.store import documents, lookup
from tutelar.server.store.readings import reading_row
from tutelar.server.store.writes import WriteRejected, bump, checked, log, site_at_revision, site_for_update

_MOST_WORDS = 500


def witness_check(
    key: str, device: str, check: str, actor: Actor, result: str, words: str = "", person: str = ""
) -> models.Reading:
    """Keep what was seen of a device; `person` is who saw it, where it was not who writes it down. Raises Rejected for
    a check that is measured or that the device does not have, for a failure of which nothing is said, and for an
    egress test without a person."""
    words, person = _tidy(words), _tidy(person)
    with transaction.atomic():
        row = site_for_update(key)
        stored, wanted = _wanted(row, device, check)
        site = documents.document(row)
        title = check_title(check, site.about.date_order)
        if not wanted.witnessed:
            raise WriteRejected(f"'{title}' is measured, not witnessed; measure it again.", [("check", check)])
        held = held_open(site).get(str(wanted.values.get("door")))
        if held is not None:
            said = f"{held.door.label} is held open for set-up, so the test tells nothing; lock it first."
            raise WriteRejected(said, [("check", check)])
        if result == "fail" and not words:
            raise WriteRejected("Say what you saw instead.", [("words", "Nothing is said.")])
        if never_open(check) and not person:
            raise WriteRejected("Name the person who tried the door.", [("person", "No name is given.")])
        reading = _keep(row, stored, wanted, actor, result, words or "seen so", person)
        seen = "seen" if result == "pass" else "failed"
        who = f", tried by {person}" if person else ""
        sentence = f"{stored.name or device}: {title.lower()} {seen}{f' ({words})' if words else ''}{who}."
        log(row, actor, "proof.witnessed", device, sentence, None, {"check": check, "result": result, "person": person})
    return reading


def keep_witnessed(row: models.Site, ends: Iterable[tuple[str, str]], actor: Actor, words: str) -> None:
    """Keep what a witnessed test of a link proves of devices; what they are not asked for is left out."""
    wanted = queries.expectations(row)
    for device, check in ends:
        item = next((found for found in wanted.get(device, []) if found.check == check and found.witnessed), None)
        if item is not None:
            _keep(row, lookup.device_row(row, device), item, actor, "pass", words, "")


def _keep(
    row: models.Site, device: models.Device, wanted: Expectation, actor: Actor, result: str, words: str, person: str
) -> models.Reading:
    reading = Reading(
        device=device.key,
        check=wanted.check,
        result=result,  # type: ignore[arg-type]
        basis=dict(wanted.basis),
        code="seen" if result == "pass" else "not-so",
        values={"words": f"{words}, {person}" if person else words},
    )
    kept = reading_row(row, device, reading, timezone.now(), actor.name)
    kept.save()
    return kept


def leave_open(key: str, device: str, check: str | None, actor: Actor, reason: str, until: date | None = None) -> None:
    """Leave a check of a device open (None: all of them) until a day. Raises Rejected without a reason, for a day that
    is past, for a check that the device does not have, and for the egress test of an escape door."""
    reason = _tidy(reason)
    with transaction.atomic():
        row = site_for_update(key)
        stored = lookup.device_row(row, device)
        if not reason:
            raise WriteRejected("Say why it is left open.", [("reason", "No reason is given.")])
        if until is not None and until < timezone.localdate():
            raise WriteRejected(
                f"{spoken_date(until)} is past; name a day that is still to come.", [("until", str(until))]
            )
        if check is not None:
            _wanted(row, device, check)
        if never_open(check):
            never = check_of(str(check))
            raise WriteRejected(f"“{never.title}” cannot be left open. {never.caution}", [("check", str(check))])
        part = {
            "device": device,
            "check": check,
            "reason": reason,
            "by": actor.name,
            "at": timezone.now().isoformat(timespec="seconds"),
            "until": until and until.isoformat(),
        }
        before = _find(row, device, check)
        row.exceptions = [item for item in row.exceptions if item is not before] + [part]
        bump(row)
        title = check_title(check).lower() if check else "every check"
        ends = f" until {spoken_date(until)}" if until else ""
        log(
            row,
            actor,
            "exception.made",
            device,
            f"{stored.name or device}: {title} is left open{ends}: {reason}.",
            before,
            part,
        )


def close_again(key: str, device: str, check: str | None, actor: Actor) -> None:
    """End an exception: the check counts again. Raises Rejected where there is none."""
    with transaction.atomic():
        row = site_for_update(key)
        stored = lookup.device_row(row, device)
        before = _find(row, device, check)
        if before is None:
            raise WriteRejected("Nothing is left open there.", [("check", check or "every check")], status=404)
        row.exceptions = [item for item in row.exceptions if item is not before]
        bump(row)
        title = check_title(check).lower() if check else "every check"
        log(row, actor, "exception.ended", device, f"{stored.name or device}: {title} counts again.", before)


def change_rules(key: str, actor: Actor, revision: int, part: dict[str, Any]) -> models.Site:
    """Change what the site asks for at its proof: `clock_s`, `left_out`, `witnessed` of some families. Raises Rejected
    where a check cannot be left out or there is none, Stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        before = row.policy.get("proof") or {}
        seen = {**before.get("witnessed", {}), **part.get("witnessed", {})}
        after = {**before, **part, **({"witnessed": seen} if seen else {})}
        row.policy = {**row.policy, "proof": after}
        row.save()
        wrong = [item for item in problems_of(checked(row)) if item.code == "policy.left-out"]
        if wrong:
            raise WriteRejected(wrong[0].message, [("left_out", item.message) for item in wrong])
        bump(row)
        log(row, actor, "proof.rules", row.key, "What the site asks for at its proof was changed.", before, after)
    return row


def _find(row: models.Site, device: str, check: str | None) -> dict[str, str] | None:
    return next((item for item in row.exceptions if item["device"] == device and item.get("check") == check), None)


def _wanted(row: models.Site, device: str, check: str) -> tuple[models.Device, Expectation]:
    stored = lookup.device_row(row, device)
    items = queries.expectations(row).get(device, [])
    found = next((item for item in items if item.check == check), None)
    if found is None:
        have = ", ".join(item.check for item in items) or "none"
        raise WriteRejected(f"{stored.name or device} has no check '{check}'; it has {have}.", [("check", check)])
    return stored, found


def _tidy(text: str) -> str:
    return " ".join(text.split())[:_MOST_WORDS]
