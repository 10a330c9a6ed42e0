from django.db import migrations, models

KINDS = [
    ("continuous", "Continuous"), ("count", "Count"), ("percentage", "Percentage"), ("k-of-n", "K Of N"),
    ("score", "Score"),
]  # fmt: skip


class Migration(migrations.Migration):
    dependencies = [("library", "0003_own_species")]

    operations = [
        migrations.AlterField(
            "measureversion", "kind", models.CharField(max_length=12, choices=KINDS, default="continuous")
        ),
    ]
