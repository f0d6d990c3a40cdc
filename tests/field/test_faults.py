"""Every fault alone and many combinations: the readings that should fail fail, and no other."""

import asyncio
import json
import random
from typing import Any, get_args
from unittest import TestCase

from tests import so_many
from tests.fault_rules import Failing, Rules, random_faults, random_site, recorded, site_of, table
from tests.field.steady import undisturbed
from tests.samples import around
from tutelar.core.planning import plan
from tutelar.core.proof import all_expectations
from tutelar.core.site import Reading, Site
from tutelar.field.guard import Guard
from tutelar.field.prove import Prover, targets_of
from tutelar.standin.faults import DOOR_FAULTS, Kind, read_faults
from tutelar.standin.loopback import loopback_port
from tutelar.standin.playing import PLAYED, WORDS
from tutelar.standin.site import StandIn


async def sweep(site: Site, faults: list[dict[str, Any]]) -> list[Reading]:
    late = any(fault["kind"] in ("slow", "half-open") for fault in faults)
    timeout_s = 0.5 if late else 2.0

    async def measure() -> list[Reading]:
        async with StandIn(site, read_faults(json.dumps({"faults": faults}), site), yields=True) as pretend:
            wanted = all_expectations(site, plan(site).assignments)
            targets = targets_of(pretend.targets(), loopback_port, site)
            prover = Prover(Guard(), timeout_s=timeout_s)
            return [item async for batch in prover.readings(site, wanted, targets) for item in batch]

    return await undisturbed(measure, timeout_s)


def failing(readings: list[Reading]) -> Failing:
    return {(item.device, item.check) for item in readings if item.result in ("fail", "silent")}


PLAYED_AT = ("cam-07", "rec-1", "gate-1", "view-2", "enc-1", "door-1", "hub-1")


class EachFault(TestCase):
    def test_each_kind_alone_shows_where_the_table_says(self) -> None:
        site = site_of(recorded(around(PLAYED_AT)))
        rows = table()
        self.assertEqual(set(rows) | {"gateway-down", "dns-down", "provider-down", *DOOR_FAULTS}, set(get_args(Kind)))
        self.assertEqual(set(rows) | DOOR_FAULTS, set(PLAYED))
        self.assertEqual(set(get_args(Kind)), set(WORDS))

        async def play() -> None:
            for number, (kind, (own, others)) in enumerate(rows.items()):
                turned = [*PLAYED_AT[number % 7 :], *PLAYED_AT[: number % 7]]
                for key in turned[: so_many(1, len(PLAYED_AT))]:
                    more = (
                        {"loss": 0.5}
                        if kind == "cable" and key == "cam-07"
                        else {"loss": 1.0}
                        if kind == "cable"
                        else {}
                    )
                    more |= {"seconds": 60} if kind == "flapping" else {"seconds": 1.5} if kind == "slow" else {}
                    fault = {"kind": kind, "device": key} | more
                    readings = await sweep(site, [fault])
                    found = failing(readings)
                    self.assertEqual(found, Rules(site, [fault]).failing(), fault)
                    mine = {check for device, check in found if device == key}
                    services = set(site.services_of(site.device_by_key[key]))
                    allowed = (
                        set(own)
                        | ({"linked"} if "linked" in others else set())
                        | ({"relay"} if "relay" in others else set())
                    )
                    self.assertLessEqual(mine, allowed | (services if kind == "port-changed" else set()), fault)
                    self.assertLessEqual({check for device, check in found if device != key}, set(others), fault)

        asyncio.run(play())


class Combinations(TestCase):
    def test_combinations_on_random_sites(self) -> None:
        async def play() -> None:
            for seed in range(so_many(25, 200)):
                dice = random.Random(seed)
                site = random_site(dice)
                faults = random_faults(dice, site)
                with self.subTest(seed=seed, faults=faults):
                    readings = await sweep(site, faults)
                    self.assertEqual(failing(readings), Rules(site, faults).failing())
                    self.assertTrue(all(item.measured for item in readings))

        asyncio.run(play())
