"""Who may know which credentials: the parts of the sealed sheet (docs/sources.md, passwords)."""

PARTS: dict[str, tuple[str, str]] = {
    "owner": (
        "For the owner",
        "Administrator passwords, recovery addresses and registration codes. Whoever has them can do everything; "
        "nobody works with them day by day.",
    ),
    "users": ("For the users", "What people log in with and what opens doors: to look and to move, no more."),
    "service": (
        "For whoever looks after it",
        "What devices log in to each other with. They are asked for when a unit is replaced.",
    ),
}
_USERS, _SERVICE = frozenset({"operator", "relay-code"}), frozenset({"login", "registration"})


def part_of(slot: str) -> str:
    """Return the part of the sealed sheet that a slot belongs to: what is not known to be for others is the owner's."""
    if slot in _USERS:
        return "users"
    return "service" if slot in _SERVICE else "owner"
