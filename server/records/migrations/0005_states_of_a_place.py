import django.db.models.deletion
from django.db import migrations, models


def undone_rows_stand_for_what_they_brought_back(apps, schema_editor):
    """Rows of the undo as it was: each brought back what the row before it had replaced."""
    Observation = apps.get_model("records", "Observation")
    for row in Observation.objects.filter(why="Taken back").exclude(value=None, missing_reason="").select_related("replaces"):
        undone = row.replaces
        if undone is not None and undone.replaces_id is not None:
            row.stands_for_id = undone.replaces.stands_for_id or undone.replaces_id
            row.save(update_fields=["stands_for"])


class Migration(migrations.Migration):
    dependencies = [("records", "0004_what_old_visits_took")]

    operations = [
        migrations.AddField(
            model_name="observation",
            name="stands_for",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.RESTRICT, related_name="+", to="records.observation"
            ),
        ),
        migrations.AddField(
            model_name="observation",
            name="decides",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.RESTRICT, related_name="+", to="records.observation"
            ),
        ),
        migrations.RunPython(undone_rows_stand_for_what_they_brought_back, migrations.RunPython.noop),
    ]
