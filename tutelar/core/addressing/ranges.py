"""Sets of addresses as sorted, disjoint, inclusive spans of 32-bit numbers. Nothing is ever enumerated."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable

Span = tuple[int, int]


def merged(spans: Iterable[Span]) -> list[Span]:
    """Return the union of the spans, sorted and disjoint; backward spans hold nothing."""
    union: list[Span] = []
    for first, last in sorted(span for span in spans if span[0] <= span[1]):
        if union and first <= union[-1][1] + 1:
            union[-1] = (union[-1][0], max(last, union[-1][1]))
        else:
            union.append((first, last))
    return union


def without(spans: Iterable[Span], taken: Iterable[Span]) -> list[Span]:
    """Return what is left of `spans` (sorted, disjoint) when everything in `taken` is cut out."""
    holes = merged(taken)
    left: list[Span] = []
    start = 0
    for span_first, last in spans:
        first = span_first
        while start < len(holes) and holes[start][1] < first:
            start += 1
        for hole_first, hole_last in holes[start:]:
            if hole_first > last or first > last:
                break
            if hole_first > first:
                left.append((first, hole_first - 1))
            first = max(first, hole_last + 1)
        if first <= last:
            left.append((first, last))
    return left


def within(spans: Iterable[Span], bounds: Span) -> list[Span]:
    """Return the part of the spans that lies inside `bounds`."""
    low, high = bounds
    return [(max(first, low), min(last, high)) for first, last in spans if first <= high and last >= low]


def size(spans: Iterable[Span]) -> int:
    """Return how many addresses the disjoint spans hold."""
    return sum(last - first + 1 for first, last in spans)


def holds(spans: list[Span], number: int) -> bool:
    """Return whether the sorted, disjoint spans hold the number."""
    position = bisect_right(spans, (number, 1 << 33)) - 1
    return position >= 0 and spans[position][1] >= number


def all_inside(spans: list[Span], numbers: list[int]) -> bool:
    """Return whether the disjoint spans hold every one of the numbers."""
    row = sorted(numbers)
    return sum(bisect_right(row, last) - bisect_left(row, first) for first, last in spans) == len(row)


def first_of(spans: Iterable[Span], number: int) -> list[int]:
    """Return the lowest `number` members of the sorted spans, fewer where they hold fewer."""
    found: list[int] = []
    for first, last in spans:
        take = min(last - first + 1, number - len(found))
        if take <= 0:
            break
        found.extend(range(first, first + take))
    return found
