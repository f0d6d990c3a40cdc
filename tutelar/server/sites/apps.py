from django.apps import AppConfig


class SitesConfig(AppConfig):
    name = "tutelar.server.sites"
    label = "sites"
