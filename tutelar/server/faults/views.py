"""A case as it is shown: causes in words, the next check and what each answer would mean, the way, the score."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from tutelar.core.diagnose import CHECKS, Cause, Diagnoser, Diagnosis, Ground, Seen
from tutelar.core.diagnose.bank import BANK
from tutelar.core.diagnose.causes import LAPTOP, SORTS
from tutelar.core.diagnose.drill import Score, left_said, score
from tutelar.core.diagnose.telling import (
    ANSWERS,
    SHORT,
    answered,
    asked,
    chances,
    for_the_supplier,
    meaning,
    said,
    stop_of,
    titled,
    way_to,
)
from tutelar.core.diagnose.verdict import Likely
from tutelar.core.reach import UnknownEnd, reach
from tutelar.core.reach.ends import OUTSIDE
from tutelar.core.reach.walk import Protocol
from tutelar.server import models
from tutelar.server.faults import queries
from tutelar.server.faults import schemas as shapes
from tutelar.server.faults.measuring import READ_BY, can_measure, measurable
from tutelar.server.schemas import Option
from tutelar.server.store.writes import WriteRejected

_CAUSES = 6  # that are shown; the rest is said in one line
_COMPLAINTS = ("answers", "linked", "relay", "page", "login", "stream", "clock")


def faults_sheet(row: models.Site) -> shapes.FaultsSheet:
    """Return the cases of a site, open ones first."""
    diagnoser = queries.diagnoser_of(row)
    measures = can_measure(row)
    cases = sorted(models.Case.objects.filter(site=row), key=lambda case: (case.state == "closed", -case.number))
    devices = diagnoser.ground.site.walking_order(list(diagnoser.ground.site.devices))
    return shapes.FaultsSheet(
        cases=[_case_row(diagnoser, row, case) for case in cases],
        devices=[Option(value=item.key, word=item.label) for item in devices if item.key not in _wired(diagnoser)],
        ends=_ends(diagnoser.ground),
        complaints=[_check(diagnoser, check, "", measures) for check in _COMPLAINTS],
        practice=diagnoser.ground.site.about.practice,
        can_measure=measures,
        written=[Option(value=key, word=case.title) for key, case in BANK.items()],
        people=_people(cases),
    )


def _people(cases: Sequence[models.Case]) -> list[shapes.DrillsOf]:
    """Return the drills of each person that are over."""
    by: dict[str, list[dict[str, Any]]] = {}
    for case in cases:
        if case.score is not None and "right" in case.score:
            by.setdefault(case.opened_by, []).append(case.score)
    return [
        shapes.DrillsOf(
            name=name,
            drills=len(scores),
            right=sum(1 for one in scores if one["right"]),
            minutes=sum(one["minutes"] for one in scores),
            best=sum(one["best"] for one in scores),
            usual=sum(one["usual"] for one in scores),
        )
        for name, scores in sorted(by.items())
    ]


def _ends(ground: Ground) -> list[Option]:
    """Return the ends of ways that are no devices: a laptop in each network, and the internet."""
    laptops = [Option(value=f"{LAPTOP}@{item.key}", word=f"Laptop in {item.label}") for item in ground.site.networks]
    return [*laptops, Option(value=OUTSIDE, word="The internet")]


def _wired(diagnoser: Diagnoser) -> frozenset[str]:
    return diagnoser.ground.site.wired


def _case_row(diagnoser: Diagnoser, row: models.Site, case: models.Case) -> shapes.CaseRow:
    return shapes.CaseRow(
        number=case.number,
        title=titled(diagnoser.ground, queries.seen_in(row, case)[: case.complaint]),
        state=case.state,
        drill=case.drill,
        opened_at=case.opened_at,
        opened_by=case.opened_by,
        minutes=_minutes(case),
        says="" if case.cause is None else _concluded(diagnoser, case),
        right=case.score.get("right") if case.score is not None else None,
    )


def _minutes(case: models.Case) -> float:
    return sum(CHECKS[item["check"]].minutes for item in case.seen[case.complaint :] if not item.get("again"))


def _concluded(diagnoser: Diagnoser, case: models.Case) -> str:
    rows = _fault_rows(diagnoser, [(item[0], item[1]) for item in case.cause or ()])
    return "; ".join(item.says for item in rows) or "None of the known causes"


def _fault_rows(diagnoser: Diagnoser, names: Sequence[tuple[str, str]]) -> list[shapes.NamedFault]:
    spoken = diagnoser.ground.names
    return [shapes.NamedFault(fault=fault, at=at, says=Cause(fault, at).said(spoken)) for fault, at in names]


def case_sheet(row: models.Site, case: models.Case) -> shapes.CaseSheet:
    """Return a case in full."""
    diagnoser = queries.diagnoser_of(row)
    seen = queries.seen_in(row, case)
    found = diagnoser.verdict(seen)
    hides = bool(case.drill) and case.state != "closed"
    measures = can_measure(row) or bool(case.drill)
    written = BANK.get(case.written)
    focus = list(found.focus)[:12]
    way = way_to(diagnoser.ground, focus[0], seen) if focus and seen else []
    following = None if found.next is None or hides else (found.next.check, found.next.where)
    by_server = measurable(row, following[1]) if following is not None else frozenset()
    return shapes.CaseSheet(
        number=case.number,
        title=written.title if written is not None else titled(diagnoser.ground, seen[: case.complaint]),
        state=case.state,
        drill=case.drill,
        opened_at=case.opened_at,
        opened_by=case.opened_by,
        minutes=_minutes(case),
        can_measure=measures,
        seen=[_seen_row(diagnoser, item) for item in case.seen if item["at"] in diagnoser.ground.devices],
        complaint=case.complaint,
        causes=[] if hides else [_cause(diagnoser, found, cause) for cause in found.causes[:_CAUSES]],
        fits=found.fits,
        next=None if following is None else _check(diagnoser, *following, following[0] in by_server, seen),
        checks=[_check(diagnoser, check, "", measures) for check in CHECKS],
        places=_places(diagnoser, found),
        faults=[
            shapes.FaultChoice(value=key, word=sort.says.replace("{at}", "…"), scope=sort.scope)
            for key, sort in SORTS.items()
        ],
        fault_places=_fault_places(diagnoser),
        way=[_place(diagnoser, item) for item in way],
        stops=stop_of(way),
        hides=hides,
        cause=None if case.cause is None else _fault_rows(diagnoser, [(item[0], item[1]) for item in case.cause]),
        note=case.note,
        capture=for_the_supplier(diagnoser.ground, seen, focus),
        story=written.story if written is not None else "",
        teaches=written.teaches if written is not None and not hides else "",
        caution=written.caution if written is not None else "",
        score=_score(row, case, diagnoser) if case.drill and case.state == "closed" else None,
    )


def _places(diagnoser: Diagnoser, found: Diagnosis) -> list[Option]:
    """Return where checks may be made, those in question first."""
    ground = diagnoser.ground
    near = dict.fromkeys(key for focus in found.focus[:12] for key in ground.chain(focus))
    rest = (item.key for item in ground.site.walking_order(list(ground.site.devices)))
    keys = dict.fromkeys(key for key in (*near, *rest) if key not in ground.site.wired)
    return [Option(value=key, word=ground.names[key]) for key in keys]


def _fault_places(diagnoser: Diagnoser) -> dict[str, list[Option]]:
    """Return where faults may be that are not at any device."""
    ground = diagnoser.ground
    scopes = dict.fromkeys(sort.scope for sort in SORTS.values() if sort.scope != "device")
    return {
        scope: [Option(value=key, word=ground.names.get(key, key)) for key in ground.places(scope)] for scope in scopes
    }


def _place(diagnoser: Diagnoser, place: Any) -> shapes.WayPlace:
    there = place.key in diagnoser.ground.devices
    address = diagnoser.ground.ends.of(place.key).address if there else None
    return shapes.WayPlace(
        key=place.key,
        name=place.name,
        address=str(address) if address is not None else None,
        state=place.state,
        port=place.port,
        cable_m=place.cable_m,
    )


def _seen_row(diagnoser: Diagnoser, item: dict[str, Any]) -> shapes.CaseSeen:
    seen = Seen(check=item["check"], at=item["at"], result=item["result"])
    return shapes.CaseSeen(
        check=seen.check,
        at=seen.at,
        name=diagnoser.ground.names[seen.at],
        short=SHORT[seen.check],
        answer=answered(seen),
        result=seen.result,
        strange=diagnoser.is_strange(seen),
        by=item["by"],
        when=datetime.fromisoformat(item["when"]),
        by_server=item["how"] == LAPTOP,
        minutes=CHECKS[seen.check].minutes,
        means=item.get("means", ""),
    )


def _cause(diagnoser: Diagnoser, found: Diagnosis, cause: Likely) -> shapes.CauseRow:
    ground = diagnoser.ground
    singles = {
        "; ".join(said(ground, one))
        for one in cause.alike
        if len(one) <= max(1, len(cause.faults)) and not any(ground.is_switch_as_device(item) for item in one)
    }
    says = "; ".join(said(ground, cause.faults))
    return shapes.CauseRow(
        faults=_fault_rows(diagnoser, [item.name for item in cause.faults]),
        says=says,
        likelihood=cause.likelihood,
        chances=chances(cause.likelihood),
        alike=sorted(singles - {says})[:4],
        explains=[_said(diagnoser, found.seen[number]) for number in cause.explains],
        against=[_said(diagnoser, found.seen[number]) for number in cause.contradicts],
    )


def _said(diagnoser: Diagnoser, seen: Seen) -> str:
    name = diagnoser.ground.names.get(seen.at, seen.at)
    return f"{name}, {SHORT[seen.check].lower()}: {answered(seen).lower()}"


def _check(
    diagnoser: Diagnoser, check: str, at: str, measures: bool, seen: Sequence[Seen] | None = None
) -> shapes.CaseCheck:
    kind = CHECKS[check]
    name = diagnoser.ground.names.get(at, "it")
    device = diagnoser.ground.devices.get(at)
    answers = [
        shapes.CheckAnswer(
            result=result, word=word, means=None if seen is None else _means(diagnoser, seen, check, at, result)
        )
        for result, word in ANSWERS[check].items()
    ]
    return shapes.CaseCheck(
        check=check,
        at=at,
        short=SHORT[check],
        asks=asked(diagnoser.ground, check, at) if at else kind.asks.replace("{at}", "it"),
        where=kind.where.replace("{at}", name),
        place=device.place if device is not None and not kind.by_laptop else None,
        minutes=kind.minutes,
        caution=kind.caution,
        by_server=measures and check in READ_BY,
        answers=answers,
        takes_address=check == "address",
    )


def _means(diagnoser: Diagnoser, seen: Sequence[Seen], check: str, at: str, result: str) -> str:
    """Return what an answer would make of the causes."""
    return meaning(diagnoser.ground, diagnoser.verdict([*seen, Seen(check=check, at=at, result=result)]))


def _score(row: models.Site, case: models.Case, diagnoser: Diagnoser) -> shapes.DrillScore:
    causes = queries.hidden_in(case)
    found: Score = score(diagnoser, causes, queries.seen_in(row, case, again=False), case.complaint, set())
    names = diagnoser.ground.names
    return shapes.DrillScore(
        right=bool((case.score or {}).get("right")),
        truth=[cause.said(names) for cause in causes],
        minutes=found.minutes,
        best=found.best,
        usual=found.usual,
        left=left_said(names, found.left) if found.left is not None else None,
        best_way=[f"{SHORT[cell.check]}, {names[cell.at]}" for cell in found.best_way],
    )


def reach_row(row: models.Site, start: str, goal: str, port: int, protocol: Protocol) -> shapes.ReachRow:
    """Return whether one end reaches another. Raises WriteRejected where the site has no such end."""
    ground = queries.diagnoser_of(row).ground
    try:
        found = reach(ground.ends, start, goal, port, protocol)
    except UnknownEnd as error:
        raise WriteRejected(f"{error}.", [("start" if start in str(error) else "goal", str(error))]) from None
    stop = found.reason
    names = ground.names | {item.value: item.word for item in _ends(ground)}
    said = f"{names.get(goal, goal)} is reached on {protocol} {port}." if stop is None else stop.message
    what, _, mend = said.removesuffix(".").rpartition(". ") if stop is not None else ("", "", "")
    return shapes.ReachRow(
        reaches=found.reaches,
        said=f"{what}." if what else said,
        path=[shapes.HopRow(at=hop.at, name=names.get(hop.at, hop.at), why=hop.why) for hop in found.path],
        code=stop.code if stop is not None else None,
        stops_at=names.get(stop.at, stop.at) if stop is not None else None,
        mend=f"{mend}." if what else None,
    )
