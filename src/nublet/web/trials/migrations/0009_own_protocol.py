import json

from django.db import migrations, models

# What shipped when trials began to keep their own, word for word: what ships later changes none of them.
TABLE_BASICS = {'format': 1,
 'name': 'Table basics',
 'says': 'Six spots that a table meets first: water, alcohol, wine, coffee, a hot wet dish and a hot dry '
         'pan. Modelled on the public furniture standards; not a certified laboratory test.',
 'id': 'table-basics',
 'version': 1,
 'exposures': [{'id': 'water-6h',
                'name': 'Water, covered 6 h',
                'short_name': 'Water 6 h',
                'agent': 'water',
                'kind': 'liquid',
                'wetted_mm': 40,
                'duration_min': 360,
                'covered': True,
                'temperature_c': None,
                'amount': '25 mm paper disc, soaked, under a 40 mm cover'},
               {'id': 'ethanol-1h',
                'name': 'Ethanol 48 %, covered 1 h',
                'short_name': 'Ethanol 1 h',
                'agent': 'ethanol 48 %',
                'kind': 'liquid',
                'wetted_mm': 40,
                'duration_min': 60,
                'covered': True,
                'temperature_c': None,
                'amount': '25 mm paper disc, soaked, under a 40 mm cover'},
               {'id': 'wine-1h',
                'name': 'Red wine, covered 1 h',
                'short_name': 'Wine 1 h',
                'agent': 'red wine',
                'kind': 'liquid',
                'wetted_mm': 40,
                'duration_min': 60,
                'covered': True,
                'temperature_c': None,
                'amount': '25 mm paper disc, soaked, under a 40 mm cover'},
               {'id': 'coffee-1h',
                'name': 'Coffee, covered 1 h',
                'short_name': 'Coffee 1 h',
                'agent': 'coffee',
                'kind': 'liquid',
                'wetted_mm': 40,
                'duration_min': 60,
                'covered': True,
                'temperature_c': None,
                'amount': '25 mm paper disc, soaked, under a 40 mm cover'},
               {'id': 'wet-heat-70',
                'name': 'Wet heat 70 °C, 20 min',
                'short_name': 'Wet heat 70°',
                'agent': 'hot block on a damp cloth',
                'kind': 'heat',
                'wetted_mm': 100,
                'duration_min': 20,
                'covered': False,
                'temperature_c': 70,
                'amount': '100 mm block on a damp cloth with 2 mL water'},
               {'id': 'dry-heat-100',
                'name': 'Dry heat 100 °C, 20 min',
                'short_name': 'Dry heat 100°',
                'agent': 'hot block',
                'kind': 'heat',
                'wetted_mm': 100,
                'duration_min': 20,
                'covered': False,
                'temperature_c': 100,
                'amount': '100 mm block, dry'}],
 'looks': [{'id': 'lifted', 'name': 'At lifting', 'after_min': 0},
           {'id': '24h', 'name': '24 h', 'after_min': 1440}]}


def copy_protocols(apps, schema_editor):
    """Each trial gets its protocol: a started one as its record has it, every other as it ships."""
    Trial = apps.get_model('trials', 'Trial')
    for trial in Trial.objects.only('record', 'protocol_plain'):
        recorded = json.loads(trial.record)['protocol'] if trial.record else {}
        trial.protocol_plain = {**TABLE_BASICS, **recorded}
        trial.save(update_fields=['protocol_plain'])


class Migration(migrations.Migration):

    dependencies = [
        ('trials', '0008_moved_rooms'),
    ]

    operations = [
        migrations.AddField(
            model_name='trial',
            name='protocol_plain',
            field=models.JSONField(default=dict),
        ),
        migrations.RunPython(copy_protocols, migrations.RunPython.noop),
    ]
