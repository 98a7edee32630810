import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('designs', '0001_moved_from_trials'),
        ('readings', '0002_started'),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name='reading',
                    name='spot',
                    field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='readings', to='designs.trialspot'),
                ),
            ],
        ),
    ]
