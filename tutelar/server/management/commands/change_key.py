"""Change the key that passwords are sealed with, and seal them all anew."""

import getpass
import os
from typing import Any

from cryptography.fernet import Fernet
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from tutelar.core.wording import count
from tutelar.server import vault
from tutelar.server.secrets.sealing import seal_anew
from tutelar.server.store.writes import WriteRejected

LEAST = 12


class Command(BaseCommand):
    """Seal everything anew with another key."""

    help = "Seal all passwords under a new key: a fresh key file, or a passphrase (TUTELAR_NEW_PASSPHRASE, or typed)."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("to", choices=("key-file", "passphrase"), help="what the new key comes from")

    def handle(self, *args: Any, to: str, **options: Any) -> None:
        try:
            done = self._to_file() if to == "key-file" else self._to_passphrase()
        except (WriteRejected, vault.VaultLocked) as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{count(done, 'secret')} sealed again.")

    def _to_file(self) -> int:
        path, fresh = settings.VAULT_KEY_FILE, Fernet.generate_key()
        old = [] if settings.VAULT_PASSPHRASE or not path.exists() else vault.from_file(path)
        vault.write_keys(path, [fresh, *old])  # whatever happens now, the file opens what is stored
        done = seal_anew(lambda _salt: vault.Vault([fresh]))
        vault.write_keys(path, [fresh])
        self.stdout.write(f"The key is in {path}. Start Tutelar without TUTELAR_PASSPHRASE; keep a copy elsewhere.")
        return done

    def _to_passphrase(self) -> int:
        words = os.environ.get("TUTELAR_NEW_PASSPHRASE") or self._typed()
        if len(words) < LEAST:
            raise CommandError(f"The passphrase has {count(len(words), 'character')}; at least {LEAST} are wanted.")
        done = seal_anew(lambda salt: vault.Vault([vault.from_passphrase(words, salt)]))
        self.stdout.write("Start Tutelar with TUTELAR_PASSPHRASE set to the new passphrase; the key file is not used.")
        return done

    def _typed(self) -> str:
        words = getpass.getpass("New passphrase: ")
        if words != getpass.getpass("Once more: "):
            raise CommandError("The two passphrases differ; nothing was changed.")
        return words
