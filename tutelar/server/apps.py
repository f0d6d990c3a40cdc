"""The one Django app of the server: its rows, their migrations, and its commands."""

from django.apps import AppConfig


class TutelarConfig(AppConfig):
    """The app and its label."""

    name = "tutelar.server"
    label = "tutelar"
