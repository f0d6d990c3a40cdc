"""Who waits for whom: an order in which everybody comes after those he waits for, and the circles in which nobody can.

Both by `graphlib` of the standard library (Kahn's topological sorting), in the order in which things were given.
"""

from collections.abc import Iterable, Mapping
from graphlib import CycleError, TopologicalSorter
from typing import TypeVar

Node = TypeVar("Node", bound="int | str")


def in_order(waits: Mapping[Node, Iterable[Node]]) -> list[Node]:
    """Return the nodes so that each comes after those it waits for. Raises CycleError where they wait in a circle."""
    return list(TopologicalSorter(waits).static_order())


def circles(waits: Mapping[Node, Iterable[Node]]) -> list[list[Node]]:
    """Return circles of nodes each of which waits for the next one; without them the rest can be put in order."""
    left = {node: list(others) for node, others in waits.items()}
    place = {node: at for at, node in enumerate(left)}
    found: list[list[Node]] = []
    while (circle := _one(left)) is not None:
        first = min(range(len(circle)), key=lambda at: place.get(circle[at], len(place)))
        found.append(circle[first:] + circle[:first])
        for node in circle:
            left[node] = [other for other in left[node] if other not in circle]
    return sorted(found, key=lambda nodes: place.get(nodes[0], len(place)))


def _one(waits: Mapping[Node, Iterable[Node]]) -> list[Node] | None:
    try:
        TopologicalSorter(waits).prepare()
    except CycleError as error:
        nodes: list[Node] = error.args[1][1:]
        return nodes[::-1]  # graphlib names who is waited for before who waits
    return None
