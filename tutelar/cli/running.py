"""The commands about the bench: the run, and the run played through."""

import argparse
import time

from tutelar.cli.outcome import DONE, PROBLEMS
from tutelar.cli.shared import print_json, print_problems, read_the_site, status_of
from tutelar.core.planning import plan
from tutelar.core.run import PIECES_A_SECOND, run, said
from tutelar.core.run.steps import Step
from tutelar.core.wording import count
from tutelar.standin.rehearsal import rehearse


def run_command(options: argparse.Namespace) -> int:
    """Put the bench work into order."""
    effort = options.limit and round(options.limit * PIECES_A_SECOND)
    result = run(read_the_site(options.site), options.hands, effort, options.seed)
    if options.json:
        print_json(result.as_dict())
    else:
        for step in result.steps:
            print(_step_line(step))
        print(f"{count(len(result.steps), 'step')}. {said(result)}")
        print_problems(result.problems)
    return status_of(result.problems)


def rehearse_command(options: argparse.Namespace) -> int:
    """Play the run on a pretend bench."""
    site = read_the_site(options.site)
    addresses, planned = plan(site), run(site, options.hands)
    found, clock = [], 0.0
    for played in rehearse(site, addresses, planned):
        if options.speed:
            time.sleep(max(0.0, played.at_s - clock) / options.speed)
            clock = played.at_s
        found.append(played)
        if not options.json:
            print(f"{played.at_s / 60:7.1f} min  {played.step.title}", flush=True)
            if played.fault:
                print(f"              fails: {played.fault}", flush=True)
    faults = [item for item in found if item.fault]
    if options.json:
        steps = [{"at_s": item.at_s, "step": item.step.id, "fault": item.fault} for item in found]
        print_json({"total_s": planned.total_s, "steps": steps, "faults": len(faults)})
    else:
        print(f"{count(len(found), 'step')} played, {count(len(faults), 'fault')}. {said(planned)}")
    return PROBLEMS if faults else DONE


def _step_line(step: Step) -> str:
    values = "  ".join(f"{item.label}: {item.value}" for item in step.values if not item.secret)
    who = f"hand {step.hand}" if step.manual else "alone"
    return f"{step.start_s / 60:7.1f} min  {who:7} {step.title}" + (f"\n{'':22}{values}" if values else "")
