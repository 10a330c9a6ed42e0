from django.db import migrations, models


def seasons_that_were_read_are_open(apps, schema_editor):
    """The first reading of a season was its first look."""
    Reading = apps.get_model("readings", "Reading")
    for reading in Reading.objects.select_related("season").order_by("created_at", "id"):
        season = reading.season
        if season.results_opened_at is None:
            season.results_opened_at, season.results_opened_by_id = reading.created_at, reading.by_id
            season.results_how = reading.asked["how"]
            season.save(update_fields=["results_opened_at", "results_opened_by", "results_how"])


class Migration(migrations.Migration):
    dependencies = [("readings", "0001_initial"), ("trials", "0014_results_opened")]

    operations = [
        migrations.RunPython(seasons_that_were_read_are_open, migrations.RunPython.noop),
        migrations.RemoveConstraint(model_name="reading", name="one_reading_of_the_same"),
        migrations.AddField(
            model_name="reading",
            name="identity",
            field=models.CharField(blank=True, default="", max_length=64),
        ),
        migrations.RemoveField(model_name="reading", name="asked_hash"),
        migrations.RemoveField(model_name="reading", name="tried_after"),
    ]
