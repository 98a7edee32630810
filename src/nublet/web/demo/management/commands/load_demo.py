"""``manage.py load_demo``: the demo's data, once."""

from __future__ import annotations

import json
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from nublet.web.demo.loading import load_demo, plug_in


class Command(BaseCommand):
    """Load the demo shop unless it is already there."""

    help = "Load the demo shop with its simulated trials, unless it is already there."

    def add_arguments(self, parser: CommandParser) -> None:
        """``--migrate`` saves the launcher a second start of Django."""
        parser.add_argument("--migrate", action="store_true", help="Bring the tables up to date first.")
        parser.add_argument("--instruments", default="", help="Addresses by kind, as JSON.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Load and say so."""
        if options["migrate"]:
            call_command("migrate", verbosity=0)
        loaded = load_demo()
        if options["instruments"]:
            plug_in(json.loads(options["instruments"]))
        self.stdout.write("demo loaded" if loaded else "demo already there")
