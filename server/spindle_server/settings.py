"""Django settings. Everything that differs between installations comes from the environment,
which the launcher sets; nothing secret is in the repository."""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF
from django.db.backends.mysql.base import django_conversions

from spindle_server.records.hexadecimal import Hexadecimal, hexadecimal_literal

CHECKOUT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("SPINDLE_VAR", CHECKOUT / "var"))
DRAW_WORKER = CHECKOUT / "web" / "dist-draw" / "draw.js"
"""Draws readers' pages; built with the front end, run by :data:`NODE`."""
NODE = os.environ.get("SPINDLE_NODE", "node")
WEB_BUILD = Path(os.environ.get("SPINDLE_WEB_BUILD", CHECKOUT / "web" / "dist"))
DEMO = os.environ.get("SPINDLE_DEMO") == "1"
AGENT_SOCKET = Path(os.environ.get("SPINDLE_AGENT_SOCKET", VAR / "run" / "agent.sock"))

# The stop door: where pages reach it, and the key that signs their passes (see bench/).
DOOR_PORT = int(os.environ.get("SPINDLE_DOOR_PORT", "8140"))
DOOR_KEY = os.environ.get("SPINDLE_DOOR_KEY", "")
DOOR_URL = os.environ.get("SPINDLE_DOOR_URL", "")

# Photos lie outside everything that is served as a file; a view hands them out.
UPKEEP_FILE = Path(os.environ.get("SPINDLE_UPKEEP_FILE", VAR / "run" / "upkeep.json"))
PHOTOS = VAR / "photos"
PACKS = VAR / "packs"
INBOX = Path(os.environ.get("SPINDLE_INBOX", VAR / "inbox"))

DEBUG = False
SECRET_KEY = os.environ.get("SPINDLE_SECRET_KEY", "")
if not SECRET_KEY:
    raise RuntimeError("SPINDLE_SECRET_KEY is not set; start through ./spindle.")
ALLOWED_HOSTS = os.environ.get("SPINDLE_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("SPINDLE_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "django_filters",
    "drf_spectacular",
    "simple_history",
    "axes",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "spindle_server.accounts",
    "spindle_server.once",
    "spindle_server.work",
    "spindle_server.motors",
    "spindle_server.motor_file",
    "spindle_server.teardown",
    "spindle_server.photos",
    "spindle_server.rig",
    "spindle_server.bench",
    "spindle_server.runs",
    "spindle_server.identification",
    "spindle_server.imports",
    "spindle_server.exports",
    "spindle_server.plan",
    "spindle_server.rank",
    "spindle_server.match",
    "spindle_server.compare",
    "spindle_server.other_benches",
    "spindle_server.afterwards",
    "spindle_server.verdict",
    "spindle_server.publish",
    "spindle_server.vocabulary",
    "spindle_server.board",
    "spindle_server.demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "spindle_server.api.build.name_build",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "spindle_server.records.reading_copy.reads_by_a_copy",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "spindle_server.accounts.sessions.idle_ends",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "spindle_server.once.middleware.CarriedOutOnce",
]

ROOT_URLCONF = "spindle_server.urls"
ASGI_APPLICATION = "spindle_server.asgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "DIRS": [Path(__file__).parent / "api" / "templates"],
    }
]

# A database that does not answer is an error after this long, never a wait without end. Commands
# that run by themselves (migrations, loading, measuring) wait longer.
DB_ANSWERS_WITHIN_S = int(os.environ.get("SPINDLE_DB_ANSWERS_WITHIN_S", "600"))

SQL_MODE = (
    "sql_mode='STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO', "
    "innodb_strict_mode=1"
)
DB_HOST = os.environ.get("SPINDLE_DB_HOST", "")
DB_OPTIONS: dict[str, object] = {
    "charset": "utf8mb4",
    "collation": "utf8mb4_unicode_ci",
    # A node of a cluster first applies what others have committed before, so that who wrote by one
    # node reads it by another.
    "init_command": f"SET {SQL_MODE}{', wsrep_sync_wait=7' if DB_HOST else ''}",
    "isolation_level": "read committed",
    "connect_timeout": min(5, DB_ANSWERS_WITHIN_S),
    "read_timeout": DB_ANSWERS_WITHIN_S,
    "write_timeout": DB_ANSWERS_WITHIN_S,
    "conv": {**django_conversions, Hexadecimal: hexadecimal_literal},
}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": os.environ.get("SPINDLE_DB_NAME", "spindle"),
        "USER": os.environ.get("SPINDLE_DB_USER", "spindle"),
        "PASSWORD": os.environ.get("SPINDLE_DB_PASSWORD", ""),
        "HOST": DB_HOST or os.environ.get("SPINDLE_DB_SOCKET", str(VAR / "run" / "mariadb.sock")),
        "PORT": os.environ.get("SPINDLE_DB_PORT", ""),
        # Persistent connections do not survive an ASGI server's threads.
        "CONN_MAX_AGE": 0,
        "OPTIONS": DB_OPTIONS,
        "TEST": {
            "NAME": os.environ.get("SPINDLE_TEST_DB_NAME", "test_spindle"),
            "CHARSET": "utf8mb4",
            "COLLATION": "utf8mb4_unicode_ci",
        },
    }
}
# A copy of it that pages are read by (docs/cluster.md); whatever would write there is refused.
DB_COPY_HOST = os.environ.get("SPINDLE_DB_COPY_HOST", "")
DATABASE_ROUTERS = []
if DB_COPY_HOST:
    DATABASES["copy"] = {
        **DATABASES["default"],
        "HOST": DB_COPY_HOST,
        "PORT": os.environ.get("SPINDLE_DB_COPY_PORT", ""),
        "OPTIONS": {
            **DB_OPTIONS,
            "init_command": f"SET {SQL_MODE}, tx_read_only=1",
            "connect_timeout": 2,
        },
    }
    DATABASE_ROUTERS = ["spindle_server.records.reading_copy.ByCopy"]
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    # Django's list of common passwords ships with it; length and this list, no rules of signs.
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

