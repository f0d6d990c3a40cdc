"""Will it be kept? Patterns of a week, what each channel writes a day, and how long the disks hold that."""

from tutelar.core.recording.channels import Channel, channels_of
from tutelar.core.recording.problems import recording_problems
from tutelar.core.recording.storage import Storage, storage_of

__all__ = ["Channel", "Storage", "channels_of", "recording_problems", "storage_of"]
