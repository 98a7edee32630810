from django.db import migrations
from django.utils import timezone


def start_graded_trials(apps, schema_editor):
    """A trial with readings has started, and the versions that it compares are frozen."""
    Reading = apps.get_model("readings", "Reading")
    Trial = apps.get_model("trials", "Trial")
    Version = apps.get_model("shelf", "BuildUpVersion")
    graded = set(Reading.objects.values_list("spot__panel__trial", flat=True).distinct())
    Trial.objects.filter(pk__in=graded, started_at__isnull=True).update(started_at=timezone.now())
    Version.objects.filter(trial_build_ups__trial__in=graded).update(frozen_at=timezone.now())


class Migration(migrations.Migration):

    dependencies = [
        ('readings', '0001_initial'),
        ('trials', '0002_shelf'),
        ('shelf', '0001_shelf'),
    ]

    operations = [migrations.RunPython(start_graded_trials, migrations.RunPython.noop)]
