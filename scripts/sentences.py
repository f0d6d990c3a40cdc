"""Write docs/sentences.md: what the product says of the demo site, to be read aloud; --check only says it is old."""

import sys
from collections.abc import Iterator
from pathlib import Path

from tests.samples import read, shipped
from tutelar.core.check import check
from tutelar.core.contact import contact
from tutelar.core.handover.request import request
from tutelar.core.links.readiness import gaps
from tutelar.core.links.registry import link_index
from tutelar.core.planning import plan
from tutelar.core.proof.registry import CHECKS
from tutelar.core.recording.channels import recording_of
from tutelar.core.recording.levers import levers_of
from tutelar.core.recording.mends import mends_of
from tutelar.core.run.chain import TITLES
from tutelar.core.setting.groups import DeviceSettings
from tutelar.core.survey import questions
from tutelar.core.survey.follows import follows

PATH = Path(__file__).parents[1] / "docs" / "sentences.md"
MOST_OF_A_GROUP = 9  # of a recorder's channels a few say it all
DEVICES = ("cam-01", "cam-13", "cam-19", "rec-1", "gate-1", "door-1", "hub-1", "view-1")


def sentences() -> Iterator[tuple[str, str]]:
    """Yield (about, sentence) of every kind of sentence that is made of parts, from the demo site."""
    site = read(shipped())
    planned = plan(site)
    for question in questions(site):
        yield "Survey: questions", question.words
        for blank in question.blanks:
            yield "Survey: answers", f"{blank.before} … {blank.after}".strip()
            if blank.asks:
                yield "Survey: what is still asked", f"Please tell us {blank.asks}."
    for items in follows(site, planned).values():
        for item in items:
            yield "Survey: what follows", f"{item.message} {item.fix or ''}".strip()
    for problem in check(site):
        yield "Problems", f"{problem.message} {problem.fix or ''}".strip()
    for pattern in recording_of(site).patterns:
        for mend in mends_of(pattern, 2):
            yield "Recording: what can be put right", f"{mend.said}. {mend.press}."
    for lever in levers_of(site, "rec-1"):
        yield "Recording: what would keep what is promised", f"{lever.said}: {lever.detail}."
    for title in TITLES.values():
        yield "Bench: steps", title.format(name="Ticket hall east")
    settings = DeviceSettings(site, planned, 2026)
    for key in DEVICES:
        device = site.device_by_key[key]
        for step in contact(site, device, addresses=planned).steps:
            yield "Bench: first contact", step
        for group in settings.groups(device):
            for line in group.lines[:MOST_OF_A_GROUP]:
                yield "Bench: values", f"{group.title}: {line.label}: {line.value}. {line.why}"
    known = link_index(site, planned.addresses())
    for link in site.links:
        case = known.case(link)
        for gap in gaps(case) if case else ():
            yield "Links: what is missing", f"{gap.what}. {gap.nearest or ''}".strip()
    for checked in CHECKS:
        yield "Proof: checks", checked.title
        if checked.caution:
            yield "Proof: cautions", checked.caution
    asked = request(site, planned)
    for said in (*asked.own_ranges, *asked.outside, *asked.open):
        yield "Request to IT", said


def text() -> str:
    """Return the page: each sentence once, under what it is about."""
    found: dict[str, dict[str, None]] = {}
    for about, sentence in sentences():
        found.setdefault(about, {})[sentence] = None
    lines = ["# What the product says", "", "Made by `make tables` from the demo site, to be read aloud by a person."]
    for about, said in found.items():
        lines += ["", f"## {about}", "", *(f"- {sentence}" for sentence in said)]
    return "\n".join(lines) + "\n"


def main() -> int:
    """Write or check; return 1 where the page is old and only looked at."""
    fresh = text()
    if PATH.exists() and PATH.read_text("utf-8") == fresh:
        return 0
    if "--check" in sys.argv:
        print("docs/sentences.md is old: make tables")
        return 1
    PATH.write_text(fresh, "utf-8")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
