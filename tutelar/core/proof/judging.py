"""Judging: each check by what was seen, of the device itself and of those it is linked to.

A check that could not be made because something else is wrong is skipped and says so; what is wrong is failed once,
where it is.
"""

from collections.abc import Iterable, Mapping

from tutelar.core.proof.check import NOT_ASKED, Check, Ending, Others, Outcome, Sight
from tutelar.core.proof.expectation import Expectation
from tutelar.core.proof.identity import stranger
from tutelar.core.proof.registry import check_of
from tutelar.core.proof.saying import said
from tutelar.core.proof.seen import Observation
from tutelar.core.site.types import Device, Reading, Site


def judge(
    site: Site,
    device: Device,
    wanted: Iterable[Expectation],
    seen: Observation | None,
    others: Others | None = None,
) -> list[Reading]:
    """Return one reading for each expectation. `seen` None = there was no address to ask at; `others` = what was
    seen of every device so far, for what a recorder tells of its cameras."""
    return [_reading(site, device, item, seen, others or {}) for item in wanted]


def _reading(site: Site, device: Device, item: Expectation, seen: Observation | None, others: Others) -> Reading:
    outcome = Outcome("no-address")
    if seen is not None:
        outcome = _outcome(check_of(item.check), Sight(site, device, item.values, seen, others))
    offset = outcome.values.get("offset_s")
    return Reading(
        device=item.device,
        check=item.check,
        expected=item.expected,
        measured=measured_words(site, item.device, item.check, outcome.code, outcome.values),
        result=ending_of(item.check, outcome.code).result,
        took_ms=outcome.took_ms if outcome.took_ms is None else round(outcome.took_ms, 1),
        offset_s=float(offset) if offset is not None else None,
        basis=dict(item.basis),
        code=outcome.code,
        values=dict(outcome.values) or None,
    )


def _outcome(check: Check, at: Sight) -> Outcome:
    answered = any(port.open for port in at.seen.ports.values())
    if check.key != "answers" and check.probe != "its recorders":
        if not answered:
            return Outcome("silent-device")
        if check.itself and (other := stranger(at.device, at.seen)) is not None:
            return Outcome("stranger", {"who": other})
    return check.judge(at)


def ending_of(check: str, code: str) -> Ending:
    """Return the result and the sentence of an outcome. Raises KeyError for a code that neither the check has nor all
    of them."""
    return check_of(check).endings.get(code) or NOT_ASKED[code]


def expected_of(site: Site, reading: Reading) -> str | None:
    """Return what a reading was judged by in words: as they were kept, else made of its values today."""
    if reading.code is None or reading.expected is not None:
        return reading.expected
    values = {"device": reading.device, "at": "", "number": "", **(reading.basis or {})}
    try:
        return values.get("former") or said(site, check_of(reading.check).says, values)
    except KeyError:
        return None


def measured_of(site: Site, reading: Reading) -> str | None:
    """Return what a reading measured in words: as they were kept, else made of its code and values today."""
    if reading.code is None or reading.measured is not None:
        return reading.measured
    try:
        return measured_words(site, reading.device, reading.check, reading.code, reading.values or {})
    except KeyError:  # its check is no longer there, or calls that otherwise
        return reading.code.replace("-", " ")


def measured_words(site: Site, device: str, check: str, code: str, values: Mapping[str, str | float]) -> str:
    """Return what was measured in words, with names as they are today."""
    return said(site, ending_of(check, code).says, {"device": device, **values})
