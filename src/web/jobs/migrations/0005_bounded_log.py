"""The log has a cap, jobs know their bytes, an act belongs to a person, a forgotten visitor's changes stay."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

# What jobs and events hold, as the text of their rows: near enough to what is counted from now on.
WEIGH = """
UPDATE jobs_event SET bytes = octet_length(changes::text);
UPDATE jobs_job SET
    bytes = octet_length(entries::text)
        + COALESCE((SELECT sum(octet_length(data::text) + 80) FROM jobs_node WHERE job_id = jobs_job.id), 0),
    log_bytes = COALESCE((SELECT sum(bytes) FROM jobs_event WHERE job_id = jobs_job.id), 0);
"""


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0004_alter_node_kind"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField("job", "bytes", models.PositiveBigIntegerField(default=0)),
        migrations.AddField("job", "log_bytes", models.PositiveBigIntegerField(default=0)),
        migrations.AddField("job", "folded", models.PositiveIntegerField(default=0)),
        migrations.AddField("event", "bytes", models.PositiveIntegerField(default=0)),
        migrations.AlterField(
            "event",
            "actor",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
        migrations.AddField(
            "received",
            "user",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="+",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
        migrations.RemoveConstraint("received", "an_act_counts_once"),
        migrations.AddConstraint(
            "received", models.UniqueConstraint(fields=["job", "user", "once"], name="an_act_counts_once")
        ),
        migrations.RunSQL(WEIGH, migrations.RunSQL.noop),
    ]
