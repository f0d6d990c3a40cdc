"""Plugs moved between switches, against every way in which they could be plugged."""

from itertools import product
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.samples import document, read
from tutelar.core.check import check
from tutelar.core.loads.balance import after_moves, balance, wants_power
from tutelar.core.loads.budget import budgets, counted_watts

CLASSES = (1, 2, 3, 4)


def rack(switches: list[tuple[str, float, int, str]], plugs: list[tuple[int, int | None]]) -> Any:
    """Return a site of switches (place, budget, ports, how it counts) and cameras (class, switch or none)."""
    models: list[dict[str, Any]] = [
        {"key": f"cam-{number}", "family": "camera", "power": {"poe_class": number, "draw_w": 2.0 * number}}
        for number in CLASSES
    ]
    devices: list[dict[str, Any]] = []
    for at, (place, budget, ports, counts) in enumerate(switches):
        models.append(
            {"key": f"switch-{at}", "family": "switch", "ports": ports, "poe_budget_w": budget, "poe_reserves": counts}
        )
        devices.append({"key": f"s-{at}", "model": f"switch-{at}", "place": place})
    used = dict.fromkeys(range(len(switches)), 0)
    for number, (kind, where) in enumerate(plugs):
        row: dict[str, Any] = {"key": f"c-{number}", "model": f"cam-{kind}", "network": "lan", "place": "Yard"}
        if where is not None:
            used[where] += 1
            row["powered_by"] = {"device": f"s-{where}", "port": used[where]}
        devices.append(row)
    raw = document([])
    return read({**raw, "models": models, "devices": devices})


@st.composite
def racks(draw: st.DrawFn) -> Any:
    number = draw(st.integers(1, 3))
    switch = st.tuples(
        st.sampled_from(["Cupboard", "Cupboard", "Yard"]),
        st.sampled_from([10.0, 20.0, 31.0, 45.0, 60.0]),
        st.integers(1, 4),
        st.sampled_from(["class", "class", "draw"]),
    )
    switches = draw(st.lists(switch, min_size=number, max_size=number))
    at = st.none() | st.integers(0, number - 1)
    return rack(switches, draw(st.lists(st.tuples(st.sampled_from(CLASSES), at), max_size=6)))


def every_way(site: Any) -> tuple[int, int, float] | None:
    """Return (left out, moved, how full the fullest is) of the best of all ways; None where none holds."""
    rows = {row.device: row for row in budgets(site)}
    models = {key: site.model_of(site.device_by_key[key]) for key in rows}
    moving = [item for item in site.devices if item.powered_by is not None or wants_power(site, item)]
    best = None
    ways = []
    for device in moving:
        at = device.powered_by.device if device.powered_by else None
        own = site.device_by_key[at].place if at else None
        ways.append([key for key in rows if at is None or key == at or site.device_by_key[key].place == own])
        if at is None:
            ways[-1].append("")
    for way in product(*ways):
        watts, ports = dict.fromkeys(rows, 0.0), dict.fromkeys(rows, 0)
        for device, at in zip(moving, way, strict=True):
            if at:
                watts[at] += counted_watts(models[at], site.model_of(device))
                ports[at] += 1
        if any(watts[key] > (row.budget_w or 0) + 1e-6 or ports[key] > (row.ports or 0) for key, row in rows.items()):
            continue
        left = sum(not at for at in way)
        moved = sum(
            bool(at) and at != (d.powered_by.device if d.powered_by else "") for d, at in zip(moving, way, strict=True)
        )
        share = max((watts[key] / (row.budget_w or 1) for key, row in rows.items()), default=0.0)
        best = min(filter(None, (best, (left, moved, share))))
    return best


class Plugs(TestCase):
    @settings(max_examples=so_many(75, 600))
    @given(racks())
    def test_no_way_moves_fewer_or_leaves_fewer_out(self, site: Any) -> None:
        found, best = balance(site), every_way(site)
        if best is None:
            self.assertEqual(found.moves, ())
            return
        self.assertEqual((len(found.left), len(found.moves)), best[:2], found)
        then = after_moves(site, found.moves)
        self.assertFalse({"switch.over-budget", "switch.port-taken"} & {item.code for item in check(then)})
        for row in budgets(then):
            self.assertAlmostEqual(row.counts_w, found.counts_w[row.device])
            self.assertLessEqual(row.ports_used, row.ports or 0)
        for move in found.moves:
            if move.from_:
                self.assertEqual(site.device_by_key[move.from_].place, site.device_by_key[move.to].place)

    def test_a_swap_is_found_where_one_move_is_not_enough(self) -> None:
        site = rack([("Rack", 45.0, 2, "class"), ("Rack", 40.0, 2, "class")], [(4, 0), (3, 0), (2, 1), (1, 1)])
        found = {(move.device, move.to, move.port) for move in balance(site).moves}
        self.assertEqual(found, {("c-1", "s-1", 2), ("c-3", "s-0", 2)})  # the least full afterwards of all swaps

    def test_devices_of_another_place_stay_where_their_cable_reaches(self) -> None:
        site = rack([("Rack", 20.0, 4, "class"), ("Yard", 90.0, 8, "class")], [(3, 0), (3, 0)])
        self.assertEqual(balance(site).moves, ())
        beside = rack([("Rack", 20.0, 4, "class"), ("Rack", 90.0, 8, "class")], [(3, 0), (3, 0)])
        self.assertEqual([(move.device, move.to, move.port) for move in balance(beside).moves], [("c-0", "s-1", 1)])
