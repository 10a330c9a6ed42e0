"""Settings, all from the environment (docs/serving.md lists them)."""

from __future__ import annotations

import os
from pathlib import Path
from urllib.parse import unquote, urlsplit

from csp.constants import NONCE, NONE, SELF

SERVER = Path(__file__).resolve().parent.parent
ROOT = SERVER.parent
STATE = Path(os.environ.get("APERCU_STATE", ROOT / ".apercu"))
WEB_DIST = ROOT / "web" / "dist"

TESTING = os.environ.get("APERCU_TESTING") == "1"
DEMO = os.environ.get("APERCU_DEMO") == "1"
CLOCK = os.environ.get("APERCU_CLOCK", "")
"""A moment in ISO form at which the clock stands still; empty: the real one."""

SECRET_KEY = os.environ.get("APERCU_SECRET_KEY", "only-for-tests" if TESTING else "")
DEBUG = False
ORIGINS = [origin for origin in os.environ.get("APERCU_ORIGINS", "").split(",") if origin]
ALLOWED_HOSTS = [urlsplit(origin).hostname or "" for origin in ORIGINS] + ["127.0.0.1", "localhost"]
if TESTING:
    ALLOWED_HOSTS.append("testserver")
CSRF_TRUSTED_ORIGINS = ORIGINS
_SECURE = any(origin.startswith("https:") for origin in ORIGINS)
_PROXIES = os.environ.get("APERCU_TRUSTED_PROXIES", "127.0.0.1,::1")
TRUSTED_PROXIES = [one.strip() for one in _PROXIES.split(",") if one.strip()]
"""Addresses or networks of proxies in front, whose word about the client is taken."""


_POOL = {"min_size": 1, "max_size": 16, "timeout": 3.0, "reconnect_timeout": 2.0}
"""A request waits 3 s for a connection and is told then; new ones are tried for soon after the database is back."""


_NO_JIT = "-c jit=off"
"""PostgreSQL's just-in-time compiler takes longer to compile our queries than they take to run."""


def _database(url: str) -> dict[str, object]:
    parts = urlsplit(url)
    return {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": unquote(parts.path.lstrip("/")) or "postgres",
        "USER": unquote(parts.username or ""),
        "PASSWORD": unquote(parts.password or ""),
        "HOST": parts.hostname or "",
        "PORT": str(parts.port or ""),
        "CONN_HEALTH_CHECKS": not TESTING,
        "OPTIONS": {"options": _NO_JIT} if TESTING else {"connect_timeout": 3, "options": _NO_JIT, "pool": _POOL},
    }


PRIVATE_SERVICES = os.environ.get("APERCU_PRIVATE_SERVICES") == "1"
"""Whether outside services may lie at addresses of this machine or its own network, as the demo's do."""
DEMO_WEATHER = os.environ.get("APERCU_DEMO_WEATHER", "")
"""Address of the simulated service that the demo's data register."""

DATABASES = {"default": _database(os.environ.get("DATABASE_URL", "postgresql://apercu@127.0.0.1/apercu"))}

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "rest_framework",
    "drf_spectacular",
    "simple_history",
    "csp",
    "procrastinate.contrib.django",
    "crew",
    "jobs",
    "library",
    "trials",
    "weather",
    "operations",
    "records",
    "photographs",
    "sample_photographs",
    "field_log",
    "calendars",
    "sowing",
    "readings",
    "reports",
    "backups",
    "demo",
]

MIDDLEWARE = [
    "config.requests.RequestIds",
    "config.proxies.TrustedProxies",
    "config.headers.SafeHeaders",
    "crew.throttle.EarlyRefusals",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "crew.page_units.PageUnits",
    "simple_history.middleware.HistoryRequestMiddleware",
]

TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]  # of printed pages
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

