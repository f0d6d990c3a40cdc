"""Writing cases: a complaint or a drill, what was seen, what it was, that it was mended and measured again."""

from random import SystemRandom
from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.diagnose import Cause, Seen, UnknownCheck, Wrong, shown
from tutelar.core.diagnose.bank import BANK, placed
from tutelar.core.diagnose.causes import LAPTOP, SORTS
from tutelar.core.diagnose.checks import words_of
from tutelar.core.diagnose.drill import Level, complaint, hide, put_right, score
from tutelar.core.diagnose.observations import known
from tutelar.core.diagnose.telling import SHORT, answered, meaning, titled
from tutelar.core.wording import sentence
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.faults import queries
from tutelar.server.faults.measuring import measured
from tutelar.server.store import lookup
from tutelar.server.store.writes import WriteRejected, log, site_for_update

Told = tuple[str, str, str | None]  # a check, its device, and what it showed; None: the server looks
_OPEN, _FOUND, _MENDED, _CLOSED = "open", "found", "mended", "closed"


def open_case(
    key: str, actor: Actor, wanted: list[Told], level: Level | None, written: str | None = None
) -> models.Case:
    """Open a case for a complaint, or a drill with hidden faults. Raises WriteRejected where nothing is complained of,
    the words are not known, or a drill is asked for on a site that is no practice site."""
    row = lookup.site_row(key)
    if level is not None or written is not None:
        return _open_drill(row, actor, level, written)
    if not wanted:
        raise WriteRejected("Say what is not as it should be: a device, and what it does not do.", [("seen", "empty")])
    rows = [_looked(row, None, actor, item) for item in wanted]
    with transaction.atomic():
        row = site_for_update(key)
        case = _new(row, actor, rows)
        title = titled(queries.diagnoser_of(row).ground, queries.seen_in(row, case))
        log(row, actor, "case.opened", str(rows[0]["at"]), f"Case {case.number} opened: {title}.", None, {"seen": rows})
    return case


def _new(row: models.Site, actor: Actor, rows: list[dict[str, Any]], **more: Any) -> models.Case:
    last = models.Case.objects.filter(site=row).order_by("-number").values_list("number", flat=True).first()
    return models.Case.objects.create(
        site=row, number=(last or 0) + 1, seen=rows, complaint=len(rows), opened_by=actor.name, **more
    )


def _open_drill(row: models.Site, actor: Actor, level: Level | None, written: str | None) -> models.Case:
    ground = queries.diagnoser_of(row).ground
    if not ground.site.about.practice:
        raise WriteRejected("Drills are made on a practice site; copy this site as one first.", [("drill", "practice")])
    dice = SystemRandom()
    if written is None:
        causes = hide(ground, dice, level or "easy")
        wrong = Wrong(ground, causes)
        said = [complaint(ground, wrong, cause, dice) for cause in causes]
    elif written in BANK:
        found = placed(ground, dice, written)
        causes, said = ([found[0]], [found[1]]) if found is not None else ([], [])
    else:
        raise WriteRejected(f"There is no written case '{written}'.", [("written", written)])
    if not causes:
        raise WriteRejected("Nothing on this site would show such a fault yet; add devices with a network first.")
    seen = list({(item.check, item.at): item for item in said if item is not None}.values())
    rows = [_row(actor, item, LAPTOP) for item in seen]
    more = {"drill": level or "written", "written": written or "", "hidden": [_fault(cause) for cause in causes]}
    with transaction.atomic():
        row = site_for_update(row.key)
        case = _new(row, actor, rows, **more)
        log(row, actor, "drill.started", row.key, f"Drill {case.number} started ({level or 'written'}).", None, None)
    return case


def _fault(cause: Cause) -> dict[str, str]:
    """Return a cause as a case keeps it."""
    return {"kind": cause.fault, "at": cause.at}


def _row(actor: Actor, seen: Seen, how: str) -> dict[str, Any]:
    when = timezone.now().isoformat(timespec="seconds")
    return {**seen.model_dump(), "by": actor.name, "when": when, "how": how}


