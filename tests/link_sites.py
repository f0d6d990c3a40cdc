"""Sites of recorders and cameras with links that are there already, some of them proven, drawn for the proposals."""

from itertools import product
from typing import Any

from hypothesis import strategies as st

from tests.samples import CAMERA, RECORDER, device, document

RATES = (1000, 2500, 4096, 6000)
TESTS = ("live", "named", "records", "plays-back")


@st.composite
def recorded_sites(draw: st.DrawFn) -> dict[str, Any]:
    """Draw up to three recorders with limits of every sort, and up to six cameras: in the network or behind one."""
    recorders = draw(st.integers(1, 3))
    models: list[dict[str, Any]] = [
        {**CAMERA, "key": f"eye-{rate}", "streams": {"main": {**CAMERA["streams"]["main"], "kbps": rate}}}
        for rate in RATES
    ]
    limits = st.fixed_dictionaries(
        {},
        optional={
            "channels": st.integers(1, 4),
            "incoming_mbps": st.sampled_from((3, 6, 10, 13)),
            "licences": st.integers(1, 4),
        },
    )
    rows = []
    for at in range(1, recorders + 1):
        models.append({**RECORDER, "key": f"disk-{at}", "capacity": draw(limits)})
        rows.append(device(at, f"disk-{at}"))
    links: list[dict[str, Any]] = []
    readings: list[dict[str, Any]] = []
    slots = dict.fromkeys(range(1, recorders + 1), 0)
    for at in range(4, 4 + draw(st.integers(1, 6))):
        row = device(at, f"eye-{draw(st.sampled_from(RATES))}")
        hidden = draw(st.sampled_from((None, None, None, 1)))
        rows.append(row | ({"network": None, "behind": f"d-{hidden}"} if hidden else {}))
        to = draw(st.sampled_from((None, *slots)))
        if to is None:
            continue
        slots[to] += 1
        links.append({"kind": "records", "from": f"d-{at}", "to": f"d-{to}", "slot": slots[to]})
        if draw(st.booleans()) and not hidden:
            readings += [
                {
                    "device": f"d-{at}",
                    "check": f"records.d-{to}.{test}",
                    "expected": "seen",
                    "measured": "seen so",
                    "result": "pass",
                }
                for test in TESTS
            ]
    raw = document(rows, links=links, readings=readings)
    raw["models"] = models
    raw["site"]["practice"] = False
    return raw


def proven(raw: dict[str, Any]) -> list[dict[str, Any]]:
    """Return the links that have a passed reading of every test."""
    seen = {(item["device"], item["check"]) for item in raw["readings"]}
    return [link for link in raw["links"] if (link["from"], f"records.{link['to']}.live") in seen]


def over(raw: dict[str, Any], links: list[dict[str, Any]]) -> list[str]:
    """Return the recorders that these links would fill beyond their channels, licences or Mbit/s."""
    models = {item["key"]: item for item in raw["models"]}
    of = {item["key"]: models[item["model"]] for item in raw["devices"]}
    found = []
    for key, model in of.items():
        mine = [of[link["from"]]["streams"]["main"]["kbps"] for link in links if link["to"] == key]
        limits = model.get("capacity", {})
        seats = min(limits.get("channels", 99), limits.get("licences", 99))
        if len(mine) > seats or sum(mine) > limits.get("incoming_mbps", 999) * 1000:
            found.append(key)
    return found


def most(raw: dict[str, Any]) -> int:
    """Return how many cameras can be tied at most beside the proven links, by trying every placement."""
    fixed = proven(raw)
    stay = {link["from"] for link in fixed}
    recorders = [item["key"] for item in raw["devices"] if item["model"].startswith("disk")]
    free = [item for item in raw["devices"] if item["model"].startswith("eye") and item["key"] not in stay]
    choices = [(None, item["behind"]) if item.get("behind") else (None, *recorders) for item in free]
    full, best = set(over(raw, fixed)), 0
    for places in product(*choices):
        links = [{"from": item["key"], "to": to} for item, to in zip(free, places, strict=True) if to is not None]
        if any(link["to"] in full for link in links) or set(over(raw, [*fixed, *links])) - full:
            continue
        best = max(best, len(links))
    return best + len(fixed)
