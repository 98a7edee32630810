"""Choices between two pieces, and what is more than can be told."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('designs', '0002_sites_and_slips'),
        ('readings', '0005_any_response'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='reading',
            name='one_reading_a_view',
        ),
        migrations.AddField(
            model_name='reading',
            name='against',
            field=models.CharField(blank=True, db_collation='utf8mb4_bin', db_default='', default='', max_length=8),
        ),
        migrations.AddField(
            model_name='reading',
            name='is_beyond',
            field=models.BooleanField(db_default=False, default=False),
        ),
        migrations.AddField(
            model_name='readingentry',
            name='is_beyond',
            field=models.BooleanField(db_default=False, default=False),
        ),
        migrations.AddConstraint(
            model_name='reading',
            constraint=models.UniqueConstraint(fields=('spot', 'judge', 'look', 'response', 'view', 'against'), name='one_reading_a_view'),
        ),
    ]
