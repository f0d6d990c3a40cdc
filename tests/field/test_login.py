"""Logging in: the standards' own examples, what is chosen, and that a password is shown to nobody by accident."""

import base64
from unittest import TestCase

from tests.samples import device, document, read
from tutelar.core.site import with_addresses
from tutelar.field.login import Account, answer, challenges, digest, expected_response
from tutelar.standin.device import PretendDevice
from tutelar.standin.login import accepts, challenge

MUFASA = Account("Mufasa", "Circle of Life")
RFC7616 = {
    "realm": "http-auth@example.org",
    "nonce": "7ypf/xlj9XXwfDPEoM4URrv/xwf94BcCAzFZH4GiTo0v",
    "qop": "auth, auth-int",
    "opaque": "FQhe/qaU925kfnzjCev0ciny7QMkPqMAFRtzCUYo5tdS",
}
CNONCE = "f2/wE4q74E6zIJEtWaHKaf5wv/H5QzzpXusqGemxURZJ"


class Digest(TestCase):
    def test_the_examples_of_the_standard(self) -> None:
        for algorithm, response in (
            ("MD5", "8ca523f5e9506fed4657c9700eebdbec"),
            ("SHA-256", "753927fa0e85d155564e2e272a28d1802ca10daf4496794697cf8db5856cb6c1"),
        ):
            said = digest(RFC7616 | {"algorithm": algorithm}, MUFASA, "GET", "/dir/index.html", CNONCE)
            self.assertIn(f'response="{response}"', said)
            self.assertIn('opaque="FQhe', said)
        old = Account("Mufasa", "Circle Of Life")  # RFC 2617, section 3.5
        self.assertEqual(
            expected_response(
                "MD5",
                "testrealm@host.com",
                old,
                "dcd98b7102dd2f0e8b11d0f600bfb0c093",
                "GET",
                "/dir/index.html",
                "auth",
                "0a4f113b",
            ),
            "6629fae49393a05397450978507c4ef1",
        )

    def test_the_strongest_way_is_taken_and_the_plain_one_only_where_it_is_sealed(self) -> None:
        weak, strong = (
            'Digest realm="d", nonce="n", algorithm=MD5',
            'Digest realm="d", nonce="n", algorithm=SHA-256, qop="auth"',
        )
        self.assertIn("algorithm=SHA-256", answer([weak, strong], MUFASA, "GET", "/") or "")
        self.assertIn("algorithm=MD5", answer([weak], MUFASA, "GET", "/") or "")
        self.assertNotIn("qop", answer([weak], MUFASA, "GET", "/") or "qop")
        self.assertIsNone(answer(['Basic realm="d"'], MUFASA, "GET", "/"))
        plain = answer(['Basic realm="d"'], MUFASA, "GET", "/", plain_allowed=True) or ""
        self.assertEqual(base64.b64decode(plain.removeprefix("Basic ")), b"Mufasa:Circle of Life")
        for strange in ("", "Digest", "Negotiate abc", 'Digest realm="d", nonce="n", algorithm=CRC'):
            self.assertIsNone(answer([strange], MUFASA, "GET", "/"), strange)

    def test_challenges_are_read_as_they_are_written(self) -> None:
        said = challenges(['Digest realm="a, b \\" c", nonce=n1 , QOP="auth"', "Basic"])
        self.assertEqual([scheme for scheme, _ in said], ["digest", "basic"])
        self.assertEqual((said[0][1]["realm"], said[0][1]["nonce"], said[0][1]["qop"]), ('a, b \\" c', "n1", "auth"))

    def test_a_password_is_not_shown_by_accident(self) -> None:
        self.assertNotIn("Circle", repr(MUFASA))


class PretendLogin(TestCase):
    def setUp(self) -> None:
        site = with_addresses(read(document([device(1)])), {"d-1": "10.20.30.50"})
        self.device = PretendDevice.of(site, site.devices[0], "lan")

    def said(self, account: Account, method: str = "GET") -> str:
        return answer(challenge(self.device), account, method, "/state") or ""

    def test_the_right_answer_to_the_right_question_is_taken(self) -> None:
        right = Account("admin", self.device.password)
        self.assertTrue(accepts(self.device, self.said(right), "GET"))
        self.assertTrue(accepts(self.device, self.said(Account("viewer", self.device.password)), "GET"))
        self.assertFalse(accepts(self.device, self.said(right), "DESCRIBE"))
        self.assertFalse(accepts(self.device, self.said(Account("root", self.device.password)), "GET"))
        for strange in ("", "Basic YTpi", "Digest", 'Digest username="admin", nonce="old", response="x"'):
            self.assertFalse(accepts(self.device, strange, "GET"))

    def test_wrong_passwords_lock_it_and_a_right_one_begins_anew(self) -> None:
        wrong, right = Account("admin", "a guess"), Account("admin", self.device.password)
        for _ in range(4):
            self.assertFalse(accepts(self.device, self.said(wrong), "GET"))
        self.assertTrue(accepts(self.device, self.said(right), "GET"))
        for _ in range(5):
            accepts(self.device, self.said(wrong), "GET")
        self.assertTrue(self.device.locked)
        self.assertFalse(accepts(self.device, self.said(right), "GET"))

    def test_a_share_of_the_connections_breaks_off_the_first_of_each_round(self) -> None:
        for share, pattern in (
            (0.5, "1010101010"),
            (0.25, "1000100010"),
            (0.1, "1000000000"),
            (0.0, "0000000000"),
            (1.0, "1111111111"),
        ):
            self.device.drops, self.device.counts = share, {}
            self.assertEqual("".join(str(int(self.device.breaks_off(80))) for _ in range(10)), pattern, share)
