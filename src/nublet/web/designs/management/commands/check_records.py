"""``manage.py check_records``: whether every started trial's record still has its fingerprint."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand

from nublet.web.designs.freezing import check_record
from nublet.web.trials.models import Trial


class Command(BaseCommand):
    """Print each started trial with its fingerprint and the state of its record, as JSON."""

    help = "Print each started trial with its fingerprint and whether its record is intact, as JSON."

    def handle(self, *args: Any, **options: Any) -> None:
        """Look at all shops' trials."""
        found = [
            {"trial": trial.name, "fingerprint": trial.fingerprint, "state": check_record(trial)}
            for trial in Trial.objects.filter(started_at__isnull=False).order_by("pk")
        ]
        self.stdout.write(json.dumps(found))
