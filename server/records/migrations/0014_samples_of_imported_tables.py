"""How many samples of a plot an imported table had: the sheet of its visit showed only the first."""

from django.db import migrations

SET = """
UPDATE records_visitmeasure AS taken SET samples = had.most
FROM (SELECT taken.id, max(row.sample) AS most
      FROM records_visitmeasure AS taken
           JOIN trials_trialmeasure AS measure ON measure.id = taken.measure_id
           JOIN library_measureversion AS version ON version.id = measure.version_id
           JOIN records_observation AS row ON row.visit_id = taken.visit_id AND row.version_id = version.id
      WHERE taken.samples IS NULL AND row.current
      GROUP BY taken.id, version.id
      HAVING max(row.sample) > coalesce((version.settings ->> 'frames')::numeric, 1)) AS had
WHERE had.id = taken.id
"""


class Migration(migrations.Migration):
    dependencies = [("records", "0013_bounds"), ("trials", "0022_series"), ("library", "0005_own_measures")]
    operations = [migrations.RunSQL(SET, migrations.RunSQL.noop)]
