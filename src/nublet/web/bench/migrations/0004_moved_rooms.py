import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('bench', '0003_cups'),
        ('build_ups', '0001_moved_from_trials'),
        ('designs', '0001_moved_from_trials'),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.AlterField(
                    model_name='mix',
                    name='build_up',
                    field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to='build_ups.trialbuildup'),
                ),
                migrations.AlterField(
                    model_name='panelwork',
                    name='panel',
                    field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='works', to='designs.trialpanel'),
                ),
                migrations.AlterField(
                    model_name='plannedoperation',
                    name='build_up',
                    field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to='build_ups.trialbuildup'),
                ),
            ],
        ),
    ]