def _looked(row: models.Site, case: models.Case | None, actor: Actor, item: Told) -> dict[str, Any]:
    """Return what was seen as it is kept: as somebody says, or as the server sees it. Raises WriteRejected."""
    ground = queries.diagnoser_of(row).ground
    (check, at, result), how = item, "hand"
    try:
        known(ground, Seen(check=check, at=at, result=result or _any_word(check)))
    except UnknownCheck as error:
        raise WriteRejected(sentence(error), [("seen", sentence(error))]) from None
    if case is not None and case.drill:
        result, how = shown(ground, queries.played(row, case), check, at), LAPTOP
    elif result is None:
        result, how = measured(row, check, at), LAPTOP
    return _row(actor, Seen(check=check, at=at, result=result), how)


def _any_word(check: str) -> str:
    return next(iter(words_of(check)), "")


def answer(key: str, number: int, actor: Actor, item: Told) -> models.Case:
    """Write down what a check showed; the server looks itself where nothing is said, and always in a drill. Raises
    WriteRejected where the case is closed or the words are not known."""
    row = lookup.site_row(key)
    case = queries.case_of(row, number)
    if case.state == _CLOSED or (case.drill and case.state != _OPEN):
        raise WriteRejected("This case is closed; open a new one.", status=409)
    told = _looked(row, case, actor, item)
    with transaction.atomic():
        row = site_for_update(key)
        case = queries.case_of(row, number)
        case.seen = [*case.seen, told]
        diagnoser = queries.diagnoser_of(row)
        if not case.drill:
            told["means"] = meaning(diagnoser.ground, diagnoser.verdict(queries.seen_in(row, case)))
        case.save(update_fields=["seen"])
        if not case.drill:
            seen = Seen(check=told["check"], at=told["at"], result=told["result"])
            said = f"Case {number}: {SHORT[seen.check].lower()}: {answered(seen).lower()}. {told['means']}"
            log(row, actor, "case.seen", seen.at, said, None, told)
    return case


def take_back(key: str, number: int, actor: Actor) -> models.Case:
    """Take back the last thing that was written down, never the complaint. Raises WriteRejected."""
    with transaction.atomic():
        row = site_for_update(key)
        case = queries.case_of(row, number)
        if case.drill:
            raise WriteRejected("In a drill nothing is taken back: its minutes are spent.", status=409)
        if case.state == _CLOSED or len(case.seen) <= case.complaint:
            raise WriteRejected("There is nothing to take back but the complaint itself.", status=409)
        last = case.seen[-1]
        case.seen = case.seen[:-1]
        case.save(update_fields=["seen"])
        said = f"Case {number}: {SHORT[last['check']].lower()} taken back."
        log(row, actor, "case.taken-back", last["at"], said, last, None)
    return case


def conclude(key: str, number: int, actor: Actor, faults: list[tuple[str, str]], note: str) -> models.Case:
    """Write down what it was. Raises WriteRejected where a fault or its place is not known, or nothing is said."""
    with transaction.atomic():
        row = site_for_update(key)
        case = queries.case_of(row, number)
        if case.state not in (_OPEN, _FOUND):
            raise WriteRejected("The cause of this case is settled already.", status=409)
        ground = queries.diagnoser_of(row).ground
        for fault, at in faults:
            if fault not in SORTS:
                raise WriteRejected(f"'{fault}' is no fault that is known.", [("faults", fault)])
            if at not in ground.places(SORTS[fault].scope):
                raise WriteRejected(f"'{fault}' cannot be at '{at}' on this site.", [("faults", at)])
        if not faults and not note.strip():
            raise WriteRejected("Say what it was, or why it is none of the known causes.", [("note", "empty")])
        case.cause = [list(item) for item in faults]
        case.note, case.state = note.strip(), _FOUND
        if case.drill and not faults:  # given up
            case.state, case.closed_at = _CLOSED, timezone.now()
            case.score = _scored(row, case, right=False)
        case.save()
        said = "; ".join(Cause(*item).said(ground.names) for item in faults) or "none of the known causes"
        kind, word = ("drill.named", "Drill") if case.drill else ("case.found", "Case")
        more = f": {note.strip()}" if note.strip() else ""
        subject = faults[0][1] if faults else row.key
        log(row, actor, kind, subject, f"{word} {number}, cause: {said}{more}.", None, {"cause": case.cause})
    return case


