import django.db.models.deletion
from django.db import migrations, models

from nublet.web.api.tables import move_table


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        # What refers to these tables was made before they moved.
        ('bench', '0003_cups'),
        ('readings', '0002_started'),
        ('shelf', '0002_design'),
        ('trials', '0007_bare_controls'),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                move_table('trials_trialbuildup', 'build_ups_trialbuildup'),
            ],
            state_operations=[
                migrations.CreateModel(
                    name='TrialBuildUp',
                    fields=[
                        ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                        ('name', models.CharField(max_length=120)),
                        ('is_control', models.BooleanField(default=False)),
                        ('preparation', models.JSONField(null=True)),
                        ('trial', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='build_ups', to='trials.trial')),
                        ('version', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='trial_build_ups', to='shelf.buildupversion')),
                    ],
                    options={
                        'constraints': [models.UniqueConstraint(fields=('trial', 'name'), name='one_build_up_name_a_trial'), models.CheckConstraint(condition=models.Q(('preparation__isnull', True), ('is_control', True), _connector='OR'), name='a_recipe_has_its_preparation'), models.CheckConstraint(condition=models.Q(models.Q(('is_control', True), ('version__isnull', True)), models.Q(('is_control', False), ('version__isnull', False)), _connector='OR'), name='a_finish_has_a_recipe')],
                    },
                ),
            ],
        ),
    ]
