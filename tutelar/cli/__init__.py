"""The command line: each command reads one site file and prints for people, or one JSON document with --json.

A command's module is imported when it is called, so that `tutelar --help` and a wrong word are answered at once.
"""

import os
import sys
from collections.abc import Sequence
from importlib import import_module

from tutelar.cli.outcome import DONE, UNREADABLE, Unreadable
from tutelar.cli.parser import parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit status: 0 done, 1 with error-level problems, 2 unreadable input."""
    options = parser().parse_args(arguments)
    module, _, command = options.command.partition(":")
    try:
        status: int = getattr(import_module(module), command)(options)
        sys.stdout.flush()
    except Unreadable as error:
        for line in error.lines:
            print(line, file=sys.stderr)
        return UNREADABLE
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # whoever read our output has left
        return DONE
    return status
