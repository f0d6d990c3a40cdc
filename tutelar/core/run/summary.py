"""The run in one breath: how long, what it saves, and how far it can be from the shortest there is."""

from tutelar.core.run.order import Run
from tutelar.core.wording import count


def spoken_time(seconds: float) -> str:
    """Return seconds as a technician says them: "1 h 52 min", "18 min", "50 s"."""
    if seconds < 60:
        return f"{seconds:.0f} s"
    hours, minutes = divmod(round(seconds / 60), 60)
    return f"{hours} h {minutes} min" if hours else f"{minutes} min"


def said(run: Run) -> str:
    """Return the sums of a run in sentences; the saving is against one device after the other."""
    if not run.steps:
        return "There is nothing to do at the bench."
    by = count(run.technicians, "technician")
    parts = [f"{spoken_time(run.total_s)} in all for {by}, with {count(run.adapter_changes, 'laptop change')}."]
    saved = run.one_by_one_s - run.total_s
    if saved >= 60:
        share = round(100 * saved / run.one_by_one_s)
        parts.append(f"One device after the other takes {spoken_time(run.one_by_one_s)}: {share} % saved.")
    if run.gap < 0.0005:
        parts.append("No run can be shorter.")
    else:
        parts.append(
            f"No run can be shorter than {spoken_time(run.lower_bound_s)} ({run.bound.why}), "
            f"so at most {100 * run.gap:.1f} % could still be gained."
        )
    return " ".join(parts)
