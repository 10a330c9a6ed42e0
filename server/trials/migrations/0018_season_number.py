from typing import Any

from django.db import migrations, models

TEXT = "Of the site in the trial, which its plots' numbers begin with; it never changes."


def from_order(apps: Any, schema_editor: Any) -> None:
    """As plots were numbered until now."""
    for season in apps.get_model("trials", "Season").objects.all():
        season.number = season.order + 1
        season.save(update_fields=["number"])


class Migration(migrations.Migration):
    dependencies = [("trials", "0017_reweighed")]

    operations = [
        migrations.AddField("season", "number", models.PositiveIntegerField(default=1, help_text=TEXT)),
        migrations.RunPython(from_order, migrations.RunPython.noop),
    ]
