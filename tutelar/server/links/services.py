"""Writing links: one by one, as proposed, from a table; their numbers, and what was witnessed of them."""

import json
from collections.abc import Sequence
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from tutelar.core.links.ends import WISHES
from tutelar.core.links.measured import witnessed_ends
from tutelar.core.links.numbering import numbers
from tutelar.core.links.propose import Proposal, held, propose
from tutelar.core.links.readiness import LinkStatus, basis, check_name
from tutelar.core.links.registry import link_index, slot_word
from tutelar.core.links.table import Row, match_fields, read_links
from tutelar.core.site import Reading, Site, UnreadableSite, read_site
from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.links import queries
from tutelar.server.links.sentences import says, where
from tutelar.server.proof import queries as proof_queries
from tutelar.server.proof.witnessing import keep_witnessed
from tutelar.server.store import documents, lookup
from tutelar.server.store.document import link_document, new_link
from tutelar.server.store.readings import reading_row
from tutelar.server.store.writes import (
    Event,
    Stale,
    WriteRejected,
    bump,
    checked,
    log,
    log_all,
    site_at_revision,
    site_for_update,
)
from tutelar.server.uploads import rows_of

_MOST_WORDS = 500


def change_link(key: str, number: int, actor: Actor, revision: int, changes: dict[str, Any]) -> models.Link:
    """Change keys of a link as in the document (its kind and its start stay). Raises Rejected, Stale."""
    with transaction.atomic():
        row = site_for_update(key)
        link, before = _held(row, number, revision, changes)
        led = where(link)
        _set(row, link, {name: value for name, value in {**before, **changes}.items() if value is not None})
        link.revision += 1
        _save_link(link)
        _can_be_made(checked(row), link)
        bump(row)
        log(row, actor, "link.changed", link.start.key, _changed(link, led), before, link_document(link))
    return link


def _held(
    row: models.Site, number: int, revision: int, typed: dict[str, Any] | None
) -> tuple[models.Link, dict[str, Any]]:
    """Return a link and how it stands in the document. Raises Stale where it is at another revision."""
    link = lookup.link_row(row, number)
    before = link_document(link)
    if link.revision != revision:
        raise Stale("The link", typed, before, link.revision)
    return link, before


def _changed(link: models.Link, led: str) -> str:
    """Return what a link is now, and where it led before."""
    return f"{says(link)}{'' if where(link) == led else f'; before: {led}'}."


def _can_be_made(document: Site, link: models.Link) -> None:
    """Raise WriteRejected for a link whose ends cannot be tied; one that lacks only a way may be kept as wanted."""
    at = models.Link.objects.filter(site=link.site, position__lt=link.position).count()
    known = link_index(document, {})
    case = known.case(document.links[at])
    gap = known.never(case) if case is not None else None
    if case is None or gap is None or (gap.need in WISHES and case.link.wanted):
        return
    nearest = f" {gap.nearest}." if gap.nearest else ""
    faults = [("to", f"{case.start.label} to {case.to}: {gap.what}.{nearest}")]
    if gap.need in WISHES:
        faults.append(("wanted", "It can be saved as wanted: it takes no number, and nothing is typed for it."))
    raise WriteRejected(faults[0][1], faults)


def _set(row: models.Site, link: models.Link, part: dict[str, Any]) -> None:
    """Set a link row from a link of the document, after reading it the way a site file is read."""
    ends = _ends(row, part)
    _readable(row, part)
    fresh = new_link(row, link.position, part, ends)
    for name in ("start", "end", "outside", "slot", "side", "extra"):
        setattr(link, name, getattr(fresh, name))


def _ends(row: models.Site, part: dict[str, Any]) -> dict[str, models.Device]:
    """Return the devices of a link by key. Raises Rejected for one that the site does not have."""
    found = {
        device.key: device for device in models.Device.objects.filter(site=row, key__in=[part["from"], part["to"]])
    }
    for name in ("from", "to"):
        if part[name] not in found and (name == "from" or part[name] not in OUTSIDE_ENDS):
            raise WriteRejected(f"The site has no device '{part[name]}'.", [(name, "unknown")])
    if part["from"] == part["to"]:
        raise WriteRejected("A device cannot be tied to itself.", [("to", part["to"])])
    return found


def _readable(row: models.Site, part: dict[str, Any]) -> None:
    frame = {"format": "tutelar-site", "version": 1, "site": {"key": row.key, "name": row.name}, "links": [part]}
    try:
        read_site(json.dumps(frame))
    except UnreadableSite as error:
        faults = [(path.removeprefix("links[0]."), reason) for path, reason in error.faults]
        raise WriteRejected(faults[0][1], faults) from None


def _last(row: models.Site) -> int:
    last = models.Link.objects.filter(site=row).order_by("-position").first()
    return last.position + 1 if last else 0


