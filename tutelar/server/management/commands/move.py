"""Move the rows of an installation from SQLite to PostgreSQL."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

from tutelar.server.backup import damage, last_migration
from tutelar.server.store.moving import MoveError, move
from tutelar.server.versions import KNOWN


class Command(BaseCommand):
    help = "move the rows of a SQLite file into the empty database of TUTELAR_DATABASE_URL"

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *_args: Any, file: Path, **_options: Any) -> None:
        if connection.vendor != "postgresql":
            raise CommandError("Say in TUTELAR_DATABASE_URL into which database of PostgreSQL the rows go.")
        if not file.is_file():
            raise CommandError(f"There is no file {file}; the rows of an installation lie in its tutelar.sqlite3.")
        if (wrong := damage(file)) is not None:
            raise CommandError(f"{file} cannot be read: {wrong}.")
        if (seen := last_migration(file)) != KNOWN:
            raise CommandError(
                f"{file} is of {seen or 'no Tutelar'}, this one is {KNOWN}; start it once with this one first."
            )
        call_command("migrate", verbosity=0, interactive=False)
        try:
            counts = move(file)
        except MoveError as error:
            raise CommandError(str(error)) from None
        rows, tables = sum(counts.values()), sum(map(bool, counts.values()))
        self.stdout.write(f"{rows:,} rows of {tables} tables were moved. Photographs and key stay in the folder.")
