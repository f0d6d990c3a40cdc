"""Alarm hubs: what they hold, by which ways they report, and whether they were left as they were found."""

from tutelar.core.alarm.hubs import HubStanding, hub_standings

__all__ = ["HubStanding", "hub_standings"]
