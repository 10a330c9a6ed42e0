"""Visits from before measures were tied to them: each takes what was recorded at it."""

from django.db import migrations


def tie(apps, schema_editor):
    visits, ties = apps.get_model("records", "Visit"), apps.get_model("records", "VisitMeasure")
    measures, rows = apps.get_model("trials", "TrialMeasure"), apps.get_model("records", "Observation")
    for visit in visits.objects.filter(taken__isnull=True).select_related("season"):
        versions = set(rows.objects.filter(visit=visit).values_list("version_id", flat=True))
        wanted = measures.objects.filter(trial_id=visit.season.trial_id, version_id__in=versions).order_by("order")
        ties.objects.bulk_create(ties(visit=visit, measure=m, order=i) for i, m in enumerate(wanted))


class Migration(migrations.Migration):
    dependencies = [("records", "0003_walk"), ("trials", "0004_walk")]
    operations = [migrations.RunPython(tie, migrations.RunPython.noop)]
