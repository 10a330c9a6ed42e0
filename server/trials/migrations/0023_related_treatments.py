import uuid

import django.db.models.deletion
import simple_history.models
from django.db import migrations, models


def related(apps, schema_editor):
    """Lists of ids become relations, in the history too; a treatment that is gone stands in the history alone."""
    Season, Measure = apps.get_model("trials", "Season"), apps.get_model("trials", "TrialMeasure")
    there = set(apps.get_model("trials", "Treatment").objects.values_list("id", flat=True))
    for model, old, new in ((Season, "left_out", "not_grown"), (Measure, "planned_for_ids", "planned_for")):
        for row in model.objects.exclude(**{old: []}):
            getattr(row, new).set({uuid.UUID(id) for id in getattr(row, old)} & there)
    Past = apps.get_model("trials", "HistoricalTrialMeasure_planned_for")
    for row in apps.get_model("trials", "HistoricalTrialMeasure").objects.exclude(planned_for_ids=[]):
        Past.objects.bulk_create(
            Past(id=0, history_id=row.history_id, trialmeasure_id=row.id, treatment_id=uuid.UUID(id))
            for id in row.planned_for_ids
        )


def _past(to):
    return models.ForeignKey(
        blank=True, db_constraint=False, db_tablespace="", null=True,
        on_delete=django.db.models.deletion.DO_NOTHING, related_name="+", to=to,
    )  # fmt: skip


class Migration(migrations.Migration):
    dependencies = [("trials", "0022_series")]
    operations = [
        migrations.RenameField("trialmeasure", "planned_for", "planned_for_ids"),
        migrations.RenameField("historicaltrialmeasure", "planned_for", "planned_for_ids"),
        migrations.AddField(
            "trialmeasure",
            "planned_for",
            models.ManyToManyField(
                help_text="Treatments whose test is planned; none: all.", related_name="+", to="trials.treatment"
            ),
        ),
        migrations.AddField(
            "season",
            "not_grown",
            models.ManyToManyField(
                help_text="Treatments that this site doesn't grow.", related_name="+", to="trials.treatment"
            ),
        ),
        migrations.CreateModel(
            name="HistoricalTrialMeasure_planned_for",
            fields=[
                ("id", models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name="ID")),
                ("m2m_history_id", models.AutoField(primary_key=True, serialize=False)),
                (
                    "history",
                    models.ForeignKey(
                        db_constraint=False,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        to="trials.historicaltrialmeasure",
                    ),
                ),
                ("treatment", _past("trials.treatment")),
                ("trialmeasure", _past("trials.trialmeasure")),
            ],
            options={"verbose_name": "HistoricalTrialMeasure_planned_for"},
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.RunPython(related, migrations.RunPython.noop, elidable=False),
        migrations.RemoveField("trialmeasure", "planned_for_ids"),
        migrations.RemoveField("historicaltrialmeasure", "planned_for_ids"),
        migrations.RemoveField("season", "left_out"),
    ]
