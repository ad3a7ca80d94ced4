"""
Packed revisions, verdicts, parts with an id of their own; heads take the figures of the parts of
the drawer they name.
"""

import json

import django.db.models.deletion
from django.db import migrations, models

from workbench.keeping import packing


def pack_revisions(apps, schema_editor):
    """
    Store every document packed: the first of a build whole, later ones against it until they have
    moved too far.
    """
    Revision = apps.get_model("workbench", "Revision")
    base, base_text, base_body, build = None, b"", b"", None
    for pk, owner in Revision.objects.order_by("build_id", "number").values_list("pk", "build_id"):
        document = Revision.objects.values_list("document", flat=True).get(pk=pk)
        text = packing.text_of(document if isinstance(document, dict) else json.loads(document))
        if owner != build:
            base, build = None, owner
        body = packing.pack(text)
        if base is not None:
            small = packing.pack(text, base_text)
            if not packing.begins_anew(small, body):
                Revision.objects.filter(pk=pk).update(body=small, base=base)
                continue
        base, base_text, base_body = pk, text, body
        Revision.objects.filter(pk=pk).update(body=base_body, base=None)


def keep_figures(apps, schema_editor):
    """
    Heads that name parts of the drawer get their figures, so that the drawer changes no build in
    silence from here on.
    """
    Build, Revision, StockPart = (
        apps.get_model("workbench", n) for n in ("Build", "Revision", "StockPart")
    )
    own = {p.key: p.figures for p in StockPart.objects.exclude(figures={})}
    if not own:
        return
    for build in Build.objects.exclude(head=None):
        head = Revision.objects.select_related("base").get(pk=build.head_id)
        base_text = packing.unpack(head.base.body) if head.base_id else None
        document = json.loads(packing.unpack(head.body, base_text))
        named = {
            document.get("board"),
            *(
                v
                for c in document.get("channels", [])
                for v in c.get("stage", {}).get("settings", {}).values()
            ),
        }
        lacking = {
            key: own[key] for key in named if key in own and key not in document.get("parts", {})
        }
        if not lacking:
            continue
        document["parts"] = {**document.get("parts", {}), **lacking}
        number = (
            Revision.objects.filter(build=build)
            .order_by("-number")
            .values_list("number", flat=True)[0]
            + 1
        )
        fresh = Revision.objects.create(
            build=build,
            number=number,
            parent=head,
            body=packing.pack(packing.text_of(document)),
            action="upgrade",
            summary="keeps the figures of its parts from the drawer",
        )
        Build.objects.filter(pk=build.pk).update(head=fresh, version=build.version + 1)


class Migration(migrations.Migration):
    dependencies = [("workbench", "0004_ticks")]

    operations = [
        migrations.AddIndex(
            "build", models.Index(fields=["binned", "-changed", "-id"], name="newest_first")
        ),
        migrations.AddField(
            "revision",
            "base",
            models.ForeignKey(
                null=True,
                db_index=False,
                on_delete=django.db.models.deletion.DO_NOTHING,
                related_name="+",
                to="workbench.revision",
            ),
        ),
        migrations.AddField(
            "revision", "body", models.BinaryField(default=b""), preserve_default=False
        ),
        migrations.RunPython(pack_revisions, migrations.RunPython.noop),
        migrations.RemoveField("revision", "document"),
        migrations.AlterField("stockpart", "family", models.CharField(max_length=20)),
        migrations.AddField("stockpart", "version", models.PositiveIntegerField(default=1)),
        migrations.AddField("stockpart", "binned", models.DateTimeField(blank=True, null=True)),
        migrations.AlterModelOptions(
            "stockpart", options={"ordering": ["family", "value", "title", "key"]}
        ),
        migrations.AddIndex(
            "stockpart", models.Index(fields=["binned", "family", "value", "title"], name="by_kind")
        ),
        migrations.CreateModel(
            name="DrawerStep",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("summary", models.CharField(max_length=200)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("entries", models.BinaryField()),
                ("undone", models.BooleanField(default=False)),
            ],
            options={"ordering": ["-id"]},
        ),
        migrations.CreateModel(
            name="Verdict",
            fields=[
                (
                    "revision",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        related_name="verdict",
                        serialize=False,
                        to="workbench.revision",
                    ),
                ),
                ("program", models.CharField(max_length=40)),
                ("channels", models.PositiveIntegerField(default=0)),
                ("rails", models.PositiveIntegerField(default=0)),
                ("open_facts", models.PositiveIntegerField(default=0)),
                ("counts", models.JSONField(default=dict)),
                ("sound", models.BooleanField(default=False)),
                ("trouble", models.CharField(blank=True, max_length=300)),
                ("uses", models.JSONField(default=dict)),
            ],
        ),
        migrations.CreateModel(
            name="PartUse",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("key", models.CharField(db_index=True, max_length=64)),
                ("letters", models.CharField(max_length=300)),
                (
                    "build",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="uses",
                        to="workbench.build",
                    ),
                ),
            ],
        ),
        migrations.RunPython(keep_figures, migrations.RunPython.noop),
    ]
