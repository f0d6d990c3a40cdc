"""What was seen: checks with their results, read from a file or asked one by one, and what they are worth."""

from ipaddress import AddressValueError, IPv4Address, IPv4Network
from typing import Annotated, NamedTuple

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from tutelar.core.diagnose.causes import SORTS
from tutelar.core.diagnose.checks import CHECKS, LAPTOP_WORDS, LIE, MISHEARD, UnknownCheck, canonical, words_of
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.outcome import LINK_LOCAL
from tutelar.core.site.reading import UnreadableSite, sentences

_LINK_LOCAL_NET = IPv4Network("169.254.0.0/16")  # RFC 3927
_NEAR_ADDRESS = {  # what else an address may turn out to be, where this is expected
    "set": {"foreign": 0.3, "taken": 0.3, "lent": 0.1},
    "lent": {"set": 0.2, "foreign": 0.1},
    "link-local": {"foreign": 0.3},
    "foreign": {"link-local": 0.3},
}


class Seen(BaseModel):
    """A check at a device and what it showed."""

    model_config = ConfigDict(frozen=True, strict=True, extra="forbid")

    check: str
    at: str
    result: str


class Observations(BaseModel):
    """What was seen, in the order in which it was looked at; weights of faults that replace the usual ones."""

    model_config = ConfigDict(frozen=True, strict=True, extra="forbid")

    observations: tuple[Seen, ...]
    prior: dict[str, Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]] | None = None


class Cell(NamedTuple):
    """A check at a device."""

    check: str
    at: str


def read_observations(text: str | bytes, ground: Ground) -> Observations:
    """Return the observations of a file for a site. Raises UnreadableSite with a sentence a fault: not JSON, unknown
    checks, devices, words or faults."""
    try:
        read = Observations.model_validate_json(text)
    except ValidationError as error:
        raise UnreadableSite(sentences(error.errors(include_url=False))) from None
    wrong = []
    for number, seen in enumerate(read.observations):
        try:
            known(ground, seen)
        except UnknownCheck as error:
            wrong.append((f"observations[{number}]", str(error)))
    for fault in read.prior or {}:
        if fault not in SORTS:
            wrong.append((f"prior.{fault}", f"There is no fault '{fault}'; the faults are {', '.join(SORTS)}."))
    if wrong:
        raise UnreadableSite(wrong)
    return read


def known(ground: Ground, seen: Seen) -> None:
    """Raise UnknownCheck where a check, a device or a word is not known."""
    if seen.check not in CHECKS:
        raise UnknownCheck(f"There is no check '{seen.check}'; the checks are {', '.join(CHECKS)}.")
    if seen.at not in ground.devices:
        raise UnknownCheck(f"The site has no device '{seen.at}'.")
    words = words_of(seen.check)
    if seen.result in words or canonical(seen.check, seen.result) in words:
        return
    if seen.check == "address" and _address(seen.result) is not None:
        return
    more = " or an address" if seen.check == "address" else ""
    raise UnknownCheck(f"'{seen.result}' is no answer to '{seen.check}'; it is {', '.join(words)}{more}.")


def _address(text: str) -> IPv4Address | None:
    try:
        return IPv4Address(text)
    except (AddressValueError, ValueError):
        return None


def sorted_word(ground: Ground, check: str, key: str, result: str) -> str:
    """Return the word by which a result is weighed; an address by what it is to the site: one that is set by hand
    ("set"), lent by the router ("lent"), another device's ("taken"), another network's ("foreign")."""
    if check != "address":
        return canonical(check, result)
    address = _address(result)
    if address is None:
        return result
    if address == ground.ends.of(key).address:
        return "pass"
    if address in _LINK_LOCAL_NET:
        return LINK_LOCAL
    if ground.by_address.get(address, key) != key:
        return "taken"
    network = ground.network(key)
    if network is None or address not in network.cidr:
        return "foreign"
    return "lent" if any(pool.first <= address <= pool.last for pool in network.pools) else "set"


def chance(check: str, predicted: str, observed: str) -> float:
    """Return how likely a check shows `observed` where `predicted` is what is so, both as weighed words."""
    if predicted == observed:
        return 1 - LIE - (MISHEARD if check in LAPTOP_WORDS and observed != "pass" else 0)
    if check == "address":
        if observed == "fail":
            return 0.9 if predicted not in ("pass", "silent") else LIE / 4
        return _NEAR_ADDRESS.get(predicted, {}).get(observed, LIE / 4)
    if check in LAPTOP_WORDS and "pass" not in (predicted, observed):
        return MISHEARD
    return LIE if check not in LAPTOP_WORDS else LIE / 2
