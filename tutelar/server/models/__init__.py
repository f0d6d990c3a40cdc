"""The rows. A site document is stored in parts; what must never happen is refused by the database itself.

Columns hold what is looked up, constrained or changed one by one; `extra` holds the other keys of the document.
Every change of a site gets a new `version_token`, by which computed results may be kept.
"""

from tutelar.server.models.bench import BenchRun, StepDuration, StepRecord, ValueTick
from tutelar.server.models.cards import FirmCards
from tutelar.server.models.faults import Case, Lesson
from tutelar.server.models.handover import GuestLink, PackJob, SealedSheet
from tutelar.server.models.log import Event, Profile
from tutelar.server.models.people import ROLES, Invitation, Person, SecondFactor
from tutelar.server.models.proof import Authority, Evidence, Pretend, Proof, Reading
from tutelar.server.models.secrets import FailedLogins, OpenSlot, PendingUpdate, Secret, SecretUse, Vault
from tutelar.server.models.site import Device, DeviceModel, Link, Network, Part, Site, fresh_version_token

__all__ = [
    "ROLES",
    "Authority",
    "BenchRun",
    "Case",
    "Device",
    "DeviceModel",
    "Event",
    "Evidence",
    "FailedLogins",
    "FirmCards",
    "GuestLink",
    "Invitation",
    "Lesson",
    "Link",
    "Network",
    "OpenSlot",
    "PackJob",
    "Part",
    "PendingUpdate",
    "Person",
    "Pretend",
    "Profile",
    "Proof",
    "Reading",
    "SealedSheet",
    "SecondFactor",
    "Secret",
    "SecretUse",
    "Site",
    "StepDuration",
    "StepRecord",
    "ValueTick",
    "Vault",
    "fresh_version_token",
]
