from django.db import migrations, models

TEXT = "Shares of zones changed once values were recorded there: what, why, by whom, when."


class Migration(migrations.Migration):
    dependencies = [("trials", "0016_own_controls")]

    operations = [migrations.AddField("season", "reweighed", models.JSONField(default=list, help_text=TEXT))]
