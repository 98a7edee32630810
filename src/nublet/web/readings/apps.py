"""The room's configuration."""

from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    """Listens to trials."""

    name = "nublet.web.readings"

    def ready(self) -> None:
        """Connect what is done when a trial changes."""
        from nublet.web.readings import receivers  # noqa: F401 - tables are known only now
