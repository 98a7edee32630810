"""Sites that are no rings, slips of glass, and how many values each site wants."""

from typing import Any

import django.db.models.deletion
import django.db.models.expressions
from django.db import migrations, models


def count_values(apps: Any, schema_editor: Any) -> None:
    """Every trial until now has one value a judge at each of its protocol's looks, and none by hands."""
    trials = apps.get_model("trials", "Trial").objects.exclude(panels=None).distinct()
    for trial in trials.iterator():
        spots = apps.get_model("designs", "TrialSpot").objects.filter(panel__trial=trial.pk)
        spots.update(n_judged=len(trial.protocol_plain.get("looks") or ()))


class Migration(migrations.Migration):

    dependencies = [
        ('build_ups', '0001_moved_from_trials'),
        ('designs', '0001_moved_from_trials'),
        ('trials', '0010_trial_slip_replicates'),
    ]

    operations = [
        migrations.AddField(
            model_name='trialpanel',
            name='slip_test',
            field=models.CharField(db_collation='utf8mb4_bin', max_length=60, null=True),
        ),
        migrations.AddField(
            model_name='trialspot',
            name='across_mm',
            field=models.FloatField(db_default=0.0, default=0.0),
        ),
        migrations.AddField(
            model_name='trialspot',
            name='along_mm',
            field=models.FloatField(db_default=0.0, default=0.0),
        ),
        migrations.AddField(
            model_name='trialspot',
            name='kind',
            field=models.CharField(db_default='spot', default='spot', max_length=5),
        ),
        migrations.AddField(
            model_name='trialspot',
            name='n_by_hands',
            field=models.PositiveSmallIntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='trialspot',
            name='n_judged',
            field=models.PositiveSmallIntegerField(db_default=0, default=0),
        ),
        migrations.AlterField(
            model_name='trialpanel',
            name='board',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='panels', to='designs.trialboard'),
        ),
        migrations.AddConstraint(
            model_name='trialpanel',
            constraint=models.UniqueConstraint(fields=('build_up', 'slip_test', 'position', 'attempt'), name='each_slip_once_a_replicate'),
        ),
        migrations.AddConstraint(
            model_name='trialpanel',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('board__isnull', True), ('slip_test__isnull', False)), models.Q(('board__isnull', False), ('slip_test__isnull', True)), _connector='OR'), name='a_piece_is_wood_or_glass'),
        ),
        migrations.AddConstraint(
            model_name='trialspot',
            constraint=models.CheckConstraint(condition=models.Q(('kind__in', ['spot', 'strip', 'part', 'end', 'panel', 'slip'])), name='a_site_is_of_a_kind'),
        ),
        migrations.AddConstraint(
            model_name='trialspot',
            constraint=models.CheckConstraint(condition=models.Q(('x_mm__gte', django.db.models.expressions.CombinedExpression(django.db.models.expressions.CombinedExpression(models.F('along_mm'), '/', models.Value(2)), '-', models.Value(0.001))), ('y_mm__gte', django.db.models.expressions.CombinedExpression(django.db.models.expressions.CombinedExpression(models.F('across_mm'), '/', models.Value(2)), '-', models.Value(0.001)))), name='a_site_is_on_its_panel'),
        ),
        migrations.RunPython(count_values, migrations.RunPython.noop),
    ]
