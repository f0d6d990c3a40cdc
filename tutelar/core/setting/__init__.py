"""Every value that is typed into a device, in the order in which devices ask, each with its reason and its proof."""

from tutelar.core.line import Group, Line
from tutelar.core.setting.groups import DeviceSettings

__all__ = ["DeviceSettings", "Group", "Line"]
