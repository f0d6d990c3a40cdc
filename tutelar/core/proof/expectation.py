"""What must be measured or witnessed of each device: by its family, its services, its links and the plan."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.doors import door_tests
from tutelar.core.proof.check import Check, Marks, Subject
from tutelar.core.proof.registry import CHECKS, FIRST, check_of
from tutelar.core.proof.saying import said
from tutelar.core.site.types import Device, Site


@dataclass(frozen=True, slots=True)
class Expectation:
    """One check of one device: `values` is what is expected, `basis` that and all it hangs on besides."""

    device: str
    check: str
    values: Mapping[str, str]
    basis: Mapping[str, str]
    witnessed: bool
    site: Site = field(repr=False, compare=False)

    @property
    def expected(self) -> str:
        """The expectation in words a person would read aloud, with names as they are today."""
        return said(self.site, check_of(self.check).says, {"device": self.device, **self.values})


def subject_of(
    site: Site,
    device: Device,
    assignment: Assignment | None,
    addresses: Mapping[str, str] | None = None,
    marks: Marks | None = None,
) -> Subject:
    """Return a device as checks look at it."""
    at = {device.key: assignment.address} if assignment is not None else {}
    services = site.services_of(device)
    return Subject(site, device, assignment, services, site.family_of(device), addresses or at, marks or {})


def expectations(site: Site, device: Device, assignment: Assignment | None) -> list[Expectation]:
    """Return what must be measured of a device, in the order of the checks; [] where it has no services."""
    return _expected(subject_of(site, device, assignment))


def _expected(of: Subject, *, witnessed: bool = False) -> list[Expectation]:
    left_out = set(of.site.policy.proof.left_out) - FIRST
    unit = of.device.unit
    found = []
    for check in _asked(of):
        if (check.witnessed and not witnessed) or (check.key in left_out and not check.never_open):
            continue
        if not check.witnessed and not of.services:
            continue
        values = check.wants(of)
        if values is None:
            continue
        basis = {key: value for key, value in {**check.hangs(of), **values}.items() if value}
        if unit:
            basis["hardware"] = unit
        found.append(Expectation(of.device.key, check.key, values, basis, check.witnessed, of.site))
    return found


def _asked(of: Subject) -> Iterable[Check]:
    strange = [name for name in of.services if name not in _KNOWN]
    strange += door_tests(of.site).get(of.device.key, ())
    if not strange:
        return CHECKS
    return sorted([*CHECKS, *map(check_of, strange)], key=lambda check: check.rank)


_KNOWN = frozenset(check.key for check in CHECKS)


def all_expectations(
    site: Site, assignments: Iterable[Assignment], marks: Marks | None = None, *, witnessed: bool = False
) -> dict[str, list[Expectation]]:
    """Return the expectations of every device of the site by its key, in the order of the file: what is measured,
    and what is `witnessed` if asked for. `marks`: what kept secrets are known by."""
    by_device = {item.device: item for item in assignments}
    addresses = {key: item.address for key, item in by_device.items()}
    return {
        device.key: _expected(
            subject_of(site, device, by_device.get(device.key), addresses, marks or {}), witnessed=witnessed
        )
        for device in site.devices
    }
