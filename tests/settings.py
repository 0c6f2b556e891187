"""Settings of the tests: the product's own, with quick passwords and files served as they lie."""

import os

os.environ.setdefault("VOLTAJE_SECRET_KEY", "only-for-tests")

from web.config.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
MIDDLEWARE = [name for name in MIDDLEWARE if "whitenoise" not in name]  # noqa: F405
