from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0008_place")]
    operations = [
        migrations.RemoveIndex("observation", "contested_by_visit"),
        migrations.RemoveIndex("visit", "visits_contested"),
        migrations.RenameField("observation", "fate", "missing_status"),
        migrations.RenameField("observation", "contested", "in_conflict"),
        migrations.RenameField("visit", "contested", "conflicts"),
        migrations.AddIndex(
            "observation",
            models.Index(fields=["visit"], condition=models.Q(in_conflict=True), name="conflicts_by_visit"),
        ),
        migrations.AddIndex(
            "visit", models.Index(fields=["season"], condition=models.Q(conflicts__gt=0), name="visits_in_conflict")
        ),
    ]
