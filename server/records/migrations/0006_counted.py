from django.db import migrations, models

# Whatever writes observations, a bulk load too, marks the visits that it touched to be counted anew.
STALE = """
CREATE FUNCTION records_visits_are_stale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE records_visit SET counted = NULL
    WHERE counted IS NOT NULL AND id IN (SELECT DISTINCT visit_id FROM changed);
    RETURN NULL;
END $$;
CREATE TRIGGER observations_added AFTER INSERT ON records_observation
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION records_visits_are_stale();
CREATE TRIGGER observations_changed AFTER UPDATE ON records_observation
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION records_visits_are_stale();
CREATE TRIGGER observations_removed AFTER DELETE ON records_observation
    REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION records_visits_are_stale();
"""
BACK = """
DROP TRIGGER observations_added ON records_observation;
DROP TRIGGER observations_changed ON records_observation;
DROP TRIGGER observations_removed ON records_observation;
DROP FUNCTION records_visits_are_stale();
"""


class Migration(migrations.Migration):
    dependencies = [("records", "0005_states_of_a_place")]
    operations = [
        migrations.AddField(
            model_name="visit",
            name="counted",
            field=models.CharField(
                max_length=16,
                null=True,
                help_text="What the counts below are of; none: to be counted (`records.progress`).",
            ),
        ),
        *(
            migrations.AddField(model_name="visit", name=name, field=models.PositiveIntegerField(default=0))
            for name in ("done", "begun", "contested")
        ),
        migrations.AddField(model_name="visit", name="whole", field=models.BooleanField(default=False)),
        migrations.AddField(model_name="visit", name="newest", field=models.DateTimeField(null=True)),
        migrations.RunSQL(STALE, BACK),
    ]
