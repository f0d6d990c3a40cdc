"""A reader at a door of a panel: wiring, door number, and a card format that both understand."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import EndValue, Gap, Kind, Need, Number, ResolvedLink, Test
from tutelar.core.links.kinds.monitor_at_station import ESCAPE
from tutelar.core.links.needs import number, set_up


def _doors(case: ResolvedLink) -> tuple[int, int | None]:
    model = case.site.model_of(case.end) if case.end else None
    return 1, model.capacity.doors if model and model.capacity else None


def _both(case: ResolvedLink) -> tuple[tuple[int, ...] | None, tuple[int, ...] | None]:
    reads = case.site.model_of(case.start)
    knows = case.site.model_of(case.end) if case.end else None
    return reads.card_bits if reads else None, knows.card_bits if knows else None


def _card(case: ResolvedLink) -> Gap | None:
    reads, knows = _both(case)
    if reads is None or knows is None or set(reads) & set(knows):
        return None
    said = f"{case.start.label} sends cards of {_bits(reads)} bits, and {case.to} understands {_bits(knows)}"
    return Gap("card", said, "kit", never=True, nearest="Choose a reader and a format that both understand")


def _bits(lengths: tuple[int, ...]) -> str:
    return " or ".join(map(str, lengths))


def common_bits(case: ResolvedLink) -> int | None:
    """Return the longest card number that both understand, None where that is not known."""
    reads, knows = _both(case)
    both = set(reads or knows or ()) & set(knows or reads or ())
    return max(both) if both else None


card = Need(
    "card", lambda case: f"Both understand cards of {common_bits(case) or 'a length not known yet'} bits", _card
)


def _values(case: ResolvedLink) -> Iterator[EndValue]:
    door = f"Door{'' if case.link.slot is None else f' {case.link.slot}'}"
    key = f"partner-reads-for-{case.start.key}"
    side = {"in": "outside, going in", "out": "inside, going out"}.get(case.link.side or "", "one side")
    yield EndValue("to", Line(key, f"{door}, reader {side}", case.start.label, "The panel shows it by this name."))
    bits = common_bits(case)
    if bits is not None:
        yield EndValue(
            "to",
            Line(
                f"{key}-bits",
                f"{door}, card length",
                f"{bits} bits",
                "As the reader sends it; 26 are facility code and card number, with parity.",
            ),
        )
    yield EndValue(
        "from",
        Line(
            f"wired-{case.link.to}",
            "Wired to",
            f"{case.to}, {door.lower()}",
            "The wire decides, not a setting: follow it to the clamp.",
        ),
    )


KIND = Kind(
    key="reader-at-door",
    word="reads-for",
    title="Reader at a door",
    says="{from} reads for {to}",
    group="Doors",
    starts=frozenset({"reader", "keypad", "door-station", "doorbell", "camera", "other"}),
    ends=frozenset({"panel", "door-station"}),
    needs=(number, card, set_up),
    number=Number("door", _doors),
    asks=("control",),
    values=_values,
    tests=(
        Test("card", "Card read", lambda case: f"the number that {case.to} shows is the one printed on the card"),
        Test("refused", "Card refused", lambda case: f"an unknown card at {case.start.label} opens nothing"),
        Test("normal", "Door as before", lambda case: f"door {case.link.slot} of {case.to} is locked again"),
    ),
    renumbered="address of the panel",
    caution=ESCAPE,
    expected=frozenset({"reader"}),
)