def add_link(key: str, actor: Actor, part: dict[str, Any]) -> models.Link:
    """Add a link as in the document: kind, from, to, and its numbers. Raises Rejected."""
    with transaction.atomic():
        row = site_for_update(key)
        link = models.Link(site=row, position=_last(row), kind=part["kind"])
        _set(row, link, {name: value for name, value in part.items() if value is not None})
        _save_link(link)
        _can_be_made(checked(row), link)
        bump(row)
        log(row, actor, "link.added", link.start.key, f"Link added: {says(link)}.", None, part)
    return link


def remove_link(key: str, number: int, actor: Actor, revision: int) -> dict[str, Any]:
    """Remove a link and return it as in the document, so that it can be added again. Raises Stale."""
    with transaction.atomic():
        row = site_for_update(key)
        link, before = _held(row, number, revision, None)
        start, sentence = link.start.key, f"Link removed: {says(link)}."
        link.delete()
        bump(row)
        log(row, actor, "link.removed", start, sentence, before)
    return before


def _save_link(link: models.Link) -> None:
    try:
        with transaction.atomic():
            link.save()
    except IntegrityError:
        same = models.Link.objects.filter(site=link.site, end=link.end, outside=link.outside, kind=link.kind)
        held = same.filter(slot=link.slot, side=link.side).exclude(pk=link.pk).first()
        who = (held.start.name or held.start.key) if held else "another device"
        if held is not None and held.start_id == link.start_id:
            who = f"another link of {who}"
        word = slot_word(link.kind)
        sentence = f"{word.capitalize()} {link.slot} is taken by {who}; choose a free one."
        raise WriteRejected(sentence, [("slot", sentence)]) from None


# --- several at once -----------------------------------------------------------------------------------------


def proposal(row: models.Site) -> Proposal:
    """Return what could be tied; links that are proven or typed stay where they are."""
    known = queries.links_known(row)
    return propose(known, held(known, proof_queries.readings(row), queries.link_ticks(row)))


def apply_proposal(key: str, actor: Actor, revision: int) -> models.Site:
    """Make the proposed changes, all or nothing. Raises Rejected where there are none, Stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        wanted = proposal(row)
        if not wanted.changes:
            raise WriteRejected(wanted.shortfall[0] if wanted.shortfall else "There is nothing to tie.")
        out = [item.position for item in wanted.changes if item.action == "remove" and item.position is not None]
        parts = [(item.position, _part(item.link)) for item in wanted.changes if item.action != "remove"]
        left = f", {len(out)} taken out for want of room" if out else ""
        sentence = f"{count(len(parts), 'link')} tied as proposed{left}."
        _store(row, actor, parts, "link.proposed", sentence, out)
    return row


def _part(link: Any) -> dict[str, Any]:
    return {name: value for name, value in link.model_dump(mode="json", by_alias=True).items() if value is not None}


def _store(
    row: models.Site,
    actor: Actor,
    parts: Sequence[tuple[int | None, dict[str, Any]]],
    kind: str,
    sentence: str,
    out: Sequence[int] = (),
) -> None:
    """Store links (position in the document or None, the link) in the caller's transaction, with log lines.

    Those at the positions `out` are taken out.
    """
    devices = {device.key: device for device in models.Device.objects.select_related("model").filter(site=row)}
    rows = list(models.Link.objects.select_related("start__model", "end__model").filter(site=row))
    changed = [rows[position] for position, _ in parts if position is not None]
    models.Link.objects.filter(pk__in=[link.pk for link in changed]).update(slot=None)  # they may be exchanged
    last = _last(row)
    events: list[Event] = []
    for leaving in out:
        gone = rows[leaving]
        events.append(("link.removed", gone.start.key, f"Link removed: {says(gone)}.", link_document(gone), None))
        gone.delete()
    for at, (position, part) in enumerate(parts):
        old = rows[position] if position is not None else None
        before, led = (link_document(old), where(old)) if old is not None else (None, "")
        link = old or models.Link(site=row, position=last + at, kind=part["kind"])
        fresh = new_link(row, link.position, {**(before or {}), **part}, devices)
        for name in ("start", "end", "outside", "slot", "side", "extra"):
            setattr(link, name, getattr(fresh, name))
        if old is not None:
            link.revision += 1
        _save_link(link)
        if before is not None:
            events.append(("link.changed", link.start.key, _changed(link, led), before, link_document(link)))
        else:
            events.append(("link.added", link.start.key, f"Link added: {says(link)}.", None, part))
    checked(row)
    bump(row)
    log(row, actor, kind, row.key, sentence)
    log_all(row, actor, events)


def preview_links(row: models.Site, content: bytes) -> tuple[list[str], list[Row]]:
    """Return the headings that nobody knows and what becomes of each row of a table; nothing is stored.

    Raises Rejected for what is no table, and where a column that every link needs is missing.
    """
    rows = rows_of(content)
    fields = match_fields(rows[0])
    missing = [word for word in ("kind", "from", "to") if word not in fields]
    if missing:
        have = ", ".join(f"“{head}”" for head in rows[0] if head) or "none"
        said = f"The first row must name the columns Link, From and To; it names {have}."
        raise WriteRejected(said, [("row 1", said)])
    strange = [head for head, field in zip(rows[0], fields, strict=True) if field is None and head]
    lines = [(number, cells) for number, cells in enumerate(rows[1:], 2)]
    return strange, read_links(documents.document(row), fields, lines)


def import_links(key: str, actor: Actor, revision: int, content: bytes, *, leave_out: bool) -> dict[str, int]:
    """Add and change links as the preview said, all or nothing; return how many of each.

    Raises Rejected where rows are refused and are not to be left out, Stale where the site is another by now.
    """
    with transaction.atomic():
        row = site_at_revision(key, revision)
        _, rows = preview_links(row, content)
        refused = [item for item in rows if item.action == "refuse"]
        if refused and not leave_out:
            faults = [(f"row {item.line}", item.sentence) for item in refused]
            said = count(len(refused), "row cannot be read", "rows cannot be read")
            raise WriteRejected(f"{said}; correct them or leave them out.", faults)
        wanted = [item for item in rows if item.action in ("add", "change") and item.part is not None]
        if not wanted:
            raise WriteRejected("Nothing in this table is new.")
        added = sum(item.action == "add" for item in wanted)
        left = f", {count(len(refused), 'row')} left out" if refused else ""
        sentence = f"Table of links: {added} added, {len(wanted) - added} changed{left}."
        _store(row, actor, [(item.position, dict(item.part or {})) for item in wanted], "link.imported", sentence)
    return {"added": added, "changed": len(wanted) - added, "left_out": len(refused)}


# --- numbers and readings ------------------------------------------------------------------------------------


def apply_numbers(key: str, actor: Actor, revision: int) -> models.Site:
    """Set the planned numbers, all or nothing. Raises Rejected where there are none, Stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        site = documents.document(row)
        planned = [item for item in numbers(queries.links_known(row)) if item.source == "planned"]
        if not planned:
            raise WriteRejected("Every link has its number.")
        parts = [(item.position, _part(site.links[item.position]) | {"slot": item.number}) for item in planned]
        _store(row, actor, parts, "link.numbered", f"{count(len(planned), 'number')} set as planned.")
    return row


