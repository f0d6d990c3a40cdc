"""Are the proposals of disks and of ports ever worse than the best of all? Every way is tried on small random cases."""

import random
from itertools import product

from tests.core.test_ports import CLASSES, every_way, rack
from tests.core.test_recording import site_with
from tutelar.core.loads.balance import balance
from tutelar.core.recording import Storage, channels_of, storage_of
from tutelar.core.recording.channels import recording_of
from tutelar.core.recording.storage import SIZES_TB, raid_share
from tutelar.core.site import Site

CASES = 1_000
BUDGETS = (10.0, 20.0, 31.0, 45.0, 60.0)


def main() -> None:
    dice = random.Random(17)
    worse = moves = best_moves = 0
    for _ in range(CASES):
        number = dice.randint(1, 3)
        switches = [
            (
                dice.choice(["Rack", "Rack", "Yard"]),
                dice.choice(BUDGETS),
                dice.randint(1, 4),
                dice.choice(["class", "draw"]),
            )
            for _ in range(number)
        ]
        plugs = [(dice.choice(CLASSES), dice.choice([None, *range(number)])) for _ in range(dice.randint(0, 6))]
        site = rack(switches, plugs)
        found, best = balance(site), every_way(site)
        if best is not None:
            mine = (len(found.left), len(found.moves))
            worse += mine > best[:2]
            moves, best_moves = moves + sum(mine), best_moves + sum(best[:2])
    print(
        f"ports: worse than the best of all ways in {worse} of {CASES} cases; "
        f"{moves} moves and left out, best {best_moves}"
    )
    worse = total = best_total = 0
    for _ in range(CASES):
        raid = dice.choice(["none", "0", "1", "5", "6", "10"])
        site = site_with({"usable_share": dice.uniform(0.7, 1)}, dice.randint(1, 4), raid=raid)
        row = storage_of(site, channels_of(site))[0]
        mine_tb = sum(row.propose.disks) if row.propose else None
        best_tb = _least(site, row)
        worse += mine_tb != best_tb
        total, best_total = total + (mine_tb or 0), best_total + (best_tb or 0)
    print(f"disks: other than the best of all in {worse} of {CASES} cases; {total} TB in all, best {best_total}")


def _least(site: Site, row: Storage) -> int | None:
    """Return the least TB of equal disks in up to four bays that hold the wanted days with the reserve."""
    whole, raid = recording_of(site), site.device_by_key[row.device].raid
    needed = row.bytes_per_day * (row.wanted_days or 0) * (1 + whole.reserve_share)
    fits = [
        disks * size
        for disks, size in product(range(1, 5), SIZES_TB)
        if (share := raid_share(raid, disks)) is not None
        and disks * size * 1e12 * share * whole.usable_share >= needed * (1 - 1e-12)
    ]
    return min(fits, default=None)


if __name__ == "__main__":
    main()
