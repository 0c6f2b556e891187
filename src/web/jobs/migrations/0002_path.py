"""Nodes of every kind, ordered, their parent by key; settings of a job; events by name."""

from django.db import migrations, models


def parents_by_key(apps, schema_editor):
    Node = apps.get_model("jobs", "Node")
    for node in Node.objects.exclude(parent=None).select_related("parent"):
        node.parent_key, node.position = node.parent.key, 1024
        node.save(update_fields=["parent_key", "position"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_initial")]

    operations = [
        migrations.AddField("job", "entries", models.JSONField(default=dict)),
        migrations.AddField("event", "title", models.CharField(blank=True, max_length=120)),
        migrations.AddField("node", "parent_key", models.SlugField(blank=True, default="", max_length=40), preserve_default=False),
        migrations.AddField("node", "position", models.FloatField(default=0)),
        migrations.AlterField(
            "node",
            "kind",
            models.CharField(
                choices=[
                    ("source", "Source"),
                    ("board", "Board"),
                    ("transformer", "Transformer"),
                    ("load", "Load"),
                    ("inverter", "Inverter"),
                    ("dwelling", "Dwelling"),
                ],
                max_length=20,
            ),
        ),
        migrations.RunPython(parents_by_key, migrations.RunPython.noop),
        migrations.RemoveField("node", "parent"),
        migrations.AlterModelOptions("node", {"ordering": ["position", "pk"]}),
    ]