def _scored(row: models.Site, case: models.Case, *, right: bool) -> dict[str, Any]:
    causes = queries.hidden_in(case)
    named = {cause.name for cause in causes} if right else set()
    seen = queries.seen_in(row, case, again=False)
    found = score(queries.diagnoser_of(row), causes, seen, case.complaint, named)
    return {"right": found.right, "minutes": found.minutes, "best": found.best, "usual": found.usual}


def _put_right(row: models.Site, case: models.Case) -> None:
    """Take out of a drill what was named; what was named and was not there is kept as a wrong try."""
    named = {(item[0], item[1]) for item in case.cause or ()}
    gone = put_right(queries.diagnoser_of(row).ground, named, queries.hidden_in(case, left=True))
    names = {cause.name for cause in gone}
    case.hidden = [
        {**item, "mended": True} if (item["kind"], item["at"]) in names else item for item in case.hidden or ()
    ]
    if not gone or (len(named) > len(gone)):
        case.score = {"wrong": (case.score or {}).get("wrong", 0) + 1}


def mended(key: str, number: int, actor: Actor, note: str) -> models.Case:
    """Write down that the cause was put right. Raises WriteRejected before a cause was named."""
    with transaction.atomic():
        row = site_for_update(key)
        case = queries.case_of(row, number)
        if case.state != _FOUND:
            raise WriteRejected("First the cause is named, then it is put right.", status=409)
        case.state = _MENDED
        case.note = "; ".join(filter(None, (case.note, note.strip())))
        if case.drill:
            _put_right(row, case)
        case.save()
        more = f": {note.strip()}" if note.strip() else ""
        word = "Drill" if case.drill else "Case"
        log(row, actor, "case.mended", _subject(row, case), f"{word} {number} put right{more}.")
    return case


def measured_again(key: str, number: int, actor: Actor, item: Told) -> models.Case:
    """Look at what was complained of once more; the case is closed when all of it is as it should be. Raises
    WriteRejected where it was not put right yet, or this was not the complaint."""
    row = lookup.site_row(key)
    case = queries.case_of(row, number)
    if case.state != _MENDED:
        raise WriteRejected("It is measured again once it was put right.", status=409)
    complained = {(one["check"], one["at"]) for one in case.seen[: case.complaint]}
    if item[:2] not in complained:
        raise WriteRejected("What was complained of is measured again.", [("check", item[0])])
    told = {**_looked(row, case, actor, item), "again": True}
    diagnoser = queries.diagnoser_of(row)
    strange = diagnoser.is_strange(Seen(check=told["check"], at=told["at"], result=told["result"]))
    with transaction.atomic():
        row = site_for_update(key)
        case = queries.case_of(row, number)
        case.seen = [
            *case.seen,
            {**told, "means": "Still not as it should be." if strange else "As it should be again."},
        ]
        good = {
            (one["check"], one["at"])
            for one in case.seen
            if one.get("again")
            and not diagnoser.is_strange(Seen(check=one["check"], at=one["at"], result=one["result"]))
        }
        if strange:
            case.state = _OPEN
        elif complained <= good:
            case.state, case.closed_at = _CLOSED, timezone.now()
            if case.drill:
                case.score = _scored(row, case, right="wrong" not in (case.score or {}))
        case.save()
        said = "still not as it should be; looked for again" if strange else "as it should be"
        ends = " The case is closed." if case.state == _CLOSED else ""
        short = SHORT[told["check"]].lower()
        log(row, actor, "case.again", told["at"], f"Case {number} measured again: {short}: {said}.{ends}", None, told)
    return case


def _subject(row: models.Site, case: models.Case) -> str:
    return str(case.seen[0]["at"]) if case.seen else row.key
