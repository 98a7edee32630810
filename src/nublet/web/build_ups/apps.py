"""The room's configuration."""

from django.apps import AppConfig


class BuildUpsConfig(AppConfig):
    """Listens to trials."""

    name = "nublet.web.build_ups"

    def ready(self) -> None:
        """Connect what is done when a trial changes."""
        from nublet.web.build_ups import receivers  # noqa: F401 - tables are known only now
