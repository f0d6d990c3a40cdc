"""Write the tables of docs/proof.md and docs/links.md from the registries; with --check only say which are old."""

import re
import sys
from collections.abc import Callable
from pathlib import Path

from tests.link_examples import table as kinds
from tutelar.core.proof.registry import CHECKS

DOCS = Path(__file__).parents[1] / "docs"


def checks() -> list[str]:
    """Return the table of checks: of whom each is asked, how it is seen, what makes it stale."""
    rows = [
        "| check | says | asked of | seen by | hangs on, besides what is expected and the unit |",
        "| --- " * 5 + "|",
    ]
    for check in CHECKS:
        hung = ", ".join(word.replace("-", " ") for word in check.hung)
        rows.append(f"| `{check.key}` | {check.title} | {check.asked} | {check.probe} | {hung} |")
    return rows


def outcomes() -> list[str]:
    """Return the table of what each check can come out as."""
    rows = ["| check | passed | failed, silent | skipped |", "| --- " * 4 + "|"]
    for check in CHECKS:
        by: dict[str, list[str]] = {"pass": [], "fail": [], "skipped": []}
        for code, ending in check.endings.items():
            by["fail" if ending.result == "silent" else ending.result].append(f"`{code}`")
        rows.append(f"| `{check.key}` | {' '.join(by['pass'])} | {' '.join(by['fail'])} | {' '.join(by['skipped'])} |")
    return rows


TABLES: dict[str, dict[str, Callable[[], list[str]]]] = {
    "proof.md": {"checks": checks, "outcomes": outcomes},
    "links.md": {"kinds": kinds},
}


def main() -> int:
    """Write or check; return 1 where a table is old and only looked at."""
    old = False
    for name, tables in TABLES.items():
        path = DOCS / name
        text = fresh = path.read_text("utf-8")
        for key, make in tables.items():
            body = "\n".join(make())
            mark = rf"(<!-- table: {key} -->\n)(?:.*?\n)??(<!-- end -->)"
            fresh = re.sub(mark, lambda found, body=body: f"{found[1]}{body}\n{found[2]}", fresh, flags=re.DOTALL)  # type: ignore[misc]
        if fresh != text and "--check" in sys.argv:
            print(f"docs/{name} is old: make tables")
            old = True
        elif fresh != text:
            path.write_text(fresh, "utf-8")
    return int(old)


if __name__ == "__main__":
    raise SystemExit(main())
