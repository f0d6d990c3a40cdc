"""What is fed, cabled and sent, against sums made another way, and the worked examples of the docs."""

from itertools import combinations
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.check import check
from tutelar.core.loads.budget import PORT_WATTS, budgets, fewest_to_move
from tutelar.core.loads.cables import cables, gauge_area, resistance, sizes_for, volts_at_end
from tutelar.core.loads.earth import earths
from tutelar.core.loads.patch import patches
from tutelar.core.loads.whole import load_problems, loads_of
from tutelar.core.site import UnreadableSite
from tutelar.core.site.model import Power

SWITCH = {"key": "sw", "family": "switch", "ports": 10, "poe_budget_w": 60, "services": {"web": 80}}


def house(devices: list[dict[str, Any]], *models: dict[str, Any], **more: Any) -> Any:
    """Return a site with a switch model beside the usual ones."""
    raw = document(devices, **more)
    raw["models"] += [SWITCH, *models]
    return read(raw)


class Ports(TestCase):
    @given(st.lists(st.sampled_from([None, 0, 1, 2, 3, 4, 5]), max_size=7), st.integers(0, 120), st.booleans())
    def test_a_budget_is_the_sum_of_its_ports_and_the_fewest_go(
        self, classes: list[int | None], budget: int, by_draw: bool
    ) -> None:
        models = [
            {"key": f"m{at}", "family": "camera", "power": {"poe_class": poe, "draw_w": 3.5 + at, "peak_w": 4 + 2 * at}}
            for at, poe in enumerate(classes)
        ]
        rows = [device(at + 1, f"m{at}", powered_by={"device": "d-90"}) for at in range(len(classes))]
        switch = SWITCH | {"poe_budget_w": budget, "poe_reserves": "draw" if by_draw else "class"}
        raw = document([*rows, device(90, "sw")])
        raw["models"] += [*models, switch]
        site = read(raw)
        row = next(item for item in budgets(site) if item.device == "d-90")
        reserved = [PORT_WATTS[poe or 0] for poe in classes]
        peaks = [4 + 2 * at for at in range(len(classes))]
        self.assertAlmostEqual(row.by_class_w, sum(reserved))
        self.assertAlmostEqual(row.by_draw_w, sum(3.5 + at for at in range(len(classes))))
        self.assertAlmostEqual(row.by_peak_w, sum(peaks))
        watts = {f"d-{at + 1}": float((peaks if by_draw else reserved)[at]) for at in range(len(classes))}
        self.assertAlmostEqual(row.spare_w or 0, budget - sum(watts.values()))
        over = sum(watts.values()) - budget
        codes = [item.code for item in load_problems(site)]
        self.assertEqual("switch.over-budget" in codes, over > 0)
        self.assertEqual("switch.no-margin" in codes, over <= 0 and sum(peaks) * 1.2 > budget)
        if over > 0:
            gone = fewest_to_move(watts, over)
            enough = [
                (size, round(sum(watts[key] for key in some), 6))
                for size in range(len(watts) + 1)
                for some in combinations(watts, size)
                if sum(watts[key] for key in some) >= over - 1e-6
            ]
            self.assertEqual((len(gone), round(sum(watts[key] for key in gone), 6)), min(enough))

    def test_a_port_counts_once_and_the_uplink_counts(self) -> None:
        site = house(
            [
                device(1, powered_by={"device": "d-90", "port": 1}, plugged_into={"device": "d-90", "port": 1}),
                device(2, plugged_into={"device": "d-90"}),
                device(3, "larkmoor-rec-8", plugged_into={"device": "d-90", "port": 2}),
                device(90, "sw", plugged_into={"device": "d-91", "port": 9}),
                device(91, "sw"),
            ]
        )
        used = {row.device: row.ports_used for row in budgets(site) if row.device in ("d-90", "d-91")}
        self.assertEqual(used, {"d-90": 4, "d-91": 1})


class Uplinks(TestCase):
    def site(self, recorder_at: str | None) -> Any:
        """Return four cameras at the lower of two switches, their recorder elsewhere."""
        cameras = [device(at, plugged_into={"device": "d-90"}) for at in range(1, 5)]
        end = {"plugged_into": {"device": recorder_at}} if recorder_at else {}
        links = [{"kind": "records", "from": f"d-{at}", "to": "d-9", "slot": at} for at in range(1, 5)]
        switches = [
            device(90, "sw", plugged_into={"device": "d-91"}),
            device(91, "sw", plugged_into={"device": "d-92"}),
        ]
        return house([*cameras, device(9, "larkmoor-rec-8", **end), *switches, device(92, "sw")], links=links)

    def test_a_stream_loads_the_uplinks_between_its_ends(self) -> None:
        mbps = 4 * 4.096
        for at, lower, upper in (("d-90", 0, 0), ("d-91", mbps, 0), ("d-92", mbps, mbps), (None, mbps, mbps)):
            rows = {row.device: row.mbps for row in loads_of(self.site(at)).uplinks}
            self.assertEqual(set(rows), {"d-90", "d-91"})
            self.assertAlmostEqual(rows["d-90"], lower)
            self.assertAlmostEqual(rows["d-91"], upper)

    def test_a_full_uplink_and_a_circle_are_said(self) -> None:
        narrow = SWITCH | {"key": "slow", "uplink_mbps": 20}
        raw = self.site("d-92").model_dump(mode="json", by_alias=True, exclude_unset=True)
        raw["models"].append(narrow)
        raw["devices"][5]["model"] = "slow"
        self.assertIn("uplink.over", [item.code for item in load_problems(read(raw))])
        raw["devices"][7]["plugged_into"] = {"device": "d-90"}
        site = read(raw)
        self.assertIn("uplink.circle", [item.code for item in check(site)])
        self.assertEqual(loads_of(site).uplinks, [])


