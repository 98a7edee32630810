from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('bench', '0004_moved_rooms'),
        ('readings', '0003_moved_rooms'),
        ('trials', '0007_bare_controls'),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RemoveField(
                    model_name='trialdeviation',
                    name='board',
                ),
                migrations.RemoveField(
                    model_name='trialpanel',
                    name='board',
                ),
                migrations.RemoveField(
                    model_name='trialbuildup',
                    name='trial',
                ),
                migrations.RemoveField(
                    model_name='trialbuildup',
                    name='version',
                ),
                migrations.RemoveField(
                    model_name='trialpanel',
                    name='build_up',
                ),
                migrations.RemoveField(
                    model_name='trialdeviation',
                    name='panel',
                ),
                migrations.RemoveField(
                    model_name='trialdeviation',
                    name='recorded_by',
                ),
                migrations.RemoveField(
                    model_name='trialdeviation',
                    name='trial',
                ),
                migrations.RemoveField(
                    model_name='trialpanel',
                    name='replaces',
                ),
                migrations.RemoveField(
                    model_name='trialpanel',
                    name='trial',
                ),
                migrations.RemoveField(
                    model_name='trialspot',
                    name='panel',
                ),
                migrations.DeleteModel(
                    name='TrialBoard',
                ),
                migrations.DeleteModel(
                    name='TrialBuildUp',
                ),
                migrations.DeleteModel(
                    name='TrialDeviation',
                ),
                migrations.DeleteModel(
                    name='TrialPanel',
                ),
                migrations.DeleteModel(
                    name='TrialSpot',
                ),
            ],
        ),
    ]
