"""Questions to others as they are shown."""

from django.utils import timezone

from tutelar.core.site.closing import WHOM
from tutelar.core.survey.asked import next_of, state_of, suggested
from tutelar.core.wording import capital
from tutelar.server import models
from tutelar.server.asked import schemas as shapes
from tutelar.server.schemas import Option
from tutelar.server.store import documents


def asked_sheet(row: models.Site) -> shapes.AskedSheet:
    """Return the questions of a site, those without an answer first, and those that are usual."""
    site, today = documents.document(row), timezone.localdate()
    order = list(WHOM)
    kept = sorted(site.asked, key=lambda item: (order.index(item.of), not item.open))
    turn = next_of(kept, today)
    return shapes.AskedSheet(
        next=turn.key if turn is not None else None,
        questions=[
            shapes.AskedRow(
                key=item.key,
                of=item.of,
                question=item.question,
                holds=item.holds or "",
                person=item.person or "",
                asked=item.asked,
                due=item.due,
                answer=item.answer,
                answered=item.answered,
                by=item.by or "",
                state=state_of(item, today),
            )
            for item in kept
        ],
        suggested=[
            shapes.SuggestedRow(key=item.key, of=item.of, question=item.question, holds=item.holds)
            for item in suggested(site)
        ],
        whom=[Option(value=key, word=capital(word)) for key, word in WHOM.items()],
        waiting=sum(item.open for item in kept),
    )