class Cables(TestCase):
    @given(st.floats(1, 200), st.sampled_from([0.5, 1.5, 4.0]), st.floats(-20, 60), st.floats(1, 60), st.booleans())
    def test_what_arrives_closes_the_circuit(
        self, metres: float, area: float, celsius: float, load: float, by_current: bool
    ) -> None:
        ohms = resistance(metres, area, celsius)
        power = Power(amps=load / 20) if by_current else Power(draw_w=load)
        volts = volts_at_end(24.0, ohms, power)
        if volts is None:
            self.assertGreater(4 * load * ohms, 24.0**2)  # no current makes it run
            return
        amps = load / 20 if by_current else load / volts
        self.assertAlmostEqual(24.0 - amps * ohms, volts, places=6)
        self.assertTrue(by_current or volts >= 12)  # of two solutions the one that runs

    def test_the_worked_example_of_the_docs(self) -> None:
        gate = {"key": "gate", "family": "door-station", "power": {"draw_w": 9, "peak_w": 12, "dc_min_v": 21}}
        supply = {"key": "psu", "kind": "dc", "volts": 24, "rated_w": 15}
        fed = {"supply": "psu", "m": 55, "mm2": 0.75}
        site = house([device(1, "gate", fed=fed, cable_m=104)], gate, supplies=[supply])
        data, wire = cables(site)
        self.assertEqual((data.ok, data.limit_m), (False, 100))
        self.assertAlmostEqual(wire.volts or 0, 22.6609, places=4)
        self.assertEqual((wire.ok, wire.smallest_ok), (True, 0.5))
        codes = {item.code: item.level for item in load_problems(site)}
        self.assertEqual(codes, {"cable.too-long": "warning"})
        self.assertAlmostEqual(gauge_area(16), 1.3087, places=4)

    def test_a_gauge_and_an_area_together_are_refused(self) -> None:
        with self.assertRaises(UnreadableSite) as caught:
            house([device(1, fed={"supply": "psu", "m": 5, "mm2": 1.5, "awg": 16})])
        self.assertIn("given together", caught.exception.faults[0][1])


class Supplies(TestCase):
    def test_batteries_last_as_long_as_their_watt_hours(self) -> None:
        battery = {"volts": 12, "ah": 9, "count": 2, "depth": 0.8, "efficiency": 0.85}
        supply = {"key": "ups", "kind": "ups", "volts": 24, "rated_w": 200, "wanted_min": 240, "battery": battery}
        camera = {"key": "cam", "family": "camera", "power": {"poe_class": 3, "draw_w": 6, "peak_w": 10}}
        rows = [device(90, "sw", fed={"supply": "ups"})]
        rows += [device(at, "cam", powered_by={"device": "d-90", "port": at}) for at in range(1, 5)]
        site = house(rows, camera, supplies=[supply])
        (row,) = loads_of(site).supplies
        self.assertEqual((row.load, row.spare, row.ok), (40.0, 160.0, True))
        self.assertAlmostEqual(row.minutes or 0, 12 * 9 * 2 * 0.8 * 0.85 / 40 * 60)
        self.assertAlmostEqual(row.needed_ah or 0, 40 * 4 / (24 * 0.8 * 0.85))
        self.assertLess(abs((row.needed_ah or 0) / 9 - 240 / (row.minutes or 1)), 1e-9)
        self.assertIn("supply.too-short", [item.code for item in load_problems(site)])

    def test_a_supply_that_feeds_itself_through_a_switch_counts_each_device_once(self) -> None:
        rows = [
            device(90, "sw", fed={"supply": "psu"}, powered_by={"device": "d-91"}),
            device(91, "sw", powered_by={"device": "d-90"}),
        ]
        site = house(rows, supplies=[{"key": "psu", "kind": "dc", "volts": 24, "rated_w": 10}])
        self.assertEqual([row.load for row in loads_of(site).supplies], [0.0])

    def test_locks_take_what_a_panel_has_left(self) -> None:
        power = {"poe_class": 4, "lock_supply": {"volts": 12, "efficiency": 0.85, "own_w": 6}}
        panel = {"key": "panel", "family": "panel", "power": power}
        doors = [{"key": f"door-{at}", "panel": "d-1", "lock_a": 0.48} for at in (1, 2, 3)]
        rows = [device(1, "panel", powered_by={"device": "d-90", "port": 1}), device(90, "sw")]
        (row,) = loads_of(house(rows, panel, doors=doors)).panels
        self.assertAlmostEqual(row.lock_a_free, (25.5 * 0.85 - 6) / 12)
        self.assertEqual((round(row.lock_a_wanted, 2), row.ok), (1.44, False))


