"""Every table of the room as it stands: what a new database takes instead of the steps that led here, which older ones still take."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("auth", "__first__"),
        ("garage", "0001_whole"),
        ("planner", "0001_whole"),
    ]

    operations = [
        migrations.CreateModel(
            name="Job",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("title", models.CharField(max_length=120)),
                (
                    "state",
                    models.CharField(
                        choices=[("open", "open"), ("under_way", "under way"), ("done", "done")], default="open", max_length=10
                    ),
                ),
                ("done_on", models.DateField(blank=True, null=True)),
                ("done_km", models.PositiveIntegerField(blank=True, null=True)),
                ("kind", models.CharField(choices=[("fit", "fit"), ("check", "nut-and-bolt check")], default="fit", max_length=5)),
                ("modules", models.JSONField(blank=True, default=list)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("build", models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name="jobs", to="planner.build")),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="jobs", to="garage.car")),
            ],
            options={
                "ordering": ["-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("done_km__isnull", True), models.Q(("done_km__gte", 0), ("done_km__lte", 5000000)), _connector="OR"
                        ),
                        name="job_done_km_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("kind__in", ["fit", "check"])), name="job_kind"),
                ],
            },
        ),
        migrations.CreateModel(
            name="FollowUp",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("what", models.CharField(max_length=160)),
                ("after_km", models.PositiveIntegerField(blank=True, null=True)),
                ("due_track_days", models.PositiveIntegerField(blank=True, null=True)),
                ("due_km", models.PositiveIntegerField(blank=True, null=True)),
                ("due_on", models.DateField(blank=True, null=True)),
                ("done_on", models.DateField(blank=True, null=True)),
                ("done_km", models.PositiveIntegerField(blank=True, null=True)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="follow_ups", to="garage.car")),
                (
                    "job",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.CASCADE, related_name="follow_ups", to="workshop.job"
                    ),
                ),
            ],
            options={
                "ordering": ["due_km", "due_on", "id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("due_km__isnull", True), models.Q(("due_km__gte", 0), ("due_km__lte", 5010000)), _connector="OR"
                        ),
                        name="follow_up_due_km_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("done_km__isnull", True), models.Q(("done_km__gte", 0), ("done_km__lte", 5000000)), _connector="OR"
                        ),
                        name="follow_up_done_km_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("due_km__isnull", False), ("due_on__isnull", False), ("due_track_days__isnull", False), _connector="OR"
                        ),
                        name="follow_up_is_due",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="JobTemplate",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("text", models.TextField()),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="job_templates", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["name"],
                "constraints": [models.UniqueConstraint(fields=("owner", "name"), name="one_template_a_name")],
            },
        ),
        migrations.CreateModel(
            name="JointFigure",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("end", models.CharField(blank=True, max_length=1)),
                ("name", models.CharField(max_length=120)),
                ("stage", models.CharField(blank=True, max_length=10)),
                ("count", models.PositiveSmallIntegerField()),
                ("torque_nm", models.FloatField()),
                ("said", models.JSONField(blank=True, default=dict)),
                ("said_at", models.DateTimeField(default=django.utils.timezone.now)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="joint_figures", to="workshop.job")),
            ],
            options={
                "ordering": ["-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("count__gte", 1), ("count__lte", 100), ("torque_nm__gt", 0), ("torque_nm__lte", 2000)),
                        name="joint_figure_range",
                    )
                ],
            },
        ),
        migrations.CreateModel(
            name="Promise",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "kept_when",
                    models.CharField(
                        choices=[("made", "when the sheet was made"), ("begun", "when its first step was done")], max_length=5
                    ),
                ),
                ("made_on", models.DateField(default=django.utils.timezone.localdate)),
                ("build_name", models.CharField(max_length=60)),
                ("revision", models.PositiveIntegerField()),
                ("code", models.CharField(max_length=60)),
                ("where", models.CharField(blank=True, max_length=30)),
                ("state", models.CharField(max_length=10)),
                ("value", models.FloatField()),
                ("unit", models.CharField(max_length=8)),
                ("uncertainty", models.FloatField(blank=True, null=True)),
                ("margin", models.FloatField(blank=True, null=True)),
                ("judged", models.JSONField()),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="promises", to="workshop.job")),
                (
                    "reading",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="promises", to="garage.reading"
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(condition=models.Q(("kept_when__in", ["made", "begun"])), name="promise_when"),
                    models.CheckConstraint(
                        condition=models.Q(("state__in", ["clear", "tight", "hit", "unmeasured"])), name="promise_state"
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Spell",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("began", models.DateTimeField(default=django.utils.timezone.now)),
                ("ended", models.DateTimeField(blank=True, null=True)),
                ("note", models.CharField(blank=True, max_length=120)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="spells", to="workshop.job")),
            ],
            options={
                "ordering": ["began"],
                "constraints": [
                    models.UniqueConstraint(condition=models.Q(("ended__isnull", True)), fields=("job",), name="one_running_clock"),
                    models.CheckConstraint(
                        condition=models.Q(("ended__isnull", True), ("ended__gte", models.F("began")), _connector="OR"),
                        name="spell_forward",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Step",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("place", models.PositiveSmallIntegerField()),
                ("phase", models.CharField(max_length=40)),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("do", "do"),
                            ("parts", "parts"),
                            ("trial", "trial fit"),
                            ("torque", "torque"),
                            ("measure", "measure"),
                            ("photo", "photo"),
                            ("dip", "known dip"),
                        ],
                        default="do",
                        max_length=10,
                    ),
                ),
                ("title", models.CharField(max_length=160)),
                ("detail", models.TextField(blank=True)),
                ("caution", models.TextField(blank=True)),
                ("tools", models.JSONField(default=list)),
                ("corner", models.CharField(blank=True, max_length=2)),
                ("stage", models.CharField(blank=True, max_length=10)),
                ("torque_nm", models.FloatField(blank=True, null=True)),
                ("lugs", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("consumables", models.JSONField(blank=True, default=list)),
                ("salvage", models.JSONField(blank=True, default=list)),
                ("helpers", models.PositiveSmallIntegerField(default=0)),
                ("gates", models.JSONField(blank=True, default=list)),
                ("opens", models.CharField(blank=True, max_length=40)),
                ("module", models.CharField(blank=True, max_length=200)),
                ("joint", models.JSONField(blank=True, default=dict)),
                ("own", models.BooleanField(default=False)),
                (
                    "state",
                    models.CharField(choices=[("todo", "to do"), ("done", "done"), ("skipped", "skipped")], default="todo", max_length=8),
                ),
                ("skipped_why", models.CharField(blank=True, max_length=200)),
                ("note", models.CharField(blank=True, max_length=300)),
                ("done_at", models.DateTimeField(blank=True, null=True)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="steps", to="workshop.job")),
            ],
            options={
                "ordering": ["place"],
                "constraints": [
                    models.UniqueConstraint(fields=("job", "place"), name="one_step_a_place"),
                    models.CheckConstraint(
                        condition=models.Q(("lugs__isnull", True), models.Q(("lugs__gte", 1), ("lugs__lte", 100)), _connector="OR"),
                        name="step_lugs",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("state", "skipped"), _negated=True), models.Q(("skipped_why", ""), _negated=True), _connector="OR"
                        ),
                        name="skipped_has_reason",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Snag",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("wrong_part", "wrong part"),
                            ("does_not_fit", "does not fit"),
                            ("stripped", "stripped or broken"),
                            ("hidden_damage", "hidden damage"),
                            ("missing_hardware", "missing hardware"),
                            ("missing_tool", "tool missing"),
                            ("weather", "weather"),
                            ("other", "other"),
                        ],
                        default="does_not_fit",
                        max_length=20,
                    ),
                ),
                ("what", models.CharField(max_length=300)),
                ("cost_minor", models.PositiveIntegerField(default=0, verbose_name="money lost")),
                ("hours", models.FloatField(default=0, verbose_name="hours lost")),
                ("cure", models.CharField(blank=True, max_length=300)),
                ("found_on", models.DateField(default=django.utils.timezone.localdate)),
                ("closed_on", models.DateField(blank=True, null=True)),
                ("options", models.JSONField(blank=True, default=dict)),
                (
                    "decision",
                    models.CharField(
                        blank=True,
                        choices=[("", "not decided"), ("use", "use it as it is"), ("repair", "repair it"), ("replace", "replace it")],
                        max_length=7,
                    ),
                ),
                ("decided_on", models.DateField(blank=True, null=True)),
                (
                    "choice",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="cures", to="planner.choice"
                    ),
                ),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="snags", to="workshop.job")),
                (
                    "step",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="snags", to="workshop.step"
                    ),
                ),
            ],
            options={
                "ordering": ["-id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("cost_minor__isnull", True), models.Q(("cost_minor__gte", 0), ("cost_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="snag_cost_minor_within",
                    ),
                    models.CheckConstraint(condition=models.Q(("decision__in", ["", "use", "repair", "replace"])), name="snag_decision"),
                    models.CheckConstraint(condition=models.Q(("hours__gte", 0), ("hours__lte", 1000)), name="snag_hours"),
                    models.CheckConstraint(
                        condition=models.Q(("closed_on__isnull", True), models.Q(("cure", ""), _negated=True), _connector="OR"),
                        name="closed_snag_has_cure",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Removed",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("label", models.CharField(max_length=8)),
                ("what", models.CharField(max_length=120)),
                ("where", models.CharField(blank=True, max_length=40, verbose_name="from")),
                ("gross_kg", models.FloatField(blank=True, null=True, verbose_name="mass with its box")),
                ("tare_kg", models.FloatField(blank=True, null=True, verbose_name="mass of the empty box")),
                ("pieces_off", models.PositiveSmallIntegerField(blank=True, null=True, verbose_name="pieces that came off")),
                ("pieces_back", models.PositiveSmallIntegerField(blank=True, null=True, verbose_name="pieces that went back")),
                ("kept_where", models.CharField(blank=True, max_length=80, verbose_name="lies")),
                (
                    "fate",
                    models.CharField(
                        choices=[("keep", "kept"), ("sell", "to sell"), ("sold", "sold"), ("bin", "binned"), ("back", "back on the car")],
                        default="keep",
                        max_length=4,
                    ),
                ),
                ("sold_minor", models.PositiveIntegerField(default=0, verbose_name="sold for")),
                ("fees_minor", models.PositiveIntegerField(default=0, verbose_name="fees of selling")),
                ("off_on", models.DateField(default=django.utils.timezone.localdate)),
                ("car", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="removed", to="garage.car")),
                (
                    "job",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="removed", to="workshop.job"
                    ),
                ),
                (
                    "part",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="removals", to="garage.part"
                    ),
                ),
                (
                    "step",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="removed", to="workshop.step"
                    ),
                ),
            ],
            options={
                "verbose_name_plural": "removed",
                "ordering": ["id"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("gross_kg__isnull", True), models.Q(("gross_kg__gte", 0), ("gross_kg__lte", 500)), _connector="OR"
                        ),
                        name="removed_gross_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("tare_kg__isnull", True), models.Q(("tare_kg__gte", 0), ("tare_kg__lte", 500)), _connector="OR"
                        ),
                        name="removed_tare_kg_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("sold_minor__isnull", True), models.Q(("sold_minor__gte", 0), ("sold_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="removed_sold_minor_within",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("fees_minor__isnull", True), models.Q(("fees_minor__gte", 0), ("fees_minor__lte", 1000000000)), _connector="OR"
                        ),
                        name="removed_fees_minor_within",
                    ),
                    models.UniqueConstraint(fields=("car", "label"), name="one_label_a_car"),
                    models.CheckConstraint(condition=models.Q(("fate__in", ["keep", "sell", "sold", "bin", "back"])), name="removed_fate"),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("gross_kg__isnull", True), ("tare_kg__isnull", True), ("tare_kg__lte", models.F("gross_kg")), _connector="OR"
                        ),
                        name="removed_tare",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Pull",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("lug", models.PositiveSmallIntegerField()),
                ("wanted_nm", models.FloatField()),
                ("read_nm", models.FloatField()),
                ("at", models.DateTimeField(default=django.utils.timezone.now)),
                ("source", models.CharField(choices=[("typed", "typed"), ("simulated", "simulation")], default="typed", max_length=9)),
                ("step", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="pulls", to="workshop.step")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(fields=("step", "lug"), name="one_pull_a_lug"),
                    models.CheckConstraint(condition=models.Q(("source__in", ["typed", "simulated"])), name="pull_source"),
                    models.CheckConstraint(condition=models.Q(("read_nm__gt", 0), ("read_nm__lte", 1000)), name="pull_range"),
                ],
            },
        ),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("image", models.ImageField(upload_to="")),
                ("caption", models.CharField(blank=True, max_length=120)),
                ("taken_at", models.DateTimeField(default=django.utils.timezone.now)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="photos", to="workshop.job")),
                (
                    "step",
                    models.ForeignKey(
                        blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="photos", to="workshop.step"
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
            },
        ),
        migrations.CreateModel(
            name="Tool",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=120)),
                ("have", models.BooleanField()),
                (
                    "owner",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="tools", to=settings.AUTH_USER_MODEL),
                ),
            ],
            options={
                "ordering": ["name"],
                "constraints": [models.UniqueConstraint(fields=("owner", "name"), name="one_tool_a_name")],
            },
        ),
    ]
