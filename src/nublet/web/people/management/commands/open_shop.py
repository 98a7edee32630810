"""``manage.py open_shop``: the first owner of a new installation."""

from __future__ import annotations

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from nublet.core.errors import NubletError
from nublet.web.people.actions import open_shop
from nublet.web.people.models import Person


class Command(BaseCommand):
    """Open a shop with its first owner. The password comes from NUBLET_OWNER_PASSWORD, never from arguments."""

    help = "Open a shop with its first owner."

    def add_arguments(self, parser: CommandParser) -> None:
        """Names; ``--is-empty`` only asks whether anyone exists."""
        parser.add_argument("--is-empty", action="store_true", help="Print yes when nobody can sign in yet.")
        parser.add_argument("--shop")
        parser.add_argument("--username")
        parser.add_argument("--display-name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Open the shop, or say what is wrong."""
        if options["is_empty"]:
            self.stdout.write("no" if Person.objects.exists() else "yes")
            return
        try:
            owner = open_shop(
                shop_name=options["shop"],
                username=options["username"],
                display_name=options["display_name"],
                password=os.environ["NUBLET_OWNER_PASSWORD"],
            )
        except NubletError as error:
            raise CommandError(error.message) from error
        self.stdout.write(f"{owner.display_name} may now sign in as {owner.username}")
