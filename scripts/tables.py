"""Write the tables of docs/ that are made from registries; with --check only say which are old."""

import re
import sys
from collections.abc import Callable
from pathlib import Path

from tests.link_examples import table as kinds
from tutelar.core.cards import PHASES, WHO, Item, items_of
from tutelar.core.cards.facts import known_words
from tutelar.core.diagnose.causes import SORTS
from tutelar.core.diagnose.checks import CHECKS as DIAGNOSIS
from tutelar.core.loose_ends import CODES
from tutelar.core.proof.registry import CHECKS
from tutelar.core.site.closing import WHOM
from tutelar.core.survey.asked import SUGGESTED

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


def faults() -> list[str]:
    """Return the table of faults that are weighed."""
    rows = ["| fault | at | weight | says |", "| --- " * 4 + "|"]
    for key, sort in SORTS.items():
        rows.append(f"| `{key}` | {sort.scope} | {sort.weight:g} | {sort.says.replace('{at}', '…')} |")
    return rows


def diagnosis_checks() -> list[str]:
    """Return the table of checks that a diagnosis asks for."""
    rows = ["| check | minutes | by | asks | answers | caution |", "| --- " * 6 + "|"]
    for key, check in DIAGNOSIS.items():
        by = "laptop" if check.by_laptop else "hand"
        answers = ", ".join(check.words)
        rows.append(
            f"| `{key}` | {check.minutes:g} | {by} | {check.asks.replace('{at}', '…')} | {answers} | {check.caution} |"
        )
    return rows


def codes() -> list[str]:
    """Return the table of loose ends."""
    rows = ["| code | says | closed by | whose turn | holds the signature |", "| --- " * 5 + "|"]
    for key, code in CODES.items():
        holds = "yes" if code.blocks else "no"
        rows.append(f"| `{key}` | {code.says.replace('{name}', '…')} | {code.fix} | {code.whose} | {holds} |")
    return rows


def _shows(item: Item) -> str:
    evidence = item.evidence
    if evidence.kind == "choice":
        return " / ".join(option.word for option in evidence.options)
    unit = f", {evidence.unit}" if evidence.unit else ""
    asks = f": {evidence.asks}{unit}" if evidence.asks else ""
    return f"{evidence.kind}{asks}" if evidence.kind != "tick" else ""


def cards() -> list[str]:
    """Return a table of the items of each part of the work."""
    rows = []
    for phase, word in PHASES.items():
        rows += ["", f"### {word}", ""]
        rows += ["| item | of | says | why | when | who | shows | waits for | caution |", "| --- " * 9 + "|"]
        for item in items_of():
            if item.phase == phase:
                when = ", ".join(words.replace("|", " or ").replace("!", "not ") for words in item.when)
                after = ", ".join(f"`{key}`" for key in item.after)
                rows.append(
                    f"| `{item.key}` | {item.of} | {item.text} | {item.reason} | {when} | {WHO[item.who]} | "
                    f"{_shows(item)} | {after} | {item.caution or ''} |"
                )
    return rows


def card_words() -> list[str]:
    """Return the words by which an item says when it applies."""
    rows = ["| word | holds where |", "| --- | --- |"]
    return rows + [f"| `{word}` | {says} |" for word, says in known_words().items()]


def questions() -> list[str]:
    """Return the usual questions to others."""
    rows = ["| to | question | holds up | when |", "| --- " * 4 + "|"]
    for item in SUGGESTED:
        rows.append(f"| {WHOM[item.of]} | {item.question} | {item.holds} | {item.when.replace('|', ' or ')} |")
    return rows


TABLES: dict[str, dict[str, Callable[[], list[str]]]] = {
    "proof.md": {"checks": checks, "outcomes": outcomes},
    "links.md": {"kinds": kinds},
    "handover.md": {"codes": codes},
    "cards.md": {"cards": cards, "words": card_words, "questions": questions},
    "diagnosis.md": {"faults": faults, "diagnosis-checks": diagnosis_checks},
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
