"""What is refused before it is read, and in which words; what ends with a session; what nobody may answer for."""

import asyncio
import io
import json
import tracemalloc
from collections.abc import Mapping
from ipaddress import IPv4Network
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from django.db import OperationalError
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.samples import demo
from tests.server.test_secrets import SecretCase
from tutelar.field.guard import Forbidden, Guard, unfit
from tutelar.server.gate import MOST, MOST_OF_NOBODY, Gate
from tutelar.server.secrets import sealing

GONE = b"its sender went"


class AtTheGate(TestCase):
    def ask(self, pieces: list[bytes], cookie: str = "", length: int | None = None) -> tuple[int, str, int]:
        """Return (status, what was said, how many bytes the application was given)."""
        given_, sent = [0], list[Mapping[str, Any]]()
        left = list(pieces)

        async def app(_scope: Any, receive: Any, send: Any) -> None:
            while True:
                message = await receive()
                given_[0] += len(message["body"])
                if not message["more_body"]:
                    break
            await send({"type": "http.response.start", "status": 200, "headers": []})
            await send({"type": "http.response.body", "body": b"{}"})

        async def receive() -> Mapping[str, Any]:
            body = left.pop(0)
            if body is GONE:
                return {"type": "http.disconnect"}
            return {"type": "http.request", "body": body, "more_body": bool(left)}

        async def send(message: Mapping[str, Any]) -> None:
            sent.append(message)

        headers = [(b"cookie", cookie.encode())] if cookie else []
        headers += (
            [(b"content-length", str(length).encode())] if length is not None else [(b"transfer-encoding", b"chunked")]
        )
        asyncio.run(Gate(app)({"type": "http", "headers": headers}, receive, send))
        if not sent:
            return 0, "", given_[0]
        return sent[0]["status"], sent[1]["body"].decode(), given_[0]

    def test_nobody_sends_more_than_a_name_and_a_password(self) -> None:
        small, large = b"x" * 1000, b"x" * (MOST_OF_NOBODY + 1)
        self.assertEqual(self.ask([small])[0], 200)
        status, said, came = self.ask([large], length=len(large))
        self.assertEqual((status, came), (413, 0))
        self.assertIn("whoever has not signed in", json.loads(said)["message"])
        status, _, came = self.ask([b"x" * 40_000] * 10)  # without saying how much it will be
        self.assertEqual((status, came), (413, 0))
        self.assertEqual(self.ask([large], "sessionid=abc")[0], 200)
        self.assertEqual(self.ask([], "sessionid=abc", MOST + 1)[0], 413)

    def test_half_of_a_body_is_none(self) -> None:
        self.assertEqual(self.ask([b"{}", GONE]), (0, "", 0), "in pieces it is not passed on at all")
        self.assertEqual(self.ask([b"{}", GONE], length=4), (0, "", 2), "whoever reads it is told, and does not answer")
        self.assertEqual(self.ask([b"{", b"}"], length=2), (200, "{}", 2))
        self.assertEqual(self.ask([b"{", b"}"]), (200, "{}", 2))


class Refusals(SecretCase):
    def test_every_refusal_of_the_api_is_a_sentence(self) -> None:
        key = self.bring(demo())
        for answer in (
            self.client.get("/api/nowhere"),
            self.client.delete(f"/api/sites/{key}/kit"),
            self.client.get("/api/session", headers={"host": "far"}),
            self.client.get("/api/openapi.json"),
            self.client.get(f"/api/sites/{key}/proofs/77/events"),
        ):
            self.assertGreaterEqual(answer.status_code, 400)
            self.assertTrue(answer.json()["message"].endswith("."), answer.content)

    def test_a_database_that_cannot_be_written_says_why(self) -> None:
        key = self.bring(demo())
        for said, status, word in (
            ("database or disk is full", 507, "full"),
            ("attempt to write a readonly database", 503, "cannot be written"),
            ("database disk image is malformed", 503, "damaged"),
            ("database is locked", 503, "busy"),
        ):
            with patch("tutelar.server.cards.services.site_for_update", side_effect=OperationalError(said)):
                answer = self.call("PUT", f"/sites/{key}/cards/cam-01/angle", {"state": "done"})
            self.assertEqual((answer[0], word in answer[1]["message"]), (status, True), answer)

    def test_a_key_that_is_gone_is_said_and_no_new_one_is_made(self) -> None:
        key = self.bring(demo())
        self.assertEqual(self.put(key, "cam-01/secrets/administrator", "Cl0ck-Tower-Qy7")[0], 204)
        self.assertIsNone(sealing.trouble())
        self.file.unlink()
        self.assertIn("is gone", sealing.trouble() or "")
        status, refused = self.put(key, "cam-02/secrets/administrator", "Cl0ck-Tower-Qy8")
        self.assertEqual((status, "no new one is made" in refused["message"]), (503, True))
        self.assertFalse(self.file.exists())

    def test_a_page_of_another_site_cannot_sign_anybody_in(self) -> None:
        body = '{"username": "ines", "password": "x"}'
        for form in ("text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"):
            answer = self.client.post("/api/session", body, content_type=form)
            self.assertIn(answer.status_code, (415, 422), form)
        self.assertEqual(self.client.post("/api/session", body, content_type="application/json").status_code, 401)

    def test_a_picture_of_many_pixels_takes_little_room(self) -> None:
        key = self.bring(demo())

        def sent(form: str, side: int) -> int:
            out = io.BytesIO()
            Image.new("RGB", (side, side)).save(out, form)
            return self.client.post(
                f"/api/sites/{key}/log/photos", out.getvalue(), content_type="application/octet-stream"
            ).status_code

        self.assertEqual(sent("PNG", 4_100), 422)
        self.assertEqual(sent("JPEG", 7_800), 422)
        tracemalloc.start()
        self.assertEqual(sent("JPEG", 2_500), 201)
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        self.assertLess(peak, 60e6)


class Networks(TestCase):
    def test_the_internet_is_nobodys_site(self) -> None:
        for text in ("0.0.0.0/0", "8.8.8.0/24", "10.0.0.0/8", "192.0.2.0/24", "172.0.0.0/8", "203.0.113.7/32"):
            self.assertIsNotNone(unfit(IPv4Network(text)), text)
            with self.assertRaises(Forbidden):
                Guard.for_live_work([IPv4Network(text)], switched_on=True, authorised=True)
        for text in ("10.62.8.0/24", "192.168.0.0/16", "172.16.4.0/22", "169.254.0.0/16", "100.64.9.0/24"):
            self.assertIsNone(unfit(IPv4Network(text)), text)

    @given(st.integers(0, 2**32 - 1), st.integers(0, 32))
    def test_whatever_is_fit_is_private_to_its_last_address(self, number: int, prefix: int) -> None:
        network = IPv4Network((number >> (32 - prefix) << (32 - prefix), prefix))
        if unfit(network) is None:
            self.assertGreaterEqual(prefix, 16)
            for address in (network[0], network[-1]):
                self.assertTrue(address.is_private or address in IPv4Network("100.64.0.0/10"), address)
