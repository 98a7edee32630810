"""``manage.py work QUEUE``: do what is queued, one thing after the other. The launcher starts it and watches it."""

from __future__ import annotations

import os
import time
from contextlib import suppress
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import OperationalError, connection

from nublet.web.jobs.actions import take_up_again

_LOOK_EVERY_S = 0.25
_DATABASE_AWAY_S = 2.0
_POLITE = 10


class Command(BaseCommand):
    """Work through a queue."""

    help = "Do what is queued."

    def add_arguments(self, parser: CommandParser) -> None:
        """The queue, and a mark by which a later launcher knows the process for its own."""
        parser.add_argument("queue")
        parser.add_argument("--env", default="", help="A mark in the command line; nothing is done with it.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Work until told to end; a database that is away is waited for."""
        with suppress(OSError):
            # The application comes first.
            os.nice(_POLITE)
        while True:
            try:
                take_up_again(options["queue"])
                call_command(
                    "db_worker",
                    queue_name=options["queue"],
                    interval=_LOOK_EVERY_S,
                    startup_delay=False,
                    reload=False,
                    verbosity=0,
                )
                return
            except OperationalError:
                connection.close()
                time.sleep(_DATABASE_AWAY_S)
