"""``manage.py load_demo``: the demo's data, once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from nublet.web.bench.demo import load_demo


class Command(BaseCommand):
    """Load the demo shop unless it is already there."""

    help = "Load the demo shop with its simulated trials, unless it is already there."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load and say so."""
        self.stdout.write("demo loaded" if load_demo() else "demo already there")
