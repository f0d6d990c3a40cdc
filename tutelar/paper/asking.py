"""Letters with questions to others, one page each; and the job cards on paper, for whoever wants paper only."""

from collections.abc import Sequence
from datetime import date

from reportlab.platypus import Flowable, HRFlowable, PageBreak, Spacer

from tutelar.core.cards import PHASES, Card, Item
from tutelar.core.site.closing import WHOM
from tutelar.core.site.types import Site
from tutelar.core.survey.asked import letter_line
from tutelar.core.wording import capital, spoken_date
from tutelar.paper.page import INK, TITLE, heading, lines, pdf, signatures, words


def letters_pdf(site: Site, today: date) -> bytes:
    """Return a page for each of those who have a question without an answer; one that says so where nobody has."""
    story: list[Flowable] = []
    for whom, word in WHOM.items():
        open_ = [item for item in site.asked if item.of == whom and item.open]
        if not open_:
            continue
        person = next((item.person for item in open_ if item.person), None)
        survey = site.survey
        story += [PageBreak()] if story else []
        story += [
            words(f"Questions to {word}", TITLE),
            words(" · ".join(filter(None, (site.about.title, person and f"for {person}", spoken_date(today))))),
            words(f"From: {survey.installer or 'the installer'}, telephone {survey.installer_telephone or 'not said'}"),
            HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=6),
        ]
        for number, item in enumerate(open_, 1):
            story += [heading(f"{number}. {letter_line(item)}"), Spacer(1, 18)]
            story += [HRFlowable(width="100%", thickness=0.4, color=INK, spaceAfter=6)]
        story += [Spacer(1, 10), signatures([f"Answered for {word}"])]
    return pdf("Questions", site.about.title, today, story or [words("Nobody is asked anything.")])


def cards_pdf(site: Site, cards: Sequence[Card], today: date) -> bytes:
    """Return the open items of every card, in walking order, each with a box to be ticked by hand."""
    story: list[Flowable] = [words("Job cards", TITLE), words(f"{site.about.title} · {spoken_date(today)}")]
    for card in cards:
        open_ = [row.item for row in card.rows if row.open]
        if not open_:
            continue
        place = f", {card.device.place}" if card.device is not None and card.device.place else ""
        name = f"{card.device.label} ({card.device.key}){place}" if card.device is not None else "The whole site"
        story.append(heading(name))
        for phase, word in PHASES.items():
            rows = [item for item in open_ if item.phase == phase]
            if rows:
                cautions = {item.caution for item in rows if item.caution}
                story += [words(f"{capital(word)}.{' Mind: ' if cautions else ''}{' '.join(sorted(cautions))}")]
                story += lines(map(_to_tick, rows), box=True)
    return pdf("Job cards", site.about.title, today, story)


def _to_tick(item: Item) -> str:
    asks = item.evidence.asks
    return f"{item.text} ({asks}: ________)" if asks else item.text
