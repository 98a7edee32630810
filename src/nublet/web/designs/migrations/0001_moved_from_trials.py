import django.db.models.deletion
import django.db.models.expressions
from django.conf import settings
from django.db import migrations, models

from nublet.web.api.tables import move_table


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('build_ups', '0001_moved_from_trials'),
        ('trials', '0007_bare_controls'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                move_table('trials_trialboard', 'designs_trialboard'),
                move_table('trials_trialpanel', 'designs_trialpanel'),
                move_table('trials_trialdeviation', 'designs_trialdeviation'),
                move_table('trials_trialspot', 'designs_trialspot'),
            ],
            state_operations=[
                migrations.CreateModel(
                    name='TrialBoard',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('name', models.CharField(max_length=60)),
                        ('species', models.CharField(max_length=60)),
                        ('number', models.PositiveSmallIntegerField()),
                        ('length_mm', models.FloatField(null=True)),
                        ('width_mm', models.FloatField(null=True)),
                        ('defects', models.JSONField(default=list)),
                        ('trial', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='boards', to='trials.trial')),
                    ],
                ),
                migrations.CreateModel(
                    name='TrialPanel',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('code', models.CharField(db_collation='utf8mb4_bin', max_length=8)),
                        ('position', models.PositiveSmallIntegerField()),
                        ('part', models.PositiveSmallIntegerField(default=1)),
                        ('attempt', models.PositiveSmallIntegerField(default=1)),
                        ('sections', models.JSONField(default=list)),
                        ('spoiled_at', models.DateTimeField(null=True)),
                        ('board', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='panels', to='designs.trialboard')),
                        ('build_up', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='panels', to='build_ups.trialbuildup')),
                        ('replaces', models.OneToOneField(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='replaced_by', to='designs.trialpanel')),
                        ('trial', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='panels', to='trials.trial')),
                    ],
                ),
                migrations.CreateModel(
                    name='TrialDeviation',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('kind', models.CharField(choices=[('panel_spoiled', 'Panel Spoiled'), ('panel_replaced', 'Panel Replaced'), ('board_swapped', 'Board Swapped'), ('window_missed', 'Window Missed'), ('noted', 'Noted')], max_length=20)),
                        ('says', models.TextField()),
                        ('reason', models.TextField()),
                        ('at', models.DateTimeField(auto_now_add=True)),
                        ('found_key', models.CharField(max_length=120, null=True)),
                        ('judgement', models.CharField(blank=True, default='', max_length=10)),
                        ('spoils_exposure', models.CharField(blank=True, default='', max_length=60)),
                        ('spoils_look_min', models.FloatField(null=True)),
                        ('withdrawn_at', models.DateTimeField(null=True)),
                        ('board', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='deviations', to='designs.trialboard')),
                        ('recorded_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL)),
                        ('trial', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='deviations', to='trials.trial')),
                        ('panel', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='deviations', to='designs.trialpanel')),
                    ],
                ),
                migrations.CreateModel(
                    name='TrialSpot',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('exposure', models.CharField(max_length=60)),
                        ('place', models.PositiveSmallIntegerField(default=0)),
                        ('section', models.CharField(blank=True, max_length=60)),
                        ('side', models.CharField(default='front', max_length=5)),
                        ('x_mm', models.FloatField()),
                        ('y_mm', models.FloatField()),
                        ('diameter_mm', models.FloatField()),
                        ('panel', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='spots', to='designs.trialpanel')),
                    ],
                ),
                migrations.AddConstraint(
                    model_name='trialboard',
                    constraint=models.UniqueConstraint(fields=('trial', 'name'), name='one_board_name_a_trial'),
                ),
                migrations.AddConstraint(
                    model_name='trialboard',
                    constraint=models.UniqueConstraint(fields=('trial', 'species', 'number'), name='one_board_a_number'),
                ),
                migrations.AddConstraint(
                    model_name='trialboard',
                    constraint=models.CheckConstraint(condition=models.Q(('length_mm__isnull', True), ('length_mm__gt', 0), _connector='OR'), name='a_board_has_length'),
                ),
                migrations.AddConstraint(
                    model_name='trialboard',
                    constraint=models.CheckConstraint(condition=models.Q(('width_mm__isnull', True), ('width_mm__gt', 0), _connector='OR'), name='a_board_has_width'),
                ),
                migrations.AddConstraint(
                    model_name='trialpanel',
                    constraint=models.UniqueConstraint(fields=('trial', 'code'), name='one_panel_a_code'),
                ),
                migrations.AddConstraint(
                    model_name='trialpanel',
                    constraint=models.UniqueConstraint(fields=('board', 'build_up', 'part', 'attempt'), name='each_build_up_once_a_board'),
                ),
                migrations.AddConstraint(
                    model_name='trialpanel',
                    constraint=models.UniqueConstraint(fields=('board', 'position'), name='one_panel_a_place'),
                ),
                migrations.AddConstraint(
                    model_name='trialdeviation',
                    constraint=models.UniqueConstraint(fields=('panel', 'found_key'), name='each_missed_window_once'),
                ),
                migrations.AddConstraint(
                    model_name='trialspot',
                    constraint=models.UniqueConstraint(fields=('panel', 'place', 'exposure'), name='each_exposure_once_a_section'),
                ),
                migrations.AddConstraint(
                    model_name='trialspot',
                    constraint=models.CheckConstraint(condition=models.Q(('side__in', ['front', 'back'])), name='a_panel_has_two_sides'),
                ),
                migrations.AddConstraint(
                    model_name='trialspot',
                    constraint=models.CheckConstraint(condition=models.Q(('x_mm__gte', django.db.models.expressions.CombinedExpression(models.F('diameter_mm'), '/', models.Value(2))), ('y_mm__gte', django.db.models.expressions.CombinedExpression(models.F('diameter_mm'), '/', models.Value(2)))), name='a_spot_is_on_its_panel'),
                ),
            ],
        ),
    ]
