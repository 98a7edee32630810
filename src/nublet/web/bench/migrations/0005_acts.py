"""Acts in plans and in the log, and irons."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('bench', '0004_moved_rooms'),
        ('designs', '0002_sites_and_slips'),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='panelwork',
            name='one_work_a_panel',
        ),
        migrations.AddField(
            model_name='panelwork',
            name='act',
            field=models.CharField(blank=True, db_default='', default='', max_length=70),
        ),
        migrations.AddField(
            model_name='plannedoperation',
            name='act',
            field=models.CharField(blank=True, db_default='', default='', max_length=70),
        ),
        migrations.AddField(
            model_name='shopbench',
            name='irons',
            field=models.PositiveSmallIntegerField(db_default=1, default=1),
        ),
        migrations.AddField(
            model_name='workentry',
            name='act',
            field=models.CharField(blank=True, db_default='', default='', max_length=70),
        ),
        migrations.AddConstraint(
            model_name='panelwork',
            constraint=models.UniqueConstraint(fields=('panel', 'item', 'kind', 'look_after_min', 'nth', 'act'), name='one_work_a_panel'),
        ),
    ]
