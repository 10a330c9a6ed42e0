from django.db import migrations, models

KINDS = [("species", "Species"), ("layer", "Layer"), ("depth", "Depth"), ("grade", "Grade"), ("cut", "Cut")]


class Migration(migrations.Migration):
    """The place of an observation in columns of its own. Every row stays; `part` held the zone and nothing else."""

    dependencies = [("records", "0007_upload_rows_and_visits_to_count")]
    operations = [
        migrations.RemoveConstraint(model_name="observation", name="one_current_observation"),
        migrations.RenameField(model_name="observation", old_name="part", new_name="zone"),
        migrations.RenameField(model_name="observation", old_name="subsample", new_name="sample"),
        migrations.AlterField(
            model_name="observation",
            name="zone",
            field=models.CharField(
                blank=True, max_length=80, help_text="Of the plot, where the measure is taken in zones."
            ),
        ),
        migrations.AddField(
            model_name="observation",
            name="component_kind",
            field=models.CharField(blank=True, default="", max_length=10, choices=KINDS),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name="observation",
            name="component",
            field=models.CharField(
                blank=True, default="", max_length=80, help_text="Which one of its kind; empty: all together."
            ),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name="observation",
            name="source",
            field=models.CharField(
                blank=True,
                default="",
                max_length=6,
                choices=[("person", "Person"), ("file", "File"), ("device", "Device")],
                help_text="How the value came in; empty: before that was kept.",
            ),
            preserve_default=False,
        ),
        migrations.AddConstraint(
            model_name="observation",
            constraint=models.UniqueConstraint(
                condition=models.Q(("current", True)),
                fields=("unit", "visit", "version", "zone", "component_kind", "component", "sample"),
                name="one_current_observation",
            ),
        ),
    ]
