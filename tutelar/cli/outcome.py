"""How a command ends: its exit statuses, and input that cannot be read."""

DONE, PROBLEMS, UNREADABLE, INTERRUPTED = 0, 1, 2, 130


class Unreadable(Exception):
    """Something that was given cannot be read or written; `lines` go to standard error."""

    def __init__(self, lines: list[str]) -> None:
        self.lines = lines
        super().__init__(lines[0])
