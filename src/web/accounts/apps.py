"""The accounts application."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Connects what listens to sign-ins."""

    name = "web.accounts"
    label = "accounts"

    def ready(self) -> None:
        """Let sign-ins be heard."""
        from web.accounts import sessions  # noqa: F401, PLC0415  (models are loaded by now)
