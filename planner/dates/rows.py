"""What was said of a build's work, read once a page; below everything that reckons with it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from garage.file import CarFile
from garage.kept import once
from planner.dates.models import PlanTask
from planner.models import Build
from rimcore.planning.network import Three


@once
def rows_of(file: CarFile) -> Mapping[int, dict[str, PlanTask]]:
    """What was said of the work of every build, by build and key; one query."""
    found: dict[int, dict[str, PlanTask]] = defaultdict(dict)
    for row in PlanTask.objects.filter(build__car=file.car):
        found[row.build_id][row.key] = row
    return found


def own_hours(file: CarFile, build: Build) -> dict[str, Three]:
    """Hours that a person said of modules; what is given to others or left for after takes none of theirs [h]."""
    found: dict[str, Three] = {}
    for key, row in rows_of(file).get(build.pk, {}).items():
        kind, _, module = key.partition(":")
        if kind != "m":
            continue
        if row.dropped or row.away_likely is not None:
            found[module] = (0.0, 0.0, 0.0)
        elif row.hours is not None:
            found[module] = row.hours
    return found
