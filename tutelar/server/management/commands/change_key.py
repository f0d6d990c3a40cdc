"""Change the key that passwords are sealed with, and seal them all anew."""

import getpass
import os
from typing import Any

from cryptography.fernet import Fernet
from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from tutelar.core.wording import count, listed
from tutelar.server import models, vault
from tutelar.server.actor import Actor
from tutelar.server.rights import LEAD, OWNER
from tutelar.server.secrets.sealing import seal_anew
from tutelar.server.store.writes import WriteRejected, log_of_firm

LEAST = 12


class Command(BaseCommand):
    """Seal everything anew with another key."""

    help = "Seal all passwords under a new key: a fresh key file, or a passphrase (TUTELAR_NEW_PASSPHRASE, or typed)."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("to", choices=("key-file", "passphrase"), help="what the new key comes from")
        parser.add_argument("--by", metavar="NAME", default="", help="the owner who changes it")
        parser.add_argument("--with", dest="second", metavar="NAME", default="", help="a second person, owner or lead")

    def handle(self, *args: Any, to: str, by: str, second: str, **options: Any) -> None:
        said = self._witnessed(by, second)
        try:
            done = self._to_file() if to == "key-file" else self._to_passphrase()
        except (WriteRejected, vault.VaultLocked) as error:
            raise CommandError(str(error)) from None
        log_of_firm(Actor(by or "console", "owner", "server"), "key.changed", "vault", f"The key was changed {said}.")
        self.stdout.write(f"{count(done, 'secret')} sealed again.")

    def _witnessed(self, by: str, second: str) -> str:
        """Return who changes the key, in words. Raises CommandError where that is not an owner together with a second
        person, as far as there is one."""
        people = models.Person.objects.filter(user__is_active=True, role__in=(OWNER, LEAD)).select_related("user")
        roles = {person.user.get_username(): person.role for person in people}
        if not roles:
            return "at the console, before anybody had an account"
        if roles.get(by) != OWNER:
            raise CommandError("Name the owner who changes the key: --by NAME.")
        others = sorted(set(roles) - {by})
        if others and second not in others:
            raise CommandError(f"A second person has to be there: --with NAME, one of {listed(others, 6)}.")
        for name in filter(None, (by, second if others else "")):
            if not User.objects.get(username=name).check_password(getpass.getpass(f"Password of {name}: ")):
                raise CommandError(f"That is not the password of {name}; nothing was changed.")
        return f"by {by} with {second}" if others else f"by {by} alone: nobody else has such a role"

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
