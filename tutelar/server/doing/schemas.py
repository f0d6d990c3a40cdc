"""Shapes of how the installation is doing."""

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Worry:
    """Something that is not as it should be, and what to do about it."""

    says: str
    fix: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """Something that is known of the installation, in words."""

    name: str
    value: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BackupRow:
    """A backup that was made by itself: its file, when, and its size in bytes."""

    name: str
    at: datetime
    size: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Doing:
    """How the installation is doing: what worries, what lies there and runs there, its backups and where they lie, and
    the fingerprint of the certificate that it shows."""

    worries: list[Worry]
    figures: list[Figure]
    versions: list[Figure]
    backups: list[BackupRow]
    backup_folder: str
    fingerprint: str | None
