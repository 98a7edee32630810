"""``manage.py migrate``: as ever, after rooms that changed their names have been renamed."""

from __future__ import annotations

from typing import Any

from django.core.management.commands.migrate import Command as Migrate

from nublet.web.api.tables import rename_rooms


class Command(Migrate):
    """Bring the tables up to date."""

    def handle(self, *args: Any, **options: Any) -> None:
        """Rename, then migrate."""
        rename_rooms()
        super().handle(*args, **options)
