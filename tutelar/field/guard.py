"""Where Tutelar may send at all: loopback, unless live work was switched on for named networks."""

from collections.abc import Iterable
from dataclasses import dataclass
from ipaddress import AddressValueError, IPv4Address, IPv4Network

LOOPBACK = IPv4Network("127.0.0.0/8")
SEARCHED = IPv4Address("239.255.255.250")  # the group of WS-Discovery


class Forbidden(PermissionError):
    """An address that must not be talked to; the sentence says why."""


_LINK_LOCAL = IPv4Network("169.254.0.0/16")
_PRIVATE = tuple(map(IPv4Network, ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "100.64.0.0/10")))
WIDEST = 16  # the shortest prefix of a network that somebody may answer for


def unfit(network: IPv4Network) -> str | None:
    """Return why nobody answers for testing a network, None where somebody may: it has to lie within the private ranges
    (RFC 1918, RFC 6598) or the link-local one, and be no larger than a /16. The internet is nobody's site."""
    if not any(network.subnet_of(whole) for whole in (*_PRIVATE, _LINK_LOCAL, LOOPBACK)):
        return f"{network} is no private network: a part of the internet is measured for nobody."
    if network.prefixlen < WIDEST:
        return f"{network} is larger than a /{WIDEST}: name the networks of the site itself."
    return None


@dataclass(frozen=True)
class Guard:
    """Lets through 127.0.0.0/8 only, and with live work the site's declared networks as well."""

    live: bool = False
    networks: tuple[IPv4Network, ...] = ()

    @classmethod
    def for_live_work(cls, networks: Iterable[IPv4Network], *, switched_on: bool, authorised: bool) -> "Guard":
        """Return a guard for real networks. Raises Refused unless live work was switched on at the start and
        somebody confirmed authority over these networks."""
        if not switched_on:
            raise Forbidden("Live work was not switched on at the start; only the stand-in on 127.0.0.0/8 is measured.")
        if not authorised:
            raise Forbidden("Nobody confirmed authority over this network; only networks you may test are measured.")
        declared = tuple(networks)
        for network in declared:
            if (why := unfit(network)) is not None:
                raise Forbidden(why)
        return cls(live=True, networks=declared)

    def check(self, address: str) -> None:
        """Return nothing for an address that may be talked to; raise Refused for every other one."""
        try:
            number = IPv4Address(address)
        except AddressValueError:
            raise Forbidden(f"'{address}' is not an IPv4 address; nothing is sent there.") from None
        if number in LOOPBACK:
            return
        if not self.live:
            raise Forbidden(f"{address} lies outside 127.0.0.0/8; live work is off, so nothing is sent there.")
        if number == SEARCHED:
            return  # a search does not leave the laptop's own network
        if not any(number in network for network in self.networks):
            raise Forbidden(f"{address} lies outside the networks declared for this site; nothing is sent there.")
