"""How long first login and configuring take by hand where a model does not say: as its family's others do.

The median of the family's models in the file, else of the shipped catalogue, else 60 and 180 s. A 0 leaves it out.
"""

from collections.abc import Iterator, Mapping
from statistics import median

from tutelar.core.problems import Problem, problem
from tutelar.core.site.model import Model
from tutelar.core.site.types import Site
from tutelar.core.wording import listed

ASSUMED = {"activate_s": 60.0, "configure_s": 180.0}
# medians of the shipped catalogue by family: (activate_s, configure_s); a test compares
CATALOGUE: Mapping[str, tuple[float, float]] = {
    "alarm-hub": (60, 180),
    "call-server": (60, 420),
    "camera": (45, 150),
    "door-station": (60, 180),
    "doorbell": (60, 150),
    "encoder": (120, 360),
    "indoor-monitor": (60, 180),
    "joystick-desk": (60, 180),
    "panel": (60, 180),
    "recorder": (120, 360),
    "software-recorder": (120, 600),
    "switch": (45, 150),
}
HandTimes = Mapping[tuple[str, str], float]  # seconds by (family, "activate_s" or "configure_s")


def hand_times(site: Site) -> HandTimes:
    """Return what a missing time counts as, by family and step."""
    found: dict[tuple[str, str], float] = {}
    for family in dict.fromkeys(model.family for model in site.models):
        for at, name in enumerate(ASSUMED):
            said = [
                seconds
                for model in site.models
                if model.family == family and (seconds := getattr(model.timings, name, None))
            ]
            found[family, name] = (
                median(said) if said else CATALOGUE[family][at] if family in CATALOGUE else ASSUMED[name]
            )
    return found


def without_times(site: Site) -> Iterator[tuple[Model, tuple[str, ...]]]:
    """Yield the models that are used at the bench and lack a time by hand, with the times that they lack."""
    used = {device.model for device in site.devices if device.key not in site.wired}
    for model in site.models:
        missing = tuple(name for name in ASSUMED if getattr(model.timings, name, None) is None)
        if missing and model.key in used:
            yield model, missing


def times_problems(site: Site) -> list[Problem]:
    """Return a note for each model whose times by hand are assumed."""
    times, found = hand_times(site), []
    for model, missing in without_times(site):
        words = {"activate_s": "first login", "configure_s": "configuring"}
        said = listed([f"{words[name]} as {times[model.family, name]:g} s" for name in missing])
        found.append(
            problem(
                "model.no-times",
                (model.key,),
                f"{model.label} has no time for {listed([words[name] for name in missing])}; the run takes {said}.",
                "Write the times of the model down once they were measured.",
                level="note",
            )
        )
    return found
