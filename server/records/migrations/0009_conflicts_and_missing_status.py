from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("records", "0008_place")]
    operations = [
        migrations.RenameField("observation", "fate", "missing_status"),
        migrations.RenameField("observation", "contested", "in_conflict"),
        migrations.RenameField("visit", "contested", "conflicts"),
        migrations.RenameIndex("observation", "conflicts_by_visit", old_name="contested_by_visit"),
        migrations.RenameIndex("visit", "visits_in_conflict", old_name="visits_contested"),
    ]
