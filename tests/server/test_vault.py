"""The vault by itself, and that nobody without an account gets anywhere near it."""

import stat
import tempfile
from pathlib import Path
from unittest import TestCase

from cryptography.fernet import Fernet

from tests.samples import device, document
from tests.server.test_api import ApiCase
from tutelar.server.vault import Vault, VaultLocked, from_file, from_passphrase, write_keys


class Keys(TestCase):
    def setUp(self) -> None:
        self.path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "deep" / "vault-key"

    def test_a_key_file_is_made_once_and_only_its_owner_reads_it(self) -> None:
        keys = from_file(self.path)
        self.assertEqual((len(keys), from_file(self.path)), (1, keys))
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o600)
        self.assertEqual([item.name for item in self.path.parent.iterdir()], ["vault-key"])

    def test_what_is_no_key_file_is_said_without_showing_it(self) -> None:
        self.path.parent.mkdir()
        for text in ("grey-heron", "", "x" * 44):
            self.path.write_text(text)
            with self.assertRaises(VaultLocked) as caught:
                from_file(self.path)
            self.assertIn("is no key file", str(caught.exception))
            self.assertTrue(not text or text not in str(caught.exception))

    def test_the_newest_key_seals_and_every_one_opens(self) -> None:
        old, new = Fernet.generate_key(), Fernet.generate_key()
        sealed = Vault([old]).seal("Türhof-7", "place")
        write_keys(self.path, [new, old])
        both = Vault(from_file(self.path))
        self.assertEqual(both.open(sealed, "place"), "Türhof-7")
        again = both.seal("Türhof-7", "place")
        self.assertEqual(Vault([new]).open(again, "place"), "Türhof-7")
        with self.assertRaises(VaultLocked):
            Vault([old]).open(again, "place")
        self.assertNotEqual(again, both.seal("Türhof-7", "place"))  # nobody sees that two are the same

    def test_a_passphrase_gives_one_key_a_salt(self) -> None:
        one = from_passphrase("six herons at dawn", b"s" * 16)
        self.assertEqual(one, from_passphrase("six herons at dawn", b"s" * 16))
        self.assertNotIn(one, (from_passphrase("six herons at dawn", b"t" * 16), from_passphrase("six", b"s" * 16)))
        proof = Vault([one]).proof()
        self.assertTrue(Vault([one]).fits(proof))
        self.assertFalse(Vault([from_passphrase("six", b"s" * 16)]).fits(proof))

    def test_a_sealed_value_that_was_touched_does_not_open(self) -> None:
        vault = Vault([Fernet.generate_key()])
        sealed = bytearray(vault.seal("Vole-77", "place"))
        sealed[40] ^= 1
        with self.assertRaises(VaultLocked):
            vault.open(bytes(sealed), "place")


class Strangers(ApiCase):
    PATHS = (
        ("GET", "/devices/d-1/page"),
        ("GET", "/secrets"),
        ("GET", "/clocks"),
        ("GET", "/ports"),
        ("GET", "/choices"),
        ("GET", "/files/clocks.ics"),
        ("GET", "/files/labels.pdf"),
        ("POST", "/typed"),
        ("POST", "/tellings"),
        ("POST", "/secrets/policy"),
        ("PUT", "/devices/d-1/secrets/login"),
        ("DELETE", "/devices/d-1/secrets/login"),
        ("POST", "/devices/d-1/secrets/login/check"),
        ("POST", "/devices/d-1/secrets/login/reveal"),
        ("POST", "/devices/d-1/tries"),
        ("POST", "/devices/d-1/clock"),
        ("PUT", "/devices/d-1/ports"),
        ("POST", "/forwards"),
        ("DELETE", "/forwards/80?revision=1"),
        ("PUT", "/choices"),
    )

    def test_who_is_not_signed_in_gets_nothing(self) -> None:
        key = self.bring(document([device(1)]))
        self.client.logout()
        for method, path in self.PATHS:
            status, said = self.call(method, f"/sites/{key}{path}", {})
            self.assertEqual((status, said["message"]), (401, "Sign in first."), path)

    def test_a_site_or_device_that_is_not_there_is_said(self) -> None:
        key = self.bring(document([device(1)]))
        for path in ("/devices/d-7/page", "/devices/d-7/secrets/login/reveal", "/devices/d-7/tries"):
            method = "GET" if path.endswith("page") else "POST"
            status, said = self.call(method, f"/sites/{key}{path}", {"taken": True} if path.endswith("tries") else {})
            self.assertEqual((status, "d-7" in said["message"]), (404, True), path)
        for path in ("/secrets", "/clocks", "/ports", "/choices", "/files/labels.svg", "/files/clocks.ics"):
            status, said = self.call("GET", f"/sites/nowhere{path}")
            self.assertEqual((status, "nowhere" in said["message"]), (404, True), path)

    def test_bodies_that_make_no_sense_are_refused_in_a_sentence(self) -> None:
        key = self.bring(document([device(1)]))
        for method, path, body in (
            ("POST", "/typed", {"subject": "d-1"}),
            ("POST", "/tellings", {"tellings": ["one"]}),
            ("PUT", "/devices/d-1/ports", {"revision": 1, "ports": {"web": "eighty"}}),
            ("POST", "/forwards", {"revision": 1, "outside": 0}),
            ("POST", "/devices/d-1/clock", {"shown": 5}),
            ("PUT", "/choices", {"revision": 1, "family": "boat", "setting": "patrol", "value": ""}),
            ("POST", "/secrets/policy", {"revision": 1, "password_policy": "none"}),
            ("PUT", "/devices/d-1/secrets/login", "{"),
        ):
            status, said = self.call(method, f"/sites/{key}{path}", body)
            self.assertIn(status, (400, 422), path)
            self.assertTrue(said["message"].endswith("."), said)

    def test_an_empty_site_has_empty_settings(self) -> None:
        key = self.bring(document([]))
        self.assertEqual(self.call("GET", f"/sites/{key}/secrets")[1]["devices"], [])
        self.assertEqual(self.call("GET", f"/sites/{key}/clocks")[1]["devices"], [])
        self.assertEqual(self.call("GET", f"/sites/{key}/ports")[1]["devices"], [])
        self.assertEqual(self.call("GET", f"/sites/{key}/choices")[1]["families"], [])
        self.assertEqual(self.call("GET", f"/sites/{key}/files/labels.pdf")[0], 422)
