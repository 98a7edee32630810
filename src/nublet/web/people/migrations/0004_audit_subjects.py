import re

from django.db import migrations, models

KINDS = {
    'trial': 'trial', 'build-up': 'build_up', 'product': 'product', 'wood': 'wood', 'agent': 'agent',
}


def name_subjects(apps, schema_editor):
    """A subject was words: "trial 7", a sign-in name, "shelf", the shop's name. It becomes what it meant."""
    Entry = apps.get_model('people', 'AuditEntry')
    people = dict(apps.get_model('people', 'Person').objects.values_list('username', 'pk'))
    for entry in Entry.objects.only('subject', 'shop', 'action').iterator():
        found = re.fullmatch(r'([a-z-]+) (\d+)', entry.subject)
        if found and found[1] in KINDS:
            entry.subject_kind, entry.subject_id = KINDS[found[1]], int(found[2])
        elif entry.action in ('add_person', 'change_person', 'change_own_password') and entry.subject in people:
            entry.subject_kind, entry.subject_id = 'person', people[entry.subject]
        else:
            entry.subject_kind, entry.subject_id = 'shop', entry.shop_id
        entry.save(update_fields=['subject_kind', 'subject_id'])


def word_subjects(apps, schema_editor):
    """Back to words."""
    Entry = apps.get_model('people', 'AuditEntry')
    people = dict(apps.get_model('people', 'Person').objects.values_list('pk', 'username'))
    words = {kind: word for word, kind in KINDS.items()}
    for entry in Entry.objects.iterator():
        if entry.subject_kind in words:
            entry.subject = f'{words[entry.subject_kind]} {entry.subject_id}'
        elif entry.subject_kind == 'person':
            entry.subject = people.get(entry.subject_id, '')
        else:
            entry.subject = 'shelf' if entry.action.startswith('import_') else f'bench {entry.subject_id}'
        entry.save(update_fields=['subject'])


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0003_money_and_measures'),
    ]

    operations = [
        migrations.AddField(
            model_name='auditentry',
            name='subject_kind',
            field=models.CharField(choices=[('shop', 'Shop'), ('person', 'Person'), ('trial', 'Trial'), ('build_up', 'Build Up'), ('product', 'Product'), ('wood', 'Wood'), ('agent', 'Agent')], max_length=20, null=True),
        ),
        migrations.AddField(
            model_name='auditentry',
            name='subject_id',
            field=models.BigIntegerField(null=True),
        ),
        migrations.AlterField(
            model_name='auditentry',
            name='subject',
            field=models.CharField(db_default='', default='', max_length=120),
        ),
        migrations.RunPython(name_subjects, word_subjects),
        migrations.AlterField(
            model_name='auditentry',
            name='subject_kind',
            field=models.CharField(choices=[('shop', 'Shop'), ('person', 'Person'), ('trial', 'Trial'), ('build_up', 'Build Up'), ('product', 'Product'), ('wood', 'Wood'), ('agent', 'Agent')], max_length=20),
        ),
        migrations.AlterField(
            model_name='auditentry',
            name='subject_id',
            field=models.BigIntegerField(),
        ),
        migrations.RemoveField(
            model_name='auditentry',
            name='subject',
        ),
        migrations.AddIndex(
            model_name='auditentry',
            index=models.Index(fields=['subject_kind', 'subject_id'], name='changes_of_a_subject'),
        ),
        migrations.AddConstraint(
            model_name='auditentry',
            constraint=models.CheckConstraint(condition=models.Q(('subject_kind__in', ['shop', 'person', 'trial', 'build_up', 'product', 'wood', 'agent'])), name='subject_kind_is_known'),
        ),
    ]
