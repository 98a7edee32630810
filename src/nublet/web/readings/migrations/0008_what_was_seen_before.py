"""Readings of earlier releases were seen when they were received; trials that nobody logs keep their times on paper."""

from typing import Any

from django.db import migrations
from django.db.models import Exists, F, OuterRef


def tell_when(apps: Any, _: Any) -> None:
    """Fill in the moments, and let trials that were under way without a log go on as they did."""
    entry = apps.get_model("readings", "ReadingEntry")
    reading = apps.get_model("readings", "Reading")
    trial = apps.get_model("trials", "Trial")
    work = apps.get_model("bench", "PanelWork")
    entry.objects.filter(seen_at__isnull=True).update(seen_at=F("at"))
    reading.objects.filter(seen_at__isnull=True, value__isnull=False).update(seen_at=F("changed_at"))
    logged = work.objects.filter(panel__trial=OuterRef("pk"), kind__in=["lift", "act"])
    read = reading.objects.filter(spot__panel__trial=OuterRef("pk"))
    trial.objects.filter(started_at__isnull=False).filter(Exists(read)).exclude(Exists(logged)).update(
        times_on_paper=True
    )


class Migration(migrations.Migration):
    """After the bench has its log."""

    dependencies = [
        ("readings", "0007_seen_at_and_turns"),
        ("bench", "0010_planned_together"),
        ("trials", "0014_how_it_is_read"),
    ]

    operations = [migrations.RunPython(tell_when, migrations.RunPython.noop)]
