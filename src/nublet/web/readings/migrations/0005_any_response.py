"""Values of responses other than grades are held to their scales by the core: a new scale is no change of a table."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("readings", "0004_responses"),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name="reading",
            name="value_is_of_its_response",
        ),
        migrations.RemoveConstraint(
            model_name="readingentry",
            name="entry_holds_what_its_kind_says",
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("value__isnull", True),
                    models.Q(
                        ("value__isnull", False),
                        models.Q(
                            models.Q(("response", "grade"), _negated=True),
                            models.Q(("value__gte", 1), ("value__lte", 5)),
                            _connector="OR",
                        ),
                    ),
                    _connector="OR",
                ),
                name="value_is_of_its_response",
            ),
        ),
        migrations.AddConstraint(
            model_name="readingentry",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(
                        ("kind", "grade"),
                        ("value__isnull", False),
                        models.Q(
                            models.Q(("response", "grade"), _negated=True),
                            models.Q(("value__gte", 1), ("value__lte", 5)),
                            _connector="OR",
                        ),
                    ),
                    ("kind", "note"),
                    models.Q(("kind", "take_back"), ("value__isnull", True)),
                    _connector="OR",
                ),
                name="entry_holds_what_its_kind_says",
            ),
        ),
    ]
