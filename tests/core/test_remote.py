"""Remote access: its steps in their order, what holds what, and devices bought used."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.planning import plan
from tutelar.core.reach import Ends
from tutelar.core.remote import METHODS, Standing, item_of, method_of, standing_of, tied_devices
from tutelar.core.remote.steps import STEPS, USED, Known

TICKED = [item_of(step.item, used=False) for step in STEPS if not step.only_so]
NONE, ALL = Known(), Known(code=True, online=True, picture=True)


def site(*, used: bool = False, **more: Any) -> Any:
    raw = document([device(1, used=used, address="10.20.30.60"), device(2)], **more)
    raw.setdefault("internet", {"connection": "line"})
    raw["links"] = [{"kind": "relays", "from": "d-1", "to": "relay"}]
    return read(raw)


def standing(known: Known = NONE, **more: Any) -> Standing:
    found = site(**more)
    return standing_of(found, found.device_by_key["d-1"], Ends(found, plan(found)), known)


def states(found: Standing) -> dict[str, str]:
    return {step.step.item: step.state for step in found.steps}


def ticks(*items: str, state: str = "done") -> list[dict[str, str]]:
    return [{"subject": "d-1", "item": item, "state": state, "by": "Maren"} for item in items]


class Steps(TestCase):
    def test_one_step_is_open_and_holds_the_others(self) -> None:
        found = standing()
        self.assertEqual(states(found)["way-out"], "done")
        self.assertEqual(found.next and found.next.step.item, "relay-on")
        self.assertEqual(set(states(found).values()), {"done", "open", "waits"})
        self.assertEqual({step.waits_for for step in found.steps if step.state == "waits"}, {"Relay switched on"})

    def test_without_a_way_out_nothing_else_has_its_turn(self) -> None:
        for more in ({"internet": {"connection": "none"}}, {"network": {"dns": []}}, {"network": {"gateway": None}}):
            found = standing(**more)
            self.assertEqual(found.next and found.next.step.item, "way-out", more)
            self.assertIsNone(next((step for step in found.steps if step.step.item == "way-out" and step.tick), None))

    def test_readings_the_vault_and_the_account_do_their_steps_by_themselves(self) -> None:
        ours = [{"device": "d-1", "state": "ours", "account": "customer"}]
        found = standing(ALL, checklist=ticks("remote-relay-on", "remote-terms", "remote-rights"), ownership=ours)
        self.assertEqual(set(states(found).values()), {"done"})
        self.assertIsNone(found.next)
        installers = [{"device": "d-1", "state": "ours", "account": "installer"}]
        found = standing(ALL, checklist=ticks(*TICKED), ownership=installers)
        self.assertEqual((states(found)["registered"], states(found)["unbound"]), ("open", "done"))

    def test_what_is_bound_to_somebody_is_never_ticked_away(self) -> None:
        bound = [{"device": "d-1", "state": "bound", "account": "former"}]
        found = standing(ALL, checklist=ticks(*TICKED, "remote-unbound"), ownership=bound)
        self.assertEqual(states(found)["unbound"], "open")

    def test_a_used_device_goes_through_its_own_steps_first(self) -> None:
        found = standing(ALL, used=True, checklist=ticks("used-purchase"))
        self.assertEqual([step.step.item for step in found.steps], [step.item for step in (*USED, *STEPS)])
        self.assertEqual(found.next and found.next.item, "used-released")
        self.assertEqual([item.key for item in tied_devices(site(used=True))], ["d-1"])

    @given(
        st.sets(st.sampled_from([*TICKED, *(item_of(step.item, used=True) for step in USED)])),
        st.sampled_from(["unknown", "released", "ours", "bound"]),
        st.booleans(),
        st.builds(Known, st.booleans(), st.booleans(), st.booleans()),
    )
    def test_at_most_one_step_is_open_and_only_what_follows_it_waits(
        self, done: set[str], owner: str, used: bool, known: Known
    ) -> None:
        owned = [{"device": "d-1", "state": owner, "account": "customer"}]
        found = standing(known, used=used, checklist=ticks(*sorted(done)), ownership=owned)
        order = [step.state for step in found.steps]
        self.assertLessEqual(order.count("open"), 1)
        first = order.index("open") if "open" in order else len(order)
        self.assertNotIn("waits", order[:first])
        self.assertEqual(found.next, found.steps[first] if first < len(order) else None)
        if owner == "bound":
            self.assertNotEqual(order, ["done"] * len(order))


class Methods(TestCase):
    def test_the_chosen_way_is_read_and_nonsense_is_no_way(self) -> None:
        self.assertIsNone(method_of(site()))
        chosen = {"method": "vpn", "why": "IT has one", "by": "Maren"}
        self.assertEqual(
            method_of(site(**{"x-remote": chosen})), ("vpn", {"why": "IT has one", "by": "Maren", "at": ""})
        )
        for nonsense in ("vpn", {"method": "tin can"}, {"why": "?"}, []):
            self.assertIsNone(method_of(site(**{"x-remote": nonsense})))
        self.assertTrue(all(way.risk and way.reason for way in METHODS.values()))
