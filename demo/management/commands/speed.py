"""Speed, as ratios: pages to an empty view, calculations to the same work in plain loops."""

from __future__ import annotations

import io
import itertools
import logging
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection
from django.http import HttpRequest, HttpResponse
from django.test import Client, RequestFactory
from scipy.io import wavfile
from scipy.signal import welch

from demo import plain
from demo.scenario import load
from garage.file import open_file
from garage.mass.models import MassItem
from planner.finder.models import Search
from planner.finder.options import begin
from planner.finder.search import step
from planner.models import PipeRun
from rimcore.aero.coastdown import fit
from rimcore.breathing.pulls import difference, runs_of, together
from rimcore.breathing.spectra import hear
from rimcore.calc import answer
from rimcore.choosing.compose import compose
from rimcore.choosing.quick import PAIR
from rimcore.logs.tables import read_table
from rimcore.mass.lighten import Limits, lighten
from rimcore.planning.schedule import Plan, Schedule
from rimcore.proof.positions import runs_of as runs_of_log
from rimcore.registry import CALCULATIONS
from rimcore.ride.curves import curves
from rimcore.steering.rack import Axle, steered
from rimcore.well.judge.clearance import sweep
from rimcore.well.judge.fitment import judge
from rimcore.well.rank.rank import rank
from shelf.judging import all_pairs
from shelf.order import _end_margins, ordered
from shelf.queries import listed_of

PAGES = ("measure/", "measure/FL/", "choose/", "check/FL/", "check/breathing/", "plan/", "fit/", "prove/")


def median_ms(work: Callable[[], Any], times: int = 9) -> float:
    """Median time of a piece of work [ms], after one run to warm up."""
    work()
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append((time.perf_counter() - began) * 1000)
    return statistics.median(taken)


def percentile_ms(work: Callable[[], Any], times: int = 40, share: float = 0.95) -> float:
    """Time under which a share of the runs stays [ms]."""
    work()
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append((time.perf_counter() - began) * 1000)
    return sorted(taken)[int(share * len(taken)) - 1]


def empty_view(request: HttpRequest) -> HttpResponse:
    return HttpResponse("")


