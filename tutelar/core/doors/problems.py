"""What is wrong with doors: panels that are not there, the wrong sense, no way out, more than their panel has."""

from collections.abc import Iterator, Sequence

from tutelar.core.problems import Problem, problem
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Site
from tutelar.core.wording import listed


def door_problems(site: Site) -> Iterator[Problem]:
    """Yield doors at panels that are not there, with the wrong sense, without a way out, or beyond their panel."""
    seats: dict[tuple[str, int], list[Door]] = {}
    held: dict[str, list[Door]] = {}
    for door in site.doors:
        if door.panel is not None and door.panel not in site.device_by_key:
            yield problem(
                "access.unknown",
                (door.key,),
                f"The door {door.label} hangs at '{door.panel}', which is not in the kit.",
                "Name the panel or door station that holds it, or add that one to the kit.",
            )
        if door.panel is not None:
            held.setdefault(door.panel, []).append(door)
            if door.number is not None:
                seats.setdefault((door.panel, door.number), []).append(door)
        yield from _sense(door)
    for (panel, number), doors in seats.items():
        if len(doors) > 1:
            names = listed([door.label for door in doors])
            yield problem(
                "door.number-taken",
                [door.key for door in doors],
                f"{names} are all door {number} of {site.label_of(panel)}.",
                "Give each a number of its own.",
            )
    for panel, doors in held.items():
        yield from _too_many(site, panel, doors)


def _too_many(site: Site, panel: str, doors: Sequence[Door]) -> Iterator[Problem]:
    device = site.device_by_key.get(panel)
    model = site.model_of(device) if device is not None else None
    most = model.capacity.doors if model is not None and model.capacity is not None else None
    if most is None or device is None:
        return
    beyond = [door for door in doors if door.number is not None and door.number > most]
    if beyond or len(doors) > most:
        which = f"{beyond[0].label} is number {beyond[0].number}" if beyond else f"{len(doors)} hang on it"
        yield problem(
            "door.too-many",
            [door.key for door in beyond or doors] + [panel],
            f"{device.label} has room for {most} doors; {which}.",
            "Take a panel with more doors, or a second one.",
        )


def _sense(door: Door) -> Iterator[Problem]:
    if door.lock in ("magnet", "strike-fail-safe") and door.relay == "no":
        what = "A magnet" if door.lock == "magnet" else "A fail-safe strike"
        yield problem(
            "door.relay-sense",
            (door.key,),
            f"{what} at {door.label} holds while current flows; on NO it would be free all the time.",
            "Wire it to C and NC, so that the relay cuts the current.",
        )
    if door.lock == "strike-fail-secure" and door.relay == "nc":
        yield problem(
            "door.relay-sense",
            (door.key,),
            f"A fail-secure strike at {door.label} opens while current flows; on NC it would be open all the time.",
            "Wire it to C and NO, so that the relay gives the current.",
        )
    if door.lock == "magnet" and door.exit_button is not True:
        yield problem(
            "door.no-exit",
            (door.key,),
            f"{door.label} has a magnet, and no exit button is known inside.",
            "Nobody gets out without one: put one in, and a way to cut the current by hand.",
        )
    if door.escape and door.lock == "strike-fail-secure":
        yield problem(
            "door.escape-fail-secure",
            (door.key,),
            f"{door.label} is for escape, and its strike stays shut without power.",
            "That it opens from inside by the handle alone has to be shown; the local fire code and those licensed for "
            "it decide.",
        )
