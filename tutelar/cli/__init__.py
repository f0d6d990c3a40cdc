"""The command line: each command reads one site file and prints for people, or one JSON document with --json.

A command's module is imported when it is called, so that `tutelar --help` and a wrong word are answered at once.
"""

import os
import sys
from collections.abc import Sequence
from importlib import import_module

from tutelar import VERSION
from tutelar.cli.outcome import DONE, INTERRUPTED, UNREADABLE, Unreadable
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
    except BrokenPipeError:  # whoever read our output has left
        _let_go_of_output()
        return DONE
    except KeyboardInterrupt:
        return INTERRUPTED
    except OSError as error:
        _let_go_of_output()
        where = f"{error.filename}: " if error.filename else ""
        print(f"{where}it cannot be read or written: {error.strerror or error}.", file=sys.stderr)
        return UNREADABLE
    except Exception as error:  # a fault of ours: said in a line, with what helps to find it
        said = f"{type(error).__name__}: {error}" if str(error) else type(error).__name__
        print(f"tutelar {VERSION} could not finish: {said}. Please report it.", file=sys.stderr)
        if os.environ.get("TUTELAR_TRACE"):
            raise
        return UNREADABLE
    return status


def _let_go_of_output() -> None:
    """Send what is still to be printed nowhere, so that the end of the process says nothing about it."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
