"""The room's configuration."""

from django.apps import AppConfig


class DesignsConfig(AppConfig):
    """Listens to trials."""

    name = "nublet.web.designs"

    def ready(self) -> None:
        """Connect what is done when a trial changes."""
        from nublet.web.designs import receivers  # noqa: F401 - tables are known only now