class FromOutside(TestCase):
    def test_viewers_share_what_is_left_of_the_upstream(self) -> None:
        raw = document([device(1)], internet={"upstream_mbps": 18})
        raw["models"][0]["streams"] |= {"sub": {"width": 704, "height": 576, "fps": 10, "codec": "h264", "kbps": 512}}
        raw["links"] = [{"kind": "relays", "from": "d-2", "to": "relay"}]  # what shows no pictures says nothing of them
        raw["devices"].append(device(2, "pellgrave-gate-1"))
        line = loads_of(read(raw), viewers=4).internet
        assert line is not None
        self.assertEqual((line.usable_mbps, line.main_viewers, line.sub_viewers), (14.4, 3, 28))
        self.assertEqual([mix[3] for mix in line.mixes], [False, True, True, True, True])
        self.assertAlmostEqual(line.mixes[1][2], 3 * 4.096 + 0.512)


class PlugsAndEarths(TestCase):
    def test_a_patch_map_says_what_is_in_which_port_and_why(self) -> None:
        rows = [
            device(1, powered_by={"device": "d-90", "port": 3}),
            device(2, powered_by={"device": "d-90", "port": 1}, plugged_into={"device": "d-90", "port": 1}),
            device(3, plugged_into={"device": "d-90"}),
            device(4, "larkmoor-rec-8", plugged_into={"device": "d-91", "port": 8}),
            device(90, "sw"),
            device(91, "sw", plugged_into={"device": "d-90", "port": 10}),
        ]
        found = {item.device: item for item in patches(house(rows))}
        self.assertEqual(
            [tuple(plug) for plug in found["d-90"].plugs],
            [(1, "d-2", "powers"), (3, "d-1", "powers"), (10, "d-91", "uplink"), (None, "d-3", "data")],
        )
        self.assertEqual((found["d-91"].uplink, found["d-91"].plugs[0].role), ("d-90", "data"))

    @given(st.sampled_from(["mm2", "awg"]), st.integers(1, 120), st.floats(1, 30), st.floats(9, 12))
    def test_sizes_are_those_that_the_cable_itself_would_have(
        self, kind: str, metres: int, watts: float, least: float
    ) -> None:
        model = {"key": "lamp", "family": "other", "power": {"peak_w": watts, "dc_min_v": least}}
        fed = {"supply": "psu", "m": metres, kind: 1.5 if kind == "mm2" else 16}
        supplies = [{"key": "psu", "kind": "dc", "volts": 12}]
        site = house([device(1, "lamp", fed=fed)], model, supplies=supplies)
        row = next(item for item in cables(site) if item.kind == "supply")
        found = sizes_for(site, site.devices[0])
        same = next(item for item in found if item.size == fed[kind])
        self.assertEqual((same.volts, same.ok), (row.volts, row.ok))
        self.assertEqual(next((item.size for item in found if item.ok), None), row.smallest_ok)

    def test_an_earth_conductor_is_compared_with_the_sheet_and_nothing_more(self) -> None:
        rows = [
            device(1, **{"x-earth": {"mm2": 4, "m": 12, "least_mm2": 6, "most_m": 10}}),
            device(2, **{"x-earth": {"mm2": 6, "least_mm2": 6}}),
            device(3, **{"x-earth": {"mm2": 6}}),
            device(4, **{"x-earth": {"mm2": "thick"}}),
            device(5),
        ]
        found = {item.device: item for item in earths(house(rows))}
        self.assertEqual(list(found), ["d-1", "d-2", "d-3"])
        self.assertEqual(len(found["d-1"].findings), 2)
        self.assertIn("4 mm² is less than the 6 mm²", found["d-1"].findings[0])
        self.assertEqual((found["d-2"].findings, found["d-2"].compared), ([], True))
        self.assertFalse(found["d-3"].compared)

    def test_lengths_are_said_in_feet_where_the_site_does(self) -> None:
        site = house([device(1, cable_m=120)])
        site = site.model_copy(update={"about": site.about.model_copy(update={"units": "imperial"})})
        said = [item.message for item in load_problems(site) if item.code == "cable.too-long"]
        self.assertEqual(said, ["The network cable of Device 1 is 393.7 ft long; at most 328.1 ft hold."])
