"""Two versions side by side in one run: the same commands on the same files, in turns.

    python -m bench.versions FOLDER     # a checkout of the other version

Prints seconds of both (median of the rounds) and the ratio of this one to the other.
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.sites import site_text

HERE = Path(__file__).parents[1]
ROUNDS = 5


def main() -> int:
    other = Path(sys.argv[1])
    with tempfile.TemporaryDirectory() as folder:
        large, small = Path(folder) / "large.json", Path(folder) / "small.json"
        large.write_text(site_text(10_000, 60))
        small.write_text(site_text(150, 1))
        planned = Path(folder) / "planned.json"
        _run(HERE, "plan", str(small), "-o", str(planned))
        for title, arguments in (
            ("plan 10,000 devices", ("plan", str(large), "--json")),
            ("check 10,000 devices", ("check", str(large), "--json")),
            ("run 150 devices, two technicians", ("run", str(small), "--hands", "2", "--json")),
            ("prove 150 stand-in devices", ("prove", "--stand-in", str(planned), "--json")),
            ("links of 150 devices", ("links", str(planned), "--json")),
            ("help", ("--help",)),
        ):
            took: dict[Path, list[float]] = {other: [], HERE: []}
            for _ in range(ROUNDS):
                for place, times in took.items():
                    start = time.perf_counter()
                    _run(place, *arguments)
                    times.append(time.perf_counter() - start)
            before, now = (statistics.median(took[place]) for place in (other, HERE))
            print(f"{title:36} {before:7.2f} s before {now:7.2f} s now   ratio {now / before:.2f}", flush=True)
    return 0


def _run(place: Path, *arguments: str) -> None:
    environment = {**os.environ, "PYTHONPATH": str(place)}
    subprocess.run(
        [sys.executable, "-m", "tutelar.cli", *arguments], cwd=place, env=environment, capture_output=True, check=False
    )


if __name__ == "__main__":
    raise SystemExit(main())
