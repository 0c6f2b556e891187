"""Settings, all from the environment, with secure defaults. `docs/deploy.md` lists the variables."""

import os
from pathlib import Path

import dj_database_url
from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured
from django.utils.translation import gettext_lazy as _

WEB = Path(__file__).resolve().parent.parent
ROOT = Path(os.environ.get("VOLTAJE_ROOT", WEB.parent.parent))


def _flag(name: str) -> bool:
    return os.environ.get(name, "") in ("1", "true", "yes")


def _words(name: str) -> list[str]:
    return os.environ.get(name, "").replace(",", " ").split()


SECRET_KEY = os.environ.get("VOLTAJE_SECRET_KEY", "")
if not SECRET_KEY:
    raise ImproperlyConfigured("VOLTAJE_SECRET_KEY is not set; `./voltaje start` makes one")
DEBUG = _flag("VOLTAJE_DEBUG")
BEHIND_TLS = _flag("VOLTAJE_TLS")
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *_words("VOLTAJE_HOSTS")]
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in _words("VOLTAJE_HOSTS")]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "django_htmx",
    "crispy_forms",
    "crispy_bootstrap5",
    "django_tasks_db",
    "web.words",
    "web.drawing",
    "web.accounts",
    "web.jobs",
    "web.workbench",
    "web.landing",
    "web.tables",
    "web.quick",
]
MIDDLEWARE = [
    "web.config.logs.logged",
    "web.words.met.counted",
    "web.jobs.news.quick",
    "web.config.private.never_stored",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.locale.LocaleMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "web.words.middleware.local_time",
    "web.words.middleware.chosen_theme",
    "web.config.trouble.Troubles",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "web.config.urls"
WSGI_APPLICATION = "web.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [WEB / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]

# A connection that the database has dropped is told before it is used. Nothing waits for another's lock, nor keeps one
# without doing anything, for longer than a person would.
DATABASES = {
    "default": dj_database_url.config(default="postgres://127.0.0.1/voltaje", conn_max_age=60, conn_health_checks=True)
}
_POSTGRES = "-c lock_timeout=15s -c idle_in_transaction_session_timeout=60s"
if not _flag("VOLTAJE_POOLER"):  # a pooler in front of the database may not take these
    DATABASES["default"]["OPTIONS"] = {
        "connect_timeout": 5,
        "options": _POSTGRES,
        **DATABASES["default"].get("OPTIONS", {}),
    }
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "jobs"
LOGOUT_REDIRECT_URL = "sign-in"

# Sign-in is throttled by account and address together, so that nobody can lock another person out.
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "web.accounts.throttle.address_of"
AXES_LOCKOUT_TEMPLATE = "accounts/throttled.html"
AXES_VERBOSE = False

LANGUAGE_CODE = "en"
LANGUAGES = [("en", _("English"))]
LOCALE_PATHS = [WEB / "locale"]
USE_I18N = True
USE_THOUSAND_SEPARATOR = True
USE_TZ = True
TIME_ZONE = "UTC"

STATIC_URL = "static/"
STATIC_ROOT = Path(os.environ.get("VOLTAJE_LOCAL", ROOT / ".local")) / "static"
STATICFILES_DIRS = [WEB / "static"]
STATICFILES_FINDERS = ["django.contrib.staticfiles.finders.FileSystemFinder"]  # the product ships all that it serves
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "web.config.storage.StaticFiles"},
}

CRISPY_ALLOWED_TEMPLATE_PACKS = CRISPY_TEMPLATE_PACK = "bootstrap5"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
SESSION_ENGINE = "web.accounts.sessions"
SESSION_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "web.config.trouble.forged"
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = BEHIND_TLS
SECURE_SSL_REDIRECT = BEHIND_TLS
SECURE_REDIRECT_EXEMPT = [r"^health/"]
SECURE_HSTS_SECONDS = 31_536_000 if BEHIND_TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = BEHIND_TLS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_TLS else None
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000

TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"request": {"()": "web.config.logs.WithRequestId"}},
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "{asctime} {levelname} {name} {request_id} {message}",
            "style": "{",
            "rename_fields": {"asctime": "at", "levelname": "level"},
        }
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "json", "filters": ["request"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "voltaje": {"level": "INFO"},
        "django.request": {"level": "ERROR"},
        "django.server": {"handlers": ["console"], "propagate": False},
    },
}
