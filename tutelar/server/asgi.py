"""The ASGI application."""

import os

from django.core.asgi import get_asgi_application

from tutelar.server.gate import Gate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tutelar.server.settings")
application = Gate(get_asgi_application())
