from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("records", "0015_units_of_what_was_typed")]
    operations = [migrations.RemoveField("observation", "typed_unit")]
