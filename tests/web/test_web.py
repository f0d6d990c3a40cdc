"""What is pure in the web application has tests of its own beside it; here they are run, and their output is shown."""

import subprocess
from pathlib import Path
from unittest import TestCase

WEB = Path(__file__).parents[2] / "web"


class Web(TestCase):
    def test_what_is_pure_in_the_web_application(self) -> None:
        done = subprocess.run(
            ["npm", "run", "-s", "test"], cwd=WEB, capture_output=True, text=True, timeout=300, check=False
        )
        self.assertEqual(done.returncode, 0, f"{done.stdout}\n{done.stderr}")
        self.assertRegex(done.stdout, r"\d+ passed")
