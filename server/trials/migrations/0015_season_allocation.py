"""How treatments came to their plots belongs to a season: each site's map was made in its own way."""

from typing import Any

from django.db import migrations, models

KINDS = [("drawn", "Drawn"), ("systematic", "Systematic"), ("unknown", "Unknown")]


def from_trials(apps: Any, schema_editor: Any) -> None:
    """What the season's own draw says; where it has none, what was said of the trial."""
    for season in apps.get_model("trials", "Season").objects.select_related("trial"):
        if season.algorithm.startswith("as-listed"):
            season.allocation = "systematic"
        elif season.seed is not None:
            season.allocation = "drawn"
        else:
            season.allocation = season.trial.allocation
        season.save(update_fields=["allocation"])


class Migration(migrations.Migration):
    dependencies = [("trials", "0014_results_opened")]

    operations = [
        migrations.AddField(
            "season", "allocation", models.CharField(max_length=12, choices=KINDS, default="unknown")
        ),
        migrations.RunPython(from_trials, migrations.RunPython.noop),
        migrations.RemoveField("trial", "allocation"),
        migrations.RemoveField("historicaltrial", "allocation"),
    ]
