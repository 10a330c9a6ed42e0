from django.db import migrations, models

TEXT = "Treatment → its control at the same levels of other factors, by id, and how that is said; none: the control."


class Migration(migrations.Migration):
    dependencies = [("trials", "0015_season_allocation")]

    operations = [
        migrations.AddField(model, "own_controls", models.JSONField(default=dict, help_text=TEXT))
        for model in ("trialmeasure", "historicaltrialmeasure")
    ]
