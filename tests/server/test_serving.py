"""Serving: to this machine alone, unless somebody says otherwise; then encrypted, and to nobody by another name."""

import hashlib
import io
import os
import re
import signal
import ssl
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, redirect_stdout, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import TestCase, mock

from tests.places import with_tables
from tutelar.server.__main__ import EVERYWHERE, HOST, _greet, _listener
from tutelar.server.certificate import CertificateError, at_hand


class Serving(TestCase):
    def test_it_listens_to_this_machine_alone_unless_it_is_told_to(self) -> None:
        with _listener(0, HOST) as own, _listener(0, EVERYWHERE) as open_:  # type: ignore[union-attr]
            self.assertEqual((own.getsockname()[0], open_.getsockname()[0]), ("127.0.0.1", "0.0.0.0"))

    def test_with_lan_it_is_encrypted_and_answers_only_under_its_own_addresses(self) -> None:
        with self.served("--lan") as said:
            port = re.search(r"https://127\.0\.0\.1:(\d+)/", said)
            shown = re.search(r"fingerprint: (([0-9A-F]{2}:){31}[0-9A-F]{2})\n", said)
            assert port and shown, said
            self.assertEqual(self.shown(int(port[1])), shown[1])
            trusting = ssl.create_default_context(cafile=str(self.folder / "certificate.pem"))
            answer = urllib.request.urlopen(f"https://127.0.0.1:{port[1]}/api/session", timeout=20, context=trusting)
            crumbs = answer.headers.get_all("Set-Cookie")
            self.assertTrue(crumbs and all("; Secure" in crumb for crumb in crumbs), crumbs)
            strange = urllib.request.Request(f"https://127.0.0.1:{port[1]}/api/session", headers={"Host": "far"})
            self.assertEqual(self.status(strange, trusting), 400)

    def test_unencrypted_beyond_this_machine_only_with_a_word_of_warning(self) -> None:
        for around, scheme in (([], "http"), (["10.20.30.9"], "http"), (["10.20.30.9"], "https")):
            shown = (
                at_hand(Path(self.enterContext(tempfile.TemporaryDirectory())), around) if scheme == "https" else None
            )
            with redirect_stdout(io.StringIO()) as said:
                _greet(8000, around, None, None, shown, live=False)
            self.assertIn(f"{scheme}://127.0.0.1:8000/", said.getvalue())
            self.assertEqual(around != [], f"In this network: {scheme}://10.20.30.9:8000/" in said.getvalue())
            self.assertEqual("travels unencrypted" in said.getvalue(), around != [] and scheme == "http")

    @contextmanager
    def served(self, *flags: str) -> Iterator[str]:
        """Serve from an empty folder; what it says at its start."""
        with tempfile.TemporaryDirectory() as folder:
            self.folder = Path(folder)
            command = [sys.executable, "-m", "tutelar.server", *flags, "--port", "0"]
            environment = with_tables(folder)
            with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
                assert process.stdout
                said = ""
                for line in process.stdout:
                    said += line
                    if "Ctrl+C" in line:
                        break
                try:
                    yield said
                finally:
                    process.send_signal(signal.SIGINT)
                    process.wait(15)

    def shown(self, port: int) -> str:
        """Return the fingerprint of the certificate that a server shows, once it answers."""
        for _ in range(100):
            with suppress(OSError):
                der = ssl.PEM_cert_to_DER_cert(ssl.get_server_certificate(("127.0.0.1", port), timeout=20))
                return hashlib.sha256(der).digest().hex(":").upper()
            time.sleep(0.1)
        raise AssertionError("the server does not answer")

    def status(self, request: urllib.request.Request, trusting: ssl.SSLContext) -> int:
        """Return the status of the answer, once the server has begun to answer."""
        for _ in range(100):
            try:
                with urllib.request.urlopen(request, timeout=20, context=trusting) as answer:
                    return int(answer.status)
            except urllib.error.HTTPError as refused:
                return refused.code
            except urllib.error.URLError:
                time.sleep(0.1)
        raise AssertionError("the server does not answer")


class Certificates(TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_it_is_made_once_and_again_when_it_ends_or_an_address_is_new_or_it_is_damaged(self) -> None:
        first = at_hand(self.folder, ["10.20.30.9"])
        self.assertEqual(at_hand(self.folder, ["10.20.30.9"]), first)
        self.assertEqual(at_hand(self.folder, []), first)
        second = at_hand(self.folder, ["10.20.30.9", "10.20.31.9"])
        self.assertNotEqual(second.fingerprint, first.fingerprint)
        late = at_hand(self.folder, [], datetime.now(UTC) + timedelta(days=720))
        self.assertNotEqual(late.fingerprint, second.fingerprint)
        late.key.write_text("gone")
        self.assertNotEqual(at_hand(self.folder, []).fingerprint, late.fingerprint)
        self.assertEqual({path.stat().st_mode & 0o77 for path in (late.file, late.key)}, {0})

    def test_the_firms_own_is_shown_where_it_is_named_or_refused_in_a_sentence(self) -> None:
        own = at_hand(self.folder, [])
        for names, refusal in (
            ({"TUTELAR_CERTIFICATE": str(own.file), "TUTELAR_CERTIFICATE_KEY": str(own.key)}, None),
            ({"TUTELAR_CERTIFICATE": str(own.file)}, "Name both"),
            ({"TUTELAR_CERTIFICATE": "/nowhere", "TUTELAR_CERTIFICATE_KEY": str(own.key)}, "cannot be used"),
        ):
            with mock.patch.dict(os.environ, names):
                if refusal is None:
                    self.assertEqual(at_hand(self.folder / "other", []).fingerprint, own.fingerprint)
                else:
                    with self.assertRaisesRegex(CertificateError, refusal):
                        at_hand(self.folder, [])
