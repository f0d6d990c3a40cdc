"""Clock rules of all zones for eleven years, against zoneinfo finding the same turns. Goal: under 10 times."""

from datetime import UTC, datetime, timedelta
from time import perf_counter
from zoneinfo import ZoneInfo

from tutelar.core.clock import clock_rule, zone_named, zone_names

FIRST, YEARS = 2026, 11


def main() -> None:
    zones = [zone_named(name) for name in zone_names()]
    start = perf_counter()
    turns = sum(_turns(zone) for zone in zones)
    reference = perf_counter() - start
    start = perf_counter()
    for name in zone_names():
        clock_rule(name, FIRST, YEARS)
    ours = perf_counter() - start
    print(
        f"clock rules of {len(zones)} zones, {YEARS} years: {ours:.2f} s; zoneinfo finds their {turns} turns in "
        f"{reference:.2f} s: {ours / reference:.2f} times (goal < 10)"
    )


def _turns(zone: ZoneInfo) -> int:
    """Return how many turns zoneinfo shows when it is asked for the offset of each day, then of each second between."""
    day, end, found = datetime(FIRST, 1, 1, tzinfo=UTC), datetime(FIRST + YEARS, 1, 1, tzinfo=UTC), 0
    before = day.astimezone(zone).utcoffset()
    while day < end:
        following = day + timedelta(days=1)
        after = following.astimezone(zone).utcoffset()
        if after != before:
            low, high = day, following
            while high - low > timedelta(seconds=1):
                middle = low + (high - low) // 2
                low, high = (middle, high) if middle.astimezone(zone).utcoffset() == before else (low, middle)
            found += 1
        day, before = following, after
    return found


if __name__ == "__main__":
    main()
