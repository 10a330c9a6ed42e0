import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL), ("trials", "0013_zones")]

    operations = [
        migrations.AddField(
            model_name="season",
            name="results_opened_at",
            field=models.DateTimeField(blank=True, help_text="When somebody first saw the results.", null=True),
        ),
        migrations.AddField(
            model_name="season",
            name="results_opened_by",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="season",
            name="results_how",
            field=models.JSONField(help_text="The method that they were opened with.", null=True),
        ),
    ]
