"""Job cards as they are shown."""

from tutelar.core.cards import AT_ONCE, PHASES, WHO, Card, Row, cards_of, first_phase
from tutelar.core.cards.card import OF_ALL, PHOTO, VALUE
from tutelar.server import models
from tutelar.server.cards import queries
from tutelar.server.cards import schemas as shapes
from tutelar.server.store import documents


def cards_sheet(row: models.Site, phase: str) -> shapes.CardsSheet:
    """Return the cards of a site that have items in a phase ("": the one whose turn it is), in walking order."""
    site = documents.document(row)
    cards = cards_of(site, queries.items())
    turn = first_phase(cards)
    chosen = next((key for key in PHASES if key == phase), turn)
    return shapes.CardsSheet(
        phases=[
            shapes.PhaseRow(
                key=key,
                word=word,
                open=sum(card.open_in(key) for card in cards),
                all=sum(1 for card in cards for line in card.rows if line.item.phase == key),
            )
            for key, word in PHASES.items()
        ],
        phase=chosen,
        turn=turn,
        cards=[
            shapes.CardShort(
                subject=card.subject,
                name=card.device.label if card.device is not None else "The whole site",
                place=card.device.place if card.device is not None else None,
                model=site.model_by_key[card.device.model].label
                if card.device is not None and card.device.model in site.model_by_key
                else None,
                open=card.open_in(chosen),
                all=sum(1 for line in card.rows if line.item.phase == chosen),
            )
            for card in cards
            if any(line.item.phase == chosen for line in card.rows)
        ],
        empty=not site.devices,
    )


def card_out(row: models.Site, card: Card) -> shapes.CardOut:
    """Return one card with all its items."""
    now = {line.item.key for line in card.now}
    return shapes.CardOut(
        subject=card.subject,
        name=card.device.label if card.device is not None else "The whole site",
        place=card.device.place if card.device is not None else None,
        rows=[_line(line, line.item.key in now) for line in card.rows],
        open=sum(1 for line in card.rows if line.open),
        at_once=AT_ONCE,
    )


def _line(line: Row, now: bool) -> shapes.ItemRow:
    item, tick = line.item, line.tick
    shown = (tick.model_extra or {}) if tick is not None else {}
    return shapes.ItemRow(
        key=item.key,
        phase=item.phase,
        text=item.text,
        reason=item.reason,
        who=WHO[item.who],
        caution=item.caution,
        kind=item.evidence.kind,
        asks=item.evidence.asks,
        unit=item.evidence.unit,
        in_words=item.evidence.text,
        options=[shapes.SchoolRow(word=option.word, why=option.why) for option in item.evidence.options],
        state=line.state,
        waits_for=line.waits_for,
        now=now,
        by=tick.by if tick is not None else None,
        at=tick.at if tick is not None else None,
        note=tick.note if tick is not None else None,
        value=shown.get(VALUE),
        of=shown.get(OF_ALL),
        photo=shown.get(PHOTO),
        right=line.verdict.right if line.verdict is not None else None,
        said=line.verdict.said if line.verdict is not None else None,
        listed=list(line.listed),
    )
