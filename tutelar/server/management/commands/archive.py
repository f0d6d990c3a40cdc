"""Write everything of a firm into one file of open formats."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import DatabaseError

from tutelar.server import archive


class Command(BaseCommand):
    help = "write every site, its log and its photographs into one file of open formats"

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *_args: Any, file: Path, **_options: Any) -> None:
        try:
            counts = archive.write(file)
        except archive.ArchiveError as error:
            raise CommandError(str(error)) from None
        except DatabaseError:
            said = f"There is no database of this version in {settings.DATA_DIR}: start the server there once."
            raise CommandError(said) from None
        self.stdout.write(f"{file}: {archive.said_of(counts)}, read back whole. Credentials are not in it.")