# People
AUTH_USER_MODEL = "crew.Person"
AUTHENTICATION_BACKENDS = ["django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["crew.hashers.FieldArgon2Hasher"]
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = _SECURE
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if _SECURE else None
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365 if _SECURE else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = False  # other names of the domain aren't ours to bind
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W008", "security.W021"]  # sent over to TLS by the proxy
if not _SECURE:
    SILENCED_SYSTEM_CHECKS += ["security.W004", "security.W012", "security.W016"]  # on this machine only
X_FRAME_OPTIONS = "DENY"
CSRF_FAILURE_VIEW = "config.pages.csrf_failed"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

# Files
STATIC_URL = "/static/"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"/assets/.+-[\w-]{8}\.\w+$"
MEDIA_ROOT = STATE / "uploads"
STORAGES = {
    "default": {"BACKEND": "config.stored_files.WholeFiles"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
MEDIA_URL = ""
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
FILE_UPLOAD_PERMISSIONS, FILE_UPLOAD_DIRECTORY_PERMISSIONS = 0o600, 0o700
UPLOAD_MOST_BYTES = 20_000_000
UPLOAD_KEPT_DAYS = 7

# API
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["config.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["config.plain_json.PlainJSONParser"],
    "DEFAULT_PAGINATION_CLASS": "config.paging.Pages",
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "config.problems.as_problem",
    "UNAUTHENTICATED_USER": None,
    "COERCE_DECIMAL_TO_STRING": True,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Apercu",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rest_framework.permissions.IsAuthenticated"],
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "config.schema_problems.with_problems",
    ],
    "ENUM_NAME_OVERRIDES": {
        "DesignEnum": "trials.models.Design",
        "DirectionEnum": "trials.models.Direction",
        "MarginKindEnum": "trials.models.MarginKind",
        "PlannedEnum": "trials.models.Planned",
        "AllocationEnum": "trials.models.Allocation",
        "FollowsEnum": "trials.models.Follows",
        "JobStateEnum": "jobs.models.JobState",
        "RoleEnum": "crew.models.Role",
        "UnitSystemEnum": "crew.models.UnitSystem",
        "MissingStatusEnum": "records.models.MissingStatus",
        "OperationKindEnum": "operations.models.OperationKind",
        "PlacementEnum": "records.api.visit_shapes.PLACEMENT_KEYS",
        "StageEnum": "trials.api.serializers.STAGES",
        "TodayGroupEnum": "operations.api.serializers.GROUPS",
        "DueKindEnum": "operations.api.serializers.DUE_KINDS",
        "OutcomeStateEnum": "records.api.visit_shapes.STATES",
        "FieldKindEnum": "records.api.visit_shapes.FIELD_KINDS",
        "OwnKindEnum": "apercu_core.measures.own.OWN_KINDS",
        "OwnFieldKindEnum": "apercu_core.measures.own.OWN_FIELD_KINDS",
        "PartKindEnum": "apercu_core.measures.parts.PART_KINDS",
        "OverVisitsEnum": "apercu_core.measures.over_visits.RULES",
        "LogKindEnum": "field_log.models.EntryKind",
        "TroubleEffectEnum": "field_log.models.TroubleEffect",
        "LogDecisionEnum": "field_log.models.DecisionKind",
        "KillEffectEnum": "operations.api.kill_shown.EFFECTS",
        "SowingDecisionEnum": "sowing.api.shapes.DECISIONS",
        "TriggerKindEnum": "apercu_core.triggers.trigger.KINDS",
        "ClosingKindEnum": "operations.api.trigger_shapes.CLOSING_KINDS",
        "AgendaStateEnum": "operations.api.serializers.STATES",
    },
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"who": {"()": "config.requests.WhoAndWhich"}},
    "formatters": {
        "line": {
            "format": "{asctime}Z {levelname} {name} person={person} request={request_id} {message}",
            "style": "{",
            "()": "config.requests.Utc",
        },
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["who"], "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "apercu.requests": {"level": "WARNING" if TESTING else "INFO"},
        "urllib3": {"level": "ERROR"},  # tries again of a service; what became of it stands with its station
        "django.request": {"level": "ERROR"},  # what was refused stands in the line of its request
    },
}
