"""Bring an archive into an empty installation."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from tutelar.server import archive


class Command(BaseCommand):
    help = "bring an archive into an installation that has no site yet"

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *_args: Any, file: Path, **_options: Any) -> None:
        call_command("migrate", verbosity=0, interactive=False)
        try:
            counts = archive.bring_in(file)
        except archive.ArchiveError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{file} was brought in: {archive.said_of(counts)}. Type the credentials anew.")
