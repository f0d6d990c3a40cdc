"""What a proposal never does, on sites that nobody thought of, and what it ties besides cameras."""

from typing import Any
from unittest import TestCase

from hypothesis import given

from tests.link_sites import most, over, proven, recorded_sites
from tests.samples import device, document, read
from tutelar.core.check import check
from tutelar.core.links.propose import Proposal, applied, held, propose
from tutelar.core.links.readiness import link_statuses
from tutelar.core.links.registry import link_index
from tutelar.core.links.wishes import untied
from tutelar.core.planning import plan
from tutelar.core.proof import latest
from tutelar.core.site import Site
from tutelar.core.site.writing import as_document


def proposed(site: Site) -> tuple[Proposal, Site]:
    known = link_index(site, plan(site).addresses())
    found = propose(known, held(known, latest(site.readings, site), {}))
    return found, applied(site, found.changes)


def links_of(site: Site) -> list[dict[str, Any]]:
    return list(as_document(site).get("links", []))


class Recording(TestCase):
    @given(recorded_sites())
    def test_proven_links_stay_no_recorder_is_overfilled_and_no_more_could_be_tied(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        found, after = proposed(site)
        links, fixed = links_of(after), proven(raw)
        for link in fixed:
            self.assertIn(link, links)
        self.assertLessEqual(set(over(raw, links)), set(over(raw, fixed)))
        tied = {link["from"] for link in links if link["to"] == self.home(raw, link)}
        cameras = {item["key"] for item in raw["devices"] if item["model"].startswith("eye")}
        if found.changes or not over(raw, links_of(site)):
            self.assertEqual(len(tied), most(raw))
        self.assertEqual(cameras - tied, set(untied(after)))
        self.assertLessEqual(set(untied(after)), {*found.left})
        self.assertTrue(found.shortfall or not (found.left or over(raw, links)))
        slots = [(link["to"], link["slot"]) for link in links if link.get("slot") is not None]
        self.assertEqual(len(slots), len(set(slots)))
        self.assertEqual(proposed(after)[0].changes, ())

    def home(self, raw: dict[str, Any], link: dict[str, Any]) -> str:
        """Return where a link can lead: a camera on a recorder's own port is reached by that recorder alone."""
        row = next(item for item in raw["devices"] if item["key"] == link["from"])
        return str(row.get("behind") or link["to"])


class Doors(TestCase):
    def site(self, families: str, links: list[dict[str, Any]] | None = None, **numbering: int) -> dict[str, Any]:
        """Return a site with a device for each letter: s station, m monitor, p panel, r reader, b doorbell."""
        words = {"s": "door-station", "m": "indoor-monitor", "p": "panel", "r": "reader", "b": "doorbell"}
        raw = document([device(at, words[letter]) for at, letter in enumerate(families, 1)], links=links or [])
        raw["models"] = [
            {"key": word, "family": word, "services": {} if word == "reader" else {"web": 80}, "numbering": numbering}
            | ({"capacity": {"doors": 2}} if word in ("panel", "door-station") else {})
            for word in words.values()
        ]
        return raw

    def ties(self, raw: dict[str, Any]) -> tuple[set[tuple[str, str, str]], Proposal]:
        found, after = proposed(read(raw))
        problems = [item.code for item in check(after) if item.code.startswith(("link.", "number."))]
        self.assertEqual(problems, [])
        return {(link["from"], link["kind"], link["to"]) for link in links_of(after)}, found

    def test_monitors_and_further_stations_hang_on_the_main_station(self) -> None:
        ties, found = self.ties(self.site("mssm"))
        self.assertEqual(
            ties, {("d-1", "registers-at", "d-2"), ("d-3", "extends", "d-2"), ("d-4", "registers-at", "d-2")}
        )
        self.assertEqual((found.left, found.shortfall), ((), ()))

    def test_a_station_that_is_a_main_one_already_stays_one(self) -> None:
        ties, _ = self.ties(self.site("sssm", [{"kind": "registers-at", "from": "d-4", "to": "d-3", "slot": 1}]))
        self.assertEqual(
            ties - {("d-4", "registers-at", "d-3")}, {("d-1", "extends", "d-3"), ("d-2", "extends", "d-3")}
        )

    def test_monitors_without_a_station_are_left_and_never_tied_to_each_other(self) -> None:
        ties, found = self.ties(self.site("mm"))
        self.assertEqual((ties, found.left), (set(), ("d-1", "d-2")))
        self.assertEqual(self.ties(self.site("bm"))[0], {("d-2", "registers-at", "d-1")})

    def test_readers_hang_on_panels_where_there_are_any_and_who_finds_no_door_is_named(self) -> None:
        ties, found = self.ties(self.site("sprrr"))
        self.assertEqual(ties, {("d-3", "reads-for", "d-2"), ("d-4", "reads-for", "d-2")})
        self.assertEqual(
            (found.left, found.shortfall), (("d-5",), ("Device 5 is not tied: no door is free at Device 2.",))
        )
        self.assertEqual(self.ties(self.site("sr"))[0], {("d-2", "reads-for", "d-1")})

    def test_a_station_takes_as_many_monitors_as_it_has_numbers(self) -> None:
        ties, found = self.ties(self.site("smmm", monitors=2))
        self.assertEqual(ties, {("d-2", "registers-at", "d-1"), ("d-3", "registers-at", "d-1")})
        self.assertIn("no monitor number is free at Device 1", found.shortfall[0])

    def test_a_monitor_in_another_network_is_left_with_the_reason(self) -> None:
        raw = self.site("sm")
        raw["networks"].append({"key": "far", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1"})
        raw["devices"][1]["network"] = "far"
        ties, found = self.ties(raw)
        self.assertEqual((ties, found.left), (set(), ("d-2",)))
        self.assertIn("calls do not cross", found.shortfall[0])


class Impossible(TestCase):
    def states(self, raw: dict[str, Any]) -> list[tuple[str, str | None, int]]:
        known = link_index(read(raw), plan(read(raw)).addresses())
        return [(item.state, item.reason, len(item.values)) for item in link_statuses(known, {}, {})]

    def codes(self, raw: dict[str, Any]) -> set[tuple[str, str]]:
        return {(item.code, item.level) for item in check(read(raw)) if item.code.split(".")[0] in ("link", "device")}

    def test_a_link_to_what_the_file_does_not_have_is_listed_and_ties_nothing(self) -> None:
        raw = document(
            [device(1, "larkmoor-rec-8"), device(2)], links=[{"kind": "records", "from": "d-2", "to": "d-9"}]
        )
        self.assertEqual(self.states(raw), [("impossible", "the file has no device 'd-9'", 0)])
        self.assertEqual(untied(read(raw)), ["d-2"])
        _, after = proposed(read(raw))
        self.assertEqual([(link["to"], link.get("slot")) for link in links_of(after)], [("d-9", None), ("d-1", 1)])

    def test_two_primaries_a_circle_and_a_device_at_itself_are_errors_everywhere(self) -> None:
        rows = [device(at, "panel") for at in (1, 2, 3)]
        for links, code, states in (
            ([("d-1", "d-2"), ("d-1", "d-3")], "link.two-primaries", ["ready", "impossible"]),
            ([("d-1", "d-2"), ("d-2", "d-1")], "link.circle", ["impossible", "impossible"]),
            ([("d-1", "d-1")], "link.itself", ["impossible"]),
        ):
            raw = document(rows, links=[{"kind": "manages", "from": one, "to": other} for one, other in links])
            raw["models"] = [{"key": "panel", "family": "panel", "services": {"web": 80}}]
            self.assertIn((code, "error"), self.codes(raw))
            found = self.states(raw)
            self.assertEqual([state for state, _, _ in found], states)
            self.assertEqual(
                [values for state, _, values in found if state == "impossible"], [0] * states.count("impossible")
            )

    def test_a_hub_that_reports_to_itself_is_an_error(self) -> None:
        raw = document([device(1, "hub")], links=[{"kind": "reports-to", "from": "d-1", "to": "d-1"}])
        raw["models"] = [{"key": "hub", "family": "alarm-hub", "services": {"web": 80}}]
        self.assertIn(("link.itself", "error"), self.codes(raw))
        self.assertEqual(self.states(raw)[0][0], "impossible")

    def test_a_camera_port_takes_cameras_and_the_way_to_one_of_them_is_named(self) -> None:
        rows = [
            device(1, "larkmoor-rec-8", address="10.20.30.20"),
            device(2, "larkmoor-rec-8"),
            device(3, network=None, behind="d-1"),
            device(4, "panel", network=None, behind="d-1"),
        ]
        links = [
            {"kind": "records", "from": "d-3", "to": "d-1", "slot": 7},
            {"kind": "records", "from": "d-3", "to": "d-2"},
        ]
        raw = document(rows, links=links)
        raw["models"].append({"key": "panel", "family": "panel", "services": {"web": 80}})
        self.assertIn(("device.camera-port", "error"), self.codes(raw))
        self.assertEqual([state for state, _, _ in self.states(raw)], ["ready", "impossible"])
        fix = next(item.fix for item in check(read(raw)) if item.code == "link.not-reachable")
        self.assertIn("through Device 1 at 10.20.30.20: channel 7", fix or "")
        _, after = proposed(read(raw))
        self.assertEqual([link.get("slot") for link in links_of(after)], [7, None])
