"""Whose units a bare number was typed in, kept by itself.

Before, it was read off the unit of the value (`typed_unit`), which is the same in both systems where a value has no
counterpart: a bulk density of ounces was taken as one of grams when it was shown, undone or corrected. What such a row
was typed in is found by working its value out again.
"""

import math

from django.db import migrations, models

from apercu_core.errors import Refused
from apercu_core.measures.entries import evaluate, unit_of_field
from apercu_core.measures.own import own_from, own_sheet
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import shown_in

CLEAR = """
UPDATE records_observation AS row SET units = 'us' FROM library_measureversion AS version
WHERE version.id = row.version_id AND row.typed_unit NOT IN ('', version.unit)
"""


def find_units(apps, schema_editor):
    schema_editor.execute(CLEAR)
    find_where_the_unit_tells_nothing(apps)


def find_where_the_unit_tells_nothing(apps):
    Observation = apps.get_model("records", "Observation")
    for version in apps.get_model("library", "MeasureVersion").objects.select_related("measure").iterator():
        sheet = own_sheet(own_from(version.own), version.measure.name) if version.own else SHEETS.get(version.sheet)
        if sheet is None or not _unit_tells_nothing(sheet, version):
            continue
        rows = Observation.objects.filter(version=version, value__isnull=False).exclude(fields={})
        typed_us = [row.pk for row in rows.select_related("by").iterator() if _typed_in_us_units(row, sheet, version)]
        Observation.objects.filter(pk__in=typed_us).update(units="us")


def _unit_tells_nothing(sheet, version):
    same = shown_in(version.unit, "us", version.settings.get("bushel") or 0.0)[0] == version.unit
    of_fields = [unit_of_field(field, version.unit) for field in sheet.fields]
    return same and any(shown_in(unit, "us")[0] != unit for unit in of_fields)


def _typed_in_us_units(row, sheet, version):
    made = {system: _value(row, sheet, version, system) for system in ("metric", "us")}
    fits = {system: value is not None and math.isclose(value, row.value) for system, value in made.items()}
    # A share of two masses is the same in both; what its typist reads by now is all that is left to know.
    return fits["us"] and (not fits["metric"] or row.by.units == "us")


def _value(row, sheet, version, system):
    try:
        return evaluate(sheet, row.fields, version.settings, unit=version.unit, system=system).value
    except Refused:
        return None


class Migration(migrations.Migration):
    dependencies = [
        ("records", "0014_samples_of_imported_tables"),
        ("library", "0005_own_measures"),
        ("crew", "0002_walk"),
    ]
    operations = [
        migrations.AddField(
            "observation",
            "units",
            models.CharField(
                choices=[("metric", "Metric"), ("us", "Us")],
                default="metric",
                help_text="That a bare number of `fields` is in.",
                max_length=6,
            ),
        ),
        migrations.RunPython(find_units, migrations.RunPython.noop),
    ]