# Five failures of one name from one address lock that pair for a quarter of an hour; many of one
# name from anywhere, or of many names from one address, lock that name or that address.
FAILURES_OF_A_NAME = 20
FAILURES_FROM_AN_ADDRESS = 30
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_ENABLE_ADMIN = False
AXES_VERBOSE = False
OTP_TOTP_ISSUER = "Taut Spindle"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_IDLE_S = 12 * 3600
"""Nobody did anything for so long: who comes next logs in again. Never while the bench is hot."""
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "spindle_server.api.errors.json_forged"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = os.environ.get("SPINDLE_HTTPS") == "1"
# Told to whoever comes with TLS; whether that is so, the proxy of this machine says.
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if os.environ.get("SPINDLE_HTTPS") == "1" else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        # The component library and the charts set style attributes.
        "style-src": [SELF, "'unsafe-inline'"],
        "img-src": [SELF, "data:", "blob:"],
        "connect-src": [
            SELF,
            *([DOOR_URL] if DOOR_URL else []),
            *(f"ws://{host}:{DOOR_PORT}" for host in ALLOWED_HOSTS),
        ],
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
STATICFILES_DIRS = [WEB_BUILD] if WEB_BUILD.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    # Hashed by Vite already: a manifest storage would break its lazily loaded chunks.
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}


def vite_names_are_immutable(path: str, url: str) -> bool:
    """Vite puts a content hash into every file name under assets/."""
    return url.startswith("/static/assets/")


WHITENOISE_IMMUTABLE_FILE_TEST = vite_names_are_immutable

# Long work waits in the database and is done by a process of its own (the command long_work).
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 32_000_000

USE_TZ = True
TIME_ZONE = os.environ.get("SPINDLE_TIME_ZONE", "UTC")
"""Of the bench: its days begin at midnight there. The database keeps UTC."""
LANGUAGE_CODE = "en"

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["spindle_server.api.authentication.Session"],
    "DEFAULT_PERMISSION_CLASSES": ["spindle_server.accounts.permissions.ByRole"],
    "DEFAULT_PARSER_CLASSES": ["spindle_server.api.parsing.Json"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_FILTER_BACKENDS": ["django_filters.rest_framework.DjangoFilterBackend"],
    "DEFAULT_PAGINATION_CLASS": "spindle_server.api.pagination.Pages",
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "spindle_server.api.errors.answer_error",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
    "COERCE_DECIMAL_TO_STRING": False,
}

SPECTACULAR_SETTINGS = {
    "TITLE": "Taut Spindle",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_ADD_EXPLICIT_BLANK_NULL_CHOICE": True,
    "SCHEMA_PATH_PREFIX": "/api/v1",
    "ENUM_NAME_OVERRIDES": {
        "VerdictKindEnum": "spindle_server.verdict.models.VERDICT_KINDS",
        "QuoteKindEnum": "spindle_server.verdict.models.QUOTE_KINDS",
        "MotorKindEnum": "spindle_server.motors.models.MOTOR_KINDS",
        "SizeBasisEnum": "spindle_server.motors.models.BASES",
        "PartKindEnum": "spindle_server.motors.models.PART_KINDS",
        "PreparationKindEnum": "spindle_server.motors.models.PREPARATIONS",
        "IncidentKindEnum": "spindle_server.motors.models.INCIDENTS",
        "ClaimedQuantityEnum": "spindle_server.motors.models.CLAIM_CHOICES",
        "ExpectedQuantityEnum": "spindle_server.motors.models.EXPECTED_OF",
        "AttributeEnum": "spindle_server.teardown.models.ATTRIBUTE_CHOICES",
        "RoleEnum": "spindle_server.accounts.models.Role.choices",
        "ObservationStatusEnum": "spindle_server.teardown.models.STATUS_CHOICES",
        "OutcomeEnum": "spindle_server.runs.models.OUTCOME_CHOICES",
        "RunKindEnum": "spindle_server.runs.models.KIND_CHOICES",
        "ReviewEnum": "spindle_server.runs.models.REVIEW_CHOICES",
        "SupplyKindEnum": "spindle_server.rig.models.SUPPLY_KINDS",
        "StandKindEnum": "spindle_server.rig.models.STAND_KINDS",
        "StepKindEnum": "spindle_server.plan.models.STEP_KINDS",
        "FitOutcomeEnum": "spindle_server.motor_file.fit.FIT_OUTCOMES",
    },
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"lines": {"()": "spindle_server.logs.JsonLines"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "lines"}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
    # Every change to the record, and every defect with its trace.
    "loggers": {"spindle_server": {"level": "INFO"}},
}
SILENCED_SYSTEM_CHECKS = [
    "security.W004",  # HSTS, W008 redirect, W012/W016 secure cookies: plain HTTP on loopback
    "security.W008",
    "security.W012",
    "security.W016",
]
