"""A firm's own cards as they are shown."""

from tutelar.core.cards import PHASES, items_of, read_cards
from tutelar.core.cards.facts import known_words
from tutelar.server.firmcards import schemas as shapes
from tutelar.server.firmcards.services import firm_row


def firm_sheet() -> shapes.FirmSheet:
    """Return every item, those that the firm does not use too."""
    row = firm_row()
    file = read_cards(row.file)
    own, off = {item.key for item in file.items}, set(file.off)
    return shapes.FirmSheet(
        edition=row.edition,
        by=row.by,
        items=[
            shapes.FirmItem(
                key=item.key,
                phase=item.phase,
                of=item.of,
                text=item.text,
                reason=item.reason,
                when=list(item.when),
                own=item.key in own,
                used=item.key in own or item.key not in off,
            )
            for item in items_of(file.model_copy(update={"off": ()}))
        ],
        file=row.file,
        words=[shapes.WordRow(word=word, says=says) for word, says in known_words().items()],
        phases=[shapes.WordRow(word=key, says=word) for key, word in PHASES.items()],
    )
