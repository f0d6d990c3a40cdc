"""Every value that is typed into a device, in the order in which devices ask, each with its reason and its proof."""

from tutelar.core.line import Group, Line
from tutelar.core.setting.groups import INTERVAL_FOR_TEST, DeviceSettings

__all__ = ["INTERVAL_FOR_TEST", "DeviceSettings", "Group", "Line"]
