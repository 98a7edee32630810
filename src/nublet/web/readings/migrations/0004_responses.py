from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('designs', '0001_moved_from_trials'),
        ('readings', '0003_moved_rooms'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveConstraint(model_name='reading', name='grade_is_on_the_scale'),
        migrations.RemoveConstraint(model_name='readingentry', name='entry_holds_what_its_kind_says'),
        migrations.RenameField(model_name='reading', old_name='grade', new_name='value'),
        migrations.RenameField(model_name='readingentry', old_name='grade', new_name='value'),
        migrations.AlterField(
            model_name='reading',
            name='value',
            field=models.DecimalField(decimal_places=4, max_digits=16, null=True),
        ),
        migrations.AlterField(
            model_name='readingentry',
            name='value',
            field=models.DecimalField(decimal_places=4, max_digits=16, null=True),
        ),
        migrations.AddField(
            model_name='reading',
            name='response',
            field=models.CharField(db_default='grade', default='grade', max_length=30),
        ),
        migrations.AddField(
            model_name='reading',
            name='view',
            field=models.CharField(blank=True, db_default='', default='', max_length=20),
        ),
        migrations.AddField(
            model_name='readingentry',
            name='response',
            field=models.CharField(db_default='grade', default='grade', max_length=30),
        ),
        # The new one first: the key to the spots needs an index that begins with them at all times.
        migrations.AddConstraint(
            model_name='reading',
            constraint=models.UniqueConstraint(fields=('spot', 'judge', 'look', 'response', 'view'), name='one_reading_a_view'),
        ),
        migrations.RemoveConstraint(model_name='reading', name='one_reading_a_look'),
        migrations.AddConstraint(
            model_name='reading',
            constraint=models.CheckConstraint(condition=models.Q(('value__isnull', True), models.Q(('response', 'grade'), ('value__isnull', False), ('value__gte', 1), ('value__lte', 5)), _connector='OR'), name='value_is_of_its_response'),
        ),
        migrations.AddConstraint(
            model_name='readingentry',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('kind', 'grade'), ('response', 'grade'), ('value__isnull', False), ('value__gte', 1), ('value__lte', 5)), ('kind', 'note'), models.Q(('kind', 'take_back'), ('value__isnull', True)), _connector='OR'), name='entry_holds_what_its_kind_says'),
        ),
    ]
