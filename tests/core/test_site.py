"""The site document: what is read is written back, and what cannot be read is said with its path."""

import json
import re
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, documents, read
from tutelar.core.recording import channels_of
from tutelar.core.site import UnreadableSite, read_site, with_addresses, write_site
from tutelar.core.site.values import as_network, mac_or_none
from tutelar.core.survey import questions


def changed(path: str, value: Any) -> dict[str, Any]:
    """Return the demo document with one value replaced, or removed where the value is `...`."""
    whole = demo()
    *steps, last = [int(step) if step.isdigit() else step for step in path.split("/")]
    part: Any = whole
    for step in steps:
        part = part[step]
    if value is ...:
        del part[last]
    else:
        part[last] = value
    return whole


class Reading(TestCase):
    def test_the_demo_is_written_back_as_it_was(self) -> None:
        self.assertEqual(json.loads(write_site(read(demo()))), demo())

    @given(documents(most=8))
    def test_every_document_survives_reading_and_writing(self, raw: dict[str, Any]) -> None:
        self.assertEqual(json.loads(write_site(read(raw))), raw)

    def test_extra_keys_are_kept_only_with_their_mark(self) -> None:
        raw = changed("devices/0/x-rack", {"unit": [4]})
        self.assertEqual(json.loads(write_site(read(raw))), raw)

    def test_hardware_addresses_are_tidied_in_every_spelling(self) -> None:
        for typed in ("02-1A-4B-00-00-0C", "021a.4b00.000c", "021A4B00000C", "2:1a:4b:0:0:c", " 02:1a:4b:00:00:0C "):
            self.assertEqual(mac_or_none(typed), "02:1a:4b:00:00:0c", typed)
        for wrong in ("021a4b0000O1", "02:1a:4b:00:00", "00:00:00:00:00:00", "ff:ff:ff:ff:ff:ff", "01:00:5e:00:00:01"):
            self.assertIsNone(mac_or_none(wrong), wrong)

    def test_a_name_is_one_line_whatever_was_pasted(self) -> None:
        raw = document(
            [device(1, name="Yard\r\n gate\x00", place="Pier\u2028head", serial="S\t1")],
            site={"key": "a", "name": "Old\nmill"},
        )
        site = read(raw)
        one = site.devices[0]
        self.assertEqual(
            (site.about.name, one.name, one.place, one.serial), ("Old mill", "Yard gate", "Pier head", "S 1")
        )
        self.assertEqual(read_site(write_site(site)), site)

    def test_filling_in_addresses_changes_nothing_else(self) -> None:
        filled = json.loads(write_site(with_addresses(read(demo()), {"cam-01": "10.62.8.77"})))
        self.assertEqual(filled, changed("devices/4/address", "10.62.8.77"))

    def test_a_copy_with_other_parts_looks_up_the_other_parts(self) -> None:
        site = read(demo())
        self.assertIsNone(site.device_by_key["cam-01"].address)
        filled = with_addresses(site, {"cam-01": "10.62.8.77"})
        self.assertEqual(str(filled.device_by_key["cam-01"].address), "10.62.8.77")

    def test_what_is_worked_out_of_a_site_once_is_shared_and_no_copy_has_it(self) -> None:
        site = read(demo())
        before, asked = channels_of(site), questions(site)
        self.assertTrue(before and any(question.open for question in asked))
        self.assertIs(channels_of(site), before)
        bare = site.model_copy(update={"links": (), "networks": ()})
        self.assertEqual((channels_of(bare), channels_of(site)), ((), before))
        self.assertLess(len(questions(bare)), len(asked))
        self.assertEqual(read_site(write_site(site).encode()), site, "it is no part of the document")

    def test_faults_are_said_with_path_and_value(self) -> None:
        cases: list[tuple[dict[str, Any], str, str]] = [
            (changed("format", "else"), "format", "'else'"),
            (changed("version", 2), "version", "2"),
            (changed("devices/4/colour", "red"), "devices[4].colour", "unknown"),
            (changed("devices/4/cable_m", "long"), "devices[4].cable_m", "'long'"),
            (changed("devices/4/key", ...), "devices[4].key", "missing"),
            (changed("devices/4/address", "10.62.8.256"), "devices[4].address", "10.62.8.256"),
            (changed("devices/4/address", "fe80::1"), "devices[4].address", "IPv6"),
            (changed("devices/4/address", "10.62.008.7"), "devices[4].address", "10.62.8.7"),
            (changed("networks/0/cidr", "10.62.8.1/24"), "networks[0].cidr", "'10.62.8.0/24'"),
            (changed("networks/0/cidr", "10.62.8.0"), "networks[0].cidr", "prefix"),
            (changed("networks/0/cidr", "10.62.8.0/33"), "networks[0].cidr", "'33'"),
            (changed("policy/blocks", "some"), "policy.blocks", "'some'"),
            (changed("policy/blocks", [{"families": ["cam"], "first": 1, "last": 2}]), "families[0]", "'cam'"),
            (changed("models/0/services/Web", 81), "services", "'Web'"),
            (changed("links/0/slot", -1), "links[0].slot", "-1"),
            (changed("devices", {"a": 1}), "devices", "a list is expected"),
        ]
        for raw, path, said in cases:
            with self.subTest(path=path, said=said), self.assertRaises(UnreadableSite) as caught:
                read(raw)
            where, sentence = caught.exception.faults[0]
            self.assertEqual(len(caught.exception.faults), 1, caught.exception.faults)
            self.assertIn(path, where)
            self.assertIn(said, sentence)

    @given(st.one_of(st.binary(max_size=60), st.text(max_size=60).map(str.encode)))
    def test_noise_is_refused_in_words(self, noise: bytes) -> None:
        with self.assertRaises(UnreadableSite) as caught:
            read_site(noise)
        self.assertTrue(all(reason.endswith(".") for _, reason in caught.exception.faults))

    def test_networks_know_what_was_meant(self) -> None:
        for typed, said in (
            ("10.62.8/24", "'10.62.8/24' is not an IPv4 network"),
            ("10.062.8.0/24", "'10.062.8.0/24' has leading zeros; write '10.62.8.0/24'"),
        ):
            with self.assertRaisesRegex(ValueError, re.escape(said)):
                as_network(typed)
        for typed in ("10.44.20.0/255.255.255.128", " 10.44.20.0 / 25 ", "10.44.20.0 255.255.255.128"):
            self.assertEqual(str(as_network(typed)), "10.44.20.0/25", typed)
        with self.assertRaisesRegex(ValueError, "255.0.255.0"):
            as_network("10.44.20.0/255.0.255.0")
        with self.assertRaisesRegex(ValueError, r"172\.23\.8\.0/22"):
            as_network("172.23.10.57/22")

    def test_look_ups_answer_with_the_first_of_two_equal_keys(self) -> None:
        site = read(document([device(1, name="First"), device(1, name="Second")]))
        self.assertEqual(site.label_of("d-1"), "First")