class Command(BaseCommand):
    help = "Print page and calculation timings as ratios."
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        logging.disable(logging.WARNING)
        with tempfile.TemporaryDirectory() as work:
            connection.close()
            connection.settings_dict["NAME"] = str(Path(work, "speed.sqlite3"))
            settings.MEDIA_ROOT = Path(work, "uploads")
            settings.KEEP_PAGES = False  # every page is made anew
            call_command("migrate", verbosity=0)
            self.car = load()
            self.pages()
            self.calculations()
            self.clearance()
            self.links()
            self.engines()
            self.air_and_mass()
            self.ranking()
            self.plans()
            self.composing()
            self.finding()
            connection.close()

    def row(self, name: str, ms: float, ratio: float, of: str) -> None:
        self.stdout.write(f"{name:<44}{ms:>10.2f} ms  {ratio:>9.1f} × {of}")

    def pages(self) -> None:
        """Every main page of the demo scenario against a view that does nothing."""
        client = Client(headers={"host": "127.0.0.1"})
        client.force_login(self.car.owner, backend="django.contrib.auth.backends.ModelBackend")
        request = RequestFactory().get("/")
        empty = median_ms(lambda: empty_view(request), 99)
        through = median_ms(lambda: client.get("/theme/"), 25)
        self.stdout.write(f"empty view {empty:.4f} ms; a refused request through all middleware {through:.2f} ms\n")
        for rest in PAGES:
            taken = median_ms(lambda rest=rest: client.get(f"/car/{self.car.pk}/{rest}"))
            self.row(f"page {rest}", taken, taken / through, "an empty request")
        self.bench(client, through)

    def bench(self, client: Client, through: float) -> None:
        """The bench re-rendered: every request asks for another wheel or another pose, so that nothing is taken from
        memory whole.
        """
        turn = itertools.count()

        def ask(rest: str) -> Callable[[], Any]:
            address = f"/car/{self.car.pk}/check/FL/{rest}"
            return lambda: client.get(
                address.format(k=next(turn), offset=20 + next(turn) % 300 / 10), headers={"HX-Request": "true"}
            )

        for name, rest, times in (
            ("bench, another offset, 95th percentile", "?diameter=17&width=8&offset={offset}", 60),
            ("bench, another pose, 95th percentile", "?diameter=17&width=8&offset=38&steer={k}&travel=5&pose=1", 60),
            ("offsets that go in, fetched after it", "windows/?diameter=17&width=8&offset={offset}", 9),
            ("what would clear it, fetched after it", "remedies/?diameter=17&width=9&offset={offset}", 9),
        ):
            taken = percentile_ms(ask(rest), times)
            self.row(name, taken, taken / through, "an empty request")

    def plans(self) -> None:
        """A plan of 60 tasks and 40 parts, 4,000 draws; the plan's page with its chance worked out anew each time."""
        whole, few = plain.plan_case(), plain.plan_case(draws=40)

        def reckoned(plan: Plan) -> None:
            found = Schedule(plan)
            found.likely()
            found.chances()

        small = median_ms(lambda: reckoned(few), 3)
        taken = median_ms(lambda: reckoned(whole), 3)
        self.row("schedule, 60 tasks, 40 parts, 4,000 draws", taken, taken / small, "the same with 40 draws")
        levers = median_ms(lambda: Schedule(whole).levers(), 1)
        self.row("what each of the 100 would help", levers, levers / taken, "the schedule above")
        client = Client(headers={"host": "127.0.0.1"})
        client.force_login(self.car.owner, backend="django.contrib.auth.backends.ModelBackend")
        through = median_ms(lambda: client.get("/theme/"), 25)
        turn = itertools.count()
        address = f"/car/{self.car.pk}/plan/ruler/?try=evening:{{}}"
        again = percentile_ms(lambda: client.get(address.format(next(turn) % 7), headers={"HX-Request": "true"}), 21)
        self.row("the ruler of days re-rendered, 95th percentile", again, again / through, "an empty request")

    def composing(self) -> None:
        """The best set of 12 slots × 40 options under 5,000 groups that don't go together; laps of a long log."""
        few, many = plain.compose_case(500), plain.compose_case(5000)
        small = median_ms(lambda: compose(few), 3)
        taken = median_ms(lambda: compose(many), 3)
        self.row("compose, 12 slots × 40, 5,000 groups", taken, taken / small, "the same with 500 groups")
        samples, gate = plain.laps_case(100_000)
        bare = median_ms(lambda: np.diff(samples, axis=0), 5)
        laps = median_ms(lambda: runs_of_log(samples, gate), 3)
        self.row("laps of 100,000 positions", laps, laps / bare, "numpy.diff of them")

    def finding(self) -> None:
        """Find a build on the demo's list, then on 60 wheels, 40 tyres, 4 heights, 4 cambers, 3 spacers, 30 other parts."""
        few, _ = self._found({"change": [PAIR]})
        families = plain.long_list(self.car)
        levers = {"drop_mm": 30.0, "spacer_mm": 2.0, "camber_deg": -3.0}
        whole, first = self._found({"change": [PAIR, *families], **levers})
        self.row("find a build, long list, first set", first, first / few, "the demo's list")
        self.row("find a build, long list, five sets", whole, whole / few, "the demo's list")
        whole, first = self._found({"change": [PAIR, *families], "goal": "score", **levers})
        self.row("find a build, long list, most room", first, first / few, "the demo's list")
        self.row("find a build, long list, five of most room", whole, whole / few, "the demo's list")

    def _found(self, asked: dict[str, Any]) -> tuple[float, float]:
        """A search to its end, step by step as the page asks for it: all of it, and until the first set stands [ms]."""
        asked = {"goal": "money", "school": "daily"} | asked
        began, first = time.perf_counter(), 0.0
        search = Search(car=self.car, asked=asked, state=begin(open_file(self.car.owner, self.car.pk), asked))
        while not search.done:
            step(open_file(self.car.owner, self.car.pk), search)
            if not first and search.state["whole"]:
                first = time.perf_counter() - began
        return (time.perf_counter() - began) * 1000, first * 1000

    def calculations(self) -> None:
        """The command line's calculations, and every pair of the shortlist."""
        file = open_file(self.car.owner, self.car.pk)
        wheels, tyres = listed_of(file).wheels, listed_of(file).tyres
        pairs = len(all_pairs(file, wheels, tyres))

        def anew(some: list[Any]) -> None:
            judge.cache_clear()
            all_pairs(file, some, tyres)

        taken = median_ms(lambda: anew(wheels))
        half = median_ms(lambda: anew(wheels[: len(wheels) // 2]))
        self.row(
            f"judging {pairs} pairs, both axles",
            taken,
            taken / max(half, 1e-9),
            f"the first {len(wheels) // 2} of {len(wheels)} wheels",
        )
        long, rubber = plain.shelf_case(500, 300)

        def order_anew() -> None:
            _end_margins.cache_clear()
            ordered(file, long, rubber, "all", "margin", None)

        first = median_ms(order_anew, 3)
        again = median_ms(lambda: ordered(file, long, rubber, "all", "margin", None), 3)
        self.row("a list of 500 wheels and 300 tyres in order", first, first / again, "the same list again")
        nothing = median_ms(lambda: answer(CALCULATIONS["pattern"], '{"bolts": 4, "across_mm": 100}'), 99)
        for name, text in plain.INPUTS.items():
            taken = median_ms(lambda name=name, text=text: answer(CALCULATIONS[name], text), 25)
            self.row(f"calc {name}", taken, taken / nothing, "calc pattern")

    def clearance(self) -> None:
        """Distances to an outline, vectorised and in plain loops over the same points."""
        polygon, points = plain.distance_case(5000)
        from rimcore.well.solid.polygon import signed_distance

        fast = median_ms(lambda: signed_distance(polygon, points), 5)
        slow = median_ms(lambda: plain.signed_distance(polygon.tolist(), points.tolist()), 1)
        self.row("5000 points to an outline", fast, slow / fast, "faster than plain loops")
        outline_mm, well, things = plain.sweep_case()
        fast = median_ms(lambda: sweep(outline_mm, well, things, 10.0, 5.0), 9)
        points = np.vstack([thing.points_mm for thing in things]).tolist()
        poses = [(s, t) for t in np.linspace(-60, 70, 41) for s in np.linspace(-34, 36, 61)]
        slow = (
            median_ms(lambda: plain.sweep_poses(outline_mm.tolist(), well, points, poses[::50]), 1)
            * len(poses)
            / len(poses[::50])
        )
        self.row(
            "sweep 61 × 41 poses, 12 obstacles of 8 points",
            fast,
            slow / fast,
            "faster than plain loops (every 50th pose)",
        )
        first = median_ms(lambda: sweep(plain.another(outline_mm), well, things, 10.0, 5.0), 9)
        self.row("the same with an outline not met before", first, slow / first, "faster than plain loops")
        motion = open_file(self.car.owner, self.car.pk).motions["FL"]
        kpi, caster, inboard = motion.axis
        followed = replace(
            well,
            follow=motion.follow(well.camber_deg, well.ride_drop_mm),
            kpi_deg=kpi,
            caster_deg=caster,
            kingpin_inboard_mm=inboard,
        )
        by_links = median_ms(lambda: sweep(outline_mm, followed, things, 10.0, 5.0), 9)
        self.row(
            "the same sweep on a corner that follows its links", by_links, by_links / fast, "the sweep without links"
        )

    def links(self) -> None:
        """A corner's poses against a plain root search a pose, and both wheels over the rack."""
        points, travel, rack = plain.links_case()
        fast = median_ms(lambda: curves(points, travel, rack), 9)
        some = [(t, r) for t in travel for r in rack][::100]
        slow = median_ms(lambda: plain.pose_by_pose(points, some), 1) * len(travel) * len(rack) / len(some)
        self.row("links of 61 travels × 41 racks", fast, slow / fast, "faster than a root search a pose (every 100th)")
        axle = Axle(points, points, 2600.0, 1400.0)
        both = median_ms(lambda: steered(axle, np.linspace(-80, 80, 81).tolist()), 9)
        self.row("steering, 81 racks, both wheels", both, both / fast, "links of 61 × 41")

    def engines(self) -> None:
        """Logs and recordings against the bare library call, and the breathing page re-rendered."""
        text = plain.pull_log(100_000)
        bare = median_ms(lambda: np.loadtxt(io.StringIO(text), delimiter=",", skiprows=1), 3)

        def compared() -> None:
            table = read_table(text)
            runs = runs_of(table.columns[1].taken("rpm"), table.columns[2].taken("power"))
            difference(together(runs[:2]), together(runs[2:]))

        taken = median_ms(compared, 3)
        self.row("a log of 100,000 rows read and compared", taken, taken / bare, "numpy.loadtxt of it")
        with tempfile.NamedTemporaryFile(suffix=".wav") as file:
            file.write(plain.recording(600.0))
            file.flush()
            file.seek(0)
            rate, data = wavfile.read(file.name, mmap=True)
            bare = median_ms(lambda: welch(data, rate, nperseg=32_768), 1)
            taken = median_ms(lambda: hear(io.BytesIO(plain.recording(1.0)), file.name), 1)
        self.row("ten minutes of 44.1 kHz heard", taken, taken / bare, "scipy.signal.welch of it")
        client = Client(headers={"host": "127.0.0.1"})
        client.force_login(self.car.owner, backend="django.contrib.auth.backends.ModelBackend")
        through = median_ms(lambda: client.get("/theme/"), 25)
        turn = itertools.count()
        for kind in ("intake", "exhaust"):
            lines = PipeRun.objects.get(car=self.car, build__isnull=False, kind=kind).lines
            address = f"/car/{self.car.pk}/check/breathing/"

            def again(kind: str = kind, lines: str = lines, address: str = address) -> None:
                asked: dict[str, Any] = {
                    "kind": kind,
                    "lines": lines,
                    "rpm": 2000 + 7 * next(turn),
                    "piece": 3,
                    "was": 3,
                    "bore": 55 + next(turn) % 20 / 2,
                }
                client.get(address, asked, headers={"HX-Request": "true"})

            taken = percentile_ms(again, 60)
            self.row(f"{kind} re-rendered, 95th percentile", taken, taken / through, "an empty request")

    def air_and_mass(self) -> None:
        """Coast-downs and the best set as the command line asks them, and the mass bench with 300 items."""
        runs, items = plain.coast_runs(20, 600), plain.light_items(200)
        small = median_ms(lambda: fit(runs[:2], 1280.0), 5)
        taken = median_ms(lambda: fit(runs, 1280.0), 5)
        self.row("coast-down of 20 runs × 600 samples", taken, taken / small, "one pair of them")
        few = median_ms(lambda: lighten(items[:20], Limits(money=600.0), None, None, False), 3)
        taken = median_ms(lambda: lighten(items, Limits(money=3000.0), None, None, False), 1)
        self.row("lighten of 200 items", taken, taken / few, "20 of them")
        MassItem.objects.bulk_create(
            MassItem(
                car=self.car,
                label=f"Z{k}",
                name=f"clip {k}",
                state="in" if k % 3 else "out",
                gross_kg=0.2 + k % 40 / 10,
                tare_kg=0.0,
                behind_mm=float(10 * k),
                right_mm=float(k % 90 * 12 - 540),
            )
            for k in range(283)
        )
        client = Client(headers={"host": "127.0.0.1"})
        client.force_login(self.car.owner, backend="django.contrib.auth.backends.ModelBackend")
        through = median_ms(lambda: client.get("/theme/"), 25)
        address = f"/car/{self.car.pk}/check/mass/"
        taken = percentile_ms(lambda: client.get(address, headers={"HX-Request": "true"}), 40)
        self.row("mass bench, 300 items, 95th percentile", taken, taken / through, "an empty request")

    def ranking(self) -> None:
        """Pairs against one corner: time a pair against that of the smallest list, 1 is linear."""
        each = None
        for count in (500, 2000, 8000, 20000):
            place, pairs = plain.ranking_case(count)
            taken = median_ms(lambda place=place, pairs=pairs: rank(place, pairs, "flush"), 3 if count <= 2000 else 1)
            each = each or taken / count
            self.row(f"ranking {count} pairs", taken, taken / count / each, "a pair of the list of 500")