def change_numbering(key: str, actor: Actor, revision: int, part: dict[str, Any]) -> models.Site:
    """Change the ring chain's seconds ("monitor_s") and where paging begins ("paging_base"). Raises Rejected, Stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        before = row.policy.get("numbering") or {}
        ring = {name: value for name, value in part.items() if name.endswith("_s")}
        paging = {name.removeprefix("paging_"): value for name, value in part.items() if name.startswith("paging_")}
        after = {
            **before,
            "ring": {**before.get("ring", {}), **ring},
            "paging": {**before.get("paging", {}), **paging},
        }
        row.policy = {**row.policy, "numbering": after}
        row.save()
        checked(row)
        bump(row)
        log(row, actor, "numbering.changed", row.key, "The numbering of the site was changed.", before, after)
    return row


def witness(key: str, number: int, actor: Actor, test: str, result: str, words: str) -> models.Reading:
    """Keep what somebody saw of a link: a test call, a card, a picture. Raises Rejected for a test it does not have,
    and where nothing was said about one that failed."""
    words = " ".join(words.split())[:_MOST_WORDS]
    with transaction.atomic():
        row = site_for_update(key)
        link = lookup.link_row(row, number)
        item = standing_of(row, link)
        wanted = next((found for found in item.case.kind.tests if found.key == test), None)
        if wanted is None:
            have = ", ".join(found.key for found in item.case.kind.tests)
            raise WriteRejected(f"This link has no test '{test}'; it has {have}.", [("test", test)])
        if result == "fail" and not words:
            raise WriteRejected("Say what you saw instead.", [("words", "Nothing is said.")])
        seen = Reading(
            device=link.start.key,
            check=check_name(item.case.link, wanted),
            expected=wanted.expects(item.case),
            measured=words or "seen so",
            result=result,  # type: ignore[arg-type]
            basis=basis(item.case),
        )
        reading = reading_row(row, link.start, seen, timezone.now(), actor.name)
        reading.save()
        if result == "pass":
            keep_witnessed(
                row, witnessed_ends(item.case, test), actor, words or f"seen at the link: {item.case.said()}"
            )
        passed = "seen" if result == "pass" else "failed"
        sentence = f"{item.case.said()}: {wanted.title.lower()} {passed}{f' ({words})' if words else ''}."
        log(row, actor, "link.witnessed", link.start.key, sentence, None, seen.model_dump(exclude_none=True))
    return reading


def standing_of(row: models.Site, link: models.Link) -> LinkStatus:
    """Return how far one link is."""
    at = models.Link.objects.filter(site=row, position__lt=link.position).count()
    return queries.link_standings(row)[at]
