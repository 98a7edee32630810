"""How many slips of each."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('trials', '0009_own_protocol'),
    ]

    operations = [
        migrations.AddField(
            model_name='trial',
            name='slip_replicates',
            field=models.PositiveSmallIntegerField(db_default=3, default=3),
        ),
    ]
