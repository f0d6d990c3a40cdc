"""How long steps really take at benches, and runs that reckon with it."""

from collections import defaultdict
from collections.abc import Sequence
from statistics import median

from tutelar.core.run.chain import TIMED
from tutelar.core.site.types import Site

ENOUGH = 3  # readings from which their median counts more than the profile
CREDIBLE_S = 5  # a shorter step was ticked off afterwards, so its time says nothing

Medians = dict[tuple[str, str], tuple[float, int]]  # (model, kind) to (median seconds, readings)


def usual(readings: Sequence[tuple[str, str, float]]) -> Medians:
    """Return the median seconds of (model, kind, seconds) readings, where there are enough of them."""
    found: dict[tuple[str, str], list[float]] = defaultdict(list)
    for model, kind, seconds in readings:
        found[model, kind].append(seconds)
    return {key: (median(values), len(values)) for key, values in found.items() if len(values) >= ENOUGH}


def with_usual_times(site: Site, medians: Medians) -> Site:
    """Return the site with measured medians in place of its profiles' timings, where a profile has that step."""
    models = []
    for model in site.models:
        measured = {
            TIMED[kind]: seconds
            for (key, kind), (seconds, _) in medians.items()
            if key == model.key and getattr(model.timings, TIMED[kind], None)
        }
        if model.timings and measured:
            model = model.model_copy(update={"timings": model.timings.model_copy(update=measured)})  # noqa: PLW2901
        models.append(model)
    return site.model_copy(update={"models": tuple(models)})
