"""A device on Wi-Fi has two hardware addresses; what is counted by licence; what stands outdoors; packet sizes."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_link_proposals import proposed
from tests.core.test_proof_rules import wanted
from tests.samples import device, document, read
from tutelar.core.addressing.reservations import reservations
from tutelar.core.check import check
from tutelar.core.planning import plan
from tutelar.core.proof import Identity, Observation, stranger
from tutelar.core.setting import DeviceSettings
from tutelar.core.sightings import Sighting, findings

CABLE, RADIO = "02:1a:4b:00:00:c1", "02:1a:4b:00:00:f1"


def on_wifi(**more: Any) -> dict[str, Any]:
    return device(1, mac=CABLE, wifi_mac=RADIO, medium="wifi", addressing="reserved", **more)


class TwoHardwareAddresses(TestCase):
    def test_its_network_knows_it_by_the_one_of_its_medium(self) -> None:
        for medium, mac in (("wifi", RADIO), ("cable", CABLE)):
            site = read(document([on_wifi(address="10.20.30.60") | {"medium": medium}]))
            self.assertEqual([row.mac for row in reservations(site, plan(site).assignments)[0]], [mac])
        bare = read(document([on_wifi() | {"wifi_mac": None}]))
        self.assertEqual(reservations(bare, plan(bare).assignments), ([], ["d-1"]))

    def test_a_table_takes_either_says_which_and_names_the_stale_lease(self) -> None:
        site = read(document([on_wifi(address="10.20.30.60")]))
        seen = [Sighting("10.20.30.60", RADIO), Sighting("10.20.30.120", CABLE)]
        rows = {row.mac: row for row in findings(site, plan(site), seen).rows}
        self.assertEqual({mac: row.kind for mac, row in rows.items()}, {RADIO: "expected", CABLE: "stale"})
        self.assertIn("by its Wi-Fi address", rows[RADIO].sentence)
        self.assertIn("held 10.20.30.120 by its cable", rows[CABLE].sentence)
        self.assertEqual(findings(site, plan(site), seen[1:]).unseen, ("d-1",))

    def test_whoever_holds_its_address_may_be_it_while_its_radio_address_is_not_known(self) -> None:
        site = read(document([on_wifi(address="10.20.30.60") | {"wifi_mac": None}]))
        row = findings(site, plan(site), [Sighting("10.20.30.60", RADIO)]).rows[0]
        self.assertEqual((row.kind, row.device, row.set_mac), ("unread", "d-1", False))

    def test_it_is_itself_by_either_and_proven_with_its_cable_out(self) -> None:
        site = read(document([on_wifi(address="10.20.30.60"), device(2)]))
        for mac, other in ((CABLE, None), (RADIO, None), ("02:1a:4b:00:00:99", "02:1a:4b:00:00:99")):
            self.assertEqual(stranger(site.devices[0], Observation(identity=Identity(mac=mac))), other)
        found = wanted(site)
        self.assertIn("wifi-without-cable", found["d-1"])
        self.assertNotIn("wifi-without-cable", found["d-2"])
        self.assertTrue(found["d-1"]["right-device"].expected.startswith(RADIO))

    def test_one_that_is_anothers_is_an_error_on_either_side(self) -> None:
        site = read(document([on_wifi(), device(2, mac=RADIO)]))
        self.assertEqual([item.subjects for item in check(site) if item.code == "mac.duplicate"], [("d-1", "d-2")])


class Counted(TestCase):
    @given(
        st.integers(1, 5),
        st.lists(st.integers(1, 3), min_size=1, max_size=2),
        st.sampled_from(["channel", "device", None]),
        st.lists(st.tuples(st.integers(1, 5), st.integers(1, 2), st.integers(0, 1)), unique=True, max_size=6),
    )
    def test_proposals_stay_within_licences_however_they_are_counted(
        self, devices: int, licences: list[int], per: str | None, tied: list[tuple[int, int, int]]
    ) -> None:
        """`tied` channels of an encoder are at a recorder already, also beyond what it has licences for."""
        rows = [device(number, "enc") for number in range(1, devices + 1)]
        raw = document([*rows, *(device(9 + at, f"rec-{at}") for at in range(len(licences)))])
        raw["models"] = [{"key": "enc", "family": "encoder", "capacity": {"channels": 2}}] + [
            {"key": f"rec-{at}", "family": "recorder", "capacity": {"licences": number}, "licence_per": per}
            for at, number in enumerate(licences)
        ]
        there = {
            (number, channel): into for number, channel, into in tied if number <= devices and into < len(licences)
        }
        raw["links"] = [
            {"kind": "records", "from": f"d-{number}", "to": f"d-{9 + into}", "from_channel": channel}
            for (number, channel), into in there.items()
        ]
        site = read(raw)
        after = proposed(site)[1]
        links = [link for link in after.links if link.kind == "records"]
        self.assertEqual([item for item in check(after) if item.code == "recorder.over-capacity"], [])
        asked = {item.subjects[0] for item in check(after) if item.code == "model.licence-per"}
        for at, number in enumerate(licences):
            here = [link.from_ for link in links if link.to == f"d-{9 + at}"]
            self.assertLessEqual(len(set(here)) if per == "device" else len(here), number)
            self.assertEqual(f"rec-{at}" in asked, per is None and len(here) > len(set(here)))
        if not there:  # as many as there is room for
            self.assertEqual(len(links), min(2 * devices, sum(licences) * (2 if per == "device" else 1)))
        alone = [number for number in range(1, devices + 1) if not any(one == number for one, _ in there)]
        fitted = [item for item in check(read(raw)) if item.code == "recorder.over-capacity"]
        if not fitted and not alone:  # nothing was wrong and nobody wants more: nothing is moved
            self.assertEqual(len(links), len(there))

    def test_an_indoor_model_outdoors_and_the_sums_of_a_packet(self) -> None:
        raw = document([device(1, outdoors=True), device(2)], internet={"connection": "line", "mtu": 1492})
        raw["models"][0]["outdoor"] = False
        raw["links"] = [{"kind": "relays", "from": "d-2", "to": "outside"}]
        site = read(raw)
        self.assertEqual([item.subjects for item in check(site) if item.code == "device.indoor-outside"], [("d-1",)])
        lines = {
            line.key: line for group in DeviceSettings(site, plan(site)).groups(site.devices[1]) for line in group.lines
        }
        self.assertEqual(lines["mtu"].value, "1492")
        self.assertIn("1464 (1492 − 28), a TCP segment 1452 (1492 − 40)", lines["mtu"].why)
