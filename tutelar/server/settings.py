"""Settings of the server. Everything that changes from machine to machine comes from TUTELAR_* variables."""

import os
import secrets
import sys
import warnings
from datetime import timedelta
from pathlib import Path

from tutelar.server.databases import database
from tutelar.server.private import kept_or_made, private_folder

BASE_DIR = Path(__file__).resolve().parents[2]
DATA_DIR = Path(os.environ.get("TUTELAR_DATA", BASE_DIR / "var"))
WEB_DIR = Path(os.environ.get("TUTELAR_WEB", BASE_DIR / "web_dist"))
private_folder(DATA_DIR)
WEB_DIR.mkdir(parents=True, exist_ok=True)
SECRET_KEY = kept_or_made(DATA_DIR / "secret-key", secrets.token_urlsafe(48))
DEBUG = os.environ.get("TUTELAR_DEBUG") == "1"
LIVE = os.environ.get("TUTELAR_LIVE") == "1"  # real devices may be measured, in networks that somebody answers for
TLS = os.environ.get("TUTELAR_TLS") == "1"  # served encrypted
FINGERPRINT = os.environ.get("TUTELAR_FINGERPRINT", "")  # of the certificate that is shown then
LAN_ADDRESSES = os.environ.get("TUTELAR_LAN", "").split()  # addresses of this machine where it serves beyond loopback
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", "testserver", *LAN_ADDRESSES]
TESTING = "test" in sys.argv[1:2]
# pieces laid in the search for a run; None: as many as are worth it. Tests are content with less.
BACKUPS = Path(os.environ.get("TUTELAR_BACKUPS", DATA_DIR / "backups"))  # one a day, by itself; better elsewhere
RUN_EFFORT = int(os.environ.get("TUTELAR_EFFORT", "0")) or (2_000 if TESTING else None)

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "ninja",
    "tutelar.server",
]
MIDDLEWARE = [
    "tutelar.server.refusals.in_a_sentence",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "tutelar.server.urls"
ASGI_APPLICATION = "tutelar.server.asgi.application"
TEMPLATES: list[dict[str, object]] = []

# nothing: SQLite in the data folder; postgres://… : the same rows there (docs/growth.md)
DATABASE_URL = os.environ.get("TUTELAR_DATABASE_URL", "")
DATABASES = {"default": database(DATABASE_URL, DATA_DIR, testing=TESTING)}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TEST_RUNNER = "tutelar.server.testing.Runner"

# What secrets are sealed with: a passphrase, or else a key file. Neither is ever in the database.
VAULT_PASSPHRASE = os.environ.get("TUTELAR_PASSPHRASE", "")
VAULT_KEY_FILE = Path(os.environ.get("TUTELAR_KEY_FILE", DATA_DIR / "vault-key"))
DEFAULT_EXCEPTION_REPORTER_FILTER = "tutelar.server.crash.NothingTyped"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
if TESTING:  # Argon2 is slow on purpose; tests sign in hundreds of times, and one of them asks for Argon2 itself
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher", *PASSWORD_HASHERS]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ["username"]},
    },
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=1)  # nobody honest is shut out for long
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "tutelar.server.accounts.api.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend", "QUEUES": ["default"]}}

STATIC_URL = "/static/"
STATIC_ROOT = WEB_DIR
WHITENOISE_MAX_AGE = 600
WHITENOISE_IMMUTABLE_FILE_TEST = r"-[\w-]{8,}\.\w+$"
WHITENOISE_AUTOREFRESH = DEBUG or TESTING  # each of a test's clients would look through all files first

SESSION_ENGINE = "tutelar.server.sessions"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = TLS
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "script-src": ["'self'", "'wasm-unsafe-eval'"],  # the reader of codes
        "img-src": ["'self'", "data:"],
        "object-src": ["'none'"],
        "base-uri": ["'self'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 32 * 1024 * 1024

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False
SILENCED_SYSTEM_CHECKS = ["axes.W003"]
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")

# TUTELAR_LOG=json: a line of JSON for whatever is logged, each request among it; else words, and what went wrong only
_JSON = os.environ.get("TUTELAR_LOG") == "json"
if _JSON:
    MIDDLEWARE.insert(0, "tutelar.server.accesslog.a_line_each")
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "fmt": "{asctime}{levelname}{name}{message}",
            "style": "{",
            "rename_fields": {"asctime": "at", "levelname": "level", "request_line": "request"},
        }
    },
    "handlers": {"stderr": {"class": "logging.StreamHandler", **({"formatter": "json"} if _JSON else {})}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
    "loggers": {
        "tutelar.requests": {"level": "INFO" if _JSON else "WARNING"},
        "django.request": {"level": "CRITICAL" if TESTING else "ERROR"},
        "django.security": {"level": "CRITICAL" if TESTING else "WARNING"},
        "axes": {"level": "CRITICAL" if TESTING else "WARNING"},
    },
}
