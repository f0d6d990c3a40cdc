"""Serving: to this machine alone, unless somebody says otherwise; then with a word of warning, and to nobody by another name."""

import os
import re
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from unittest import TestCase

from tutelar.server.__main__ import EVERYWHERE, HOST, _listener


class Serving(TestCase):
    def test_it_listens_to_this_machine_alone_unless_it_is_told_to(self) -> None:
        with _listener(0, HOST) as own, _listener(0, EVERYWHERE) as open_:  # type: ignore[union-attr]
            self.assertEqual((own.getsockname()[0], open_.getsockname()[0]), ("127.0.0.1", "0.0.0.0"))

    def test_with_lan_it_warns_and_answers_only_under_its_own_addresses(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            command = [sys.executable, "-m", "tutelar.server", "--lan", "--port", "0"]
            environment = {**os.environ, "TUTELAR_DATA": folder}
            with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
                assert process.stdout
                said = ""
                for line in process.stdout:
                    said += line
                    if "Ctrl+C" in line:
                        break
                try:
                    port = re.search(r"http://127\.0\.0\.1:(\d+)/", said)
                    assert port, said
                    self.assertEqual("In this network: http://" in said, "travels unencrypted" in said)
                    strange = urllib.request.Request(f"http://127.0.0.1:{port[1]}/api/session", headers={"Host": "far"})
                    self.assertEqual(self.status(strange), 400)
                finally:
                    process.send_signal(signal.SIGINT)
                    process.wait(15)

    def status(self, request: urllib.request.Request) -> int:
        """Return the status of the answer, once the server has begun to answer."""
        for _ in range(100):
            try:
                with urllib.request.urlopen(request, timeout=20) as answer:
                    return int(answer.status)
            except urllib.error.HTTPError as refused:
                return refused.code
            except urllib.error.URLError:
                time.sleep(0.1)
        raise AssertionError("the server does not answer")
