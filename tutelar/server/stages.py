"""The one list of the server's stages: each is a folder with an `api`, served at its place."""

PLACES: dict[str, tuple[str, ...]] = {
    "/session": ("accounts",),
    "/sites": (
        "site",
        "survey",
        "kit",
        "addresses",
        "values",
        "device",
        "bench",
        "links",
        "recording",
        "loads",
        "doors",
        "live",
        "practice",
        "proof",
        "faults",
        "remote",
        "logbook",
        "handover",
    ),
    "/catalogue": ("catalogue",),
    "": ("everywhere",),
}
