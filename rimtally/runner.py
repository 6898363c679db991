"""Django's test runner, closing with the slowest tests and one plain line from its real result."""

import gc
import os
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner, ParallelTestSuite
from django.test.utils import override_settings

#: how many of the slowest are told
SLOWEST = 20
#: shorter ones are not worth a line [s]
WORTH_S = 0.05


class Stopwatch:
    """How long each test and each class's preparation took, by the clock, in whichever process it ran.

    Processes are forked with it; each adds lines to the same file.
    """

    def __init__(self) -> None:
        handle, self.path = tempfile.mkstemp(prefix="tally-test-", suffix=".txt")
        os.close(handle)

    def timed(self, run: Callable[..., Any], name: Callable[..., str]) -> Callable[..., Any]:
        def timed(*args: Any, **kwargs: Any) -> Any:
            began = time.perf_counter()
            try:
                return run(*args, **kwargs)
            finally:
                took = time.perf_counter() - began
                if took > WORTH_S:
                    with open(self.path, "a") as told:  # noqa: PTH123  one write, whole lines
                        told.write(f"{took:.2f} {name(*args)}\n")

        return timed

    def start(self) -> None:
        case, suite = unittest.TestCase, unittest.TestSuite
        case.run = self.timed(case.run, lambda test, *_: test.id())  # type: ignore[method-assign]
        whole = suite._handleClassSetUp  # type: ignore[attr-defined]
        named = self.timed(whole, lambda _, test, *__: f"preparing {type(test).__module__}.{type(test).__qualname__}")
        suite._handleClassSetUp = named  # type: ignore[attr-defined]

    def slowest(self) -> list[tuple[float, str]]:
        """The slowest first; the file goes."""
        with open(self.path) as told:  # noqa: PTH123
            rows = [line.rstrip("\n").split(" ", 1) for line in told]
        os.unlink(self.path)  # noqa: PTH108
        return sorted(((float(took), name) for took, name in rows), reverse=True)


def no_test_leans_on_the_clock() -> None:
    """Drawn examples may take as long as they do: beside other work they are drawn slowly, and are no worse for it."""
    from hypothesis import HealthCheck, settings

    settings.register_profile("tally", deadline=None, suppress_health_check=[HealthCheck.too_slow])
    settings.load_profile("tally")


def collect_less() -> None:
    """Cycles are looked for a twentieth as often: what the tests were loaded with is never part of one."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 50)


def own_uploads(*args: Any, **kwargs: Any) -> None:
    """A process of the tests beside others, with uploads of its own.

    The demo's files have fixed names: two processes that lay them down in one folder read each other's half-written.
    """
    ParallelTestSuite.init_worker(*args, **kwargs)
    folder = Path(settings.MEDIA_ROOT, str(os.getpid()))
    folder.mkdir(parents=True)
    override_settings(MEDIA_ROOT=folder).enable()


class Beside(ParallelTestSuite):
    init_worker = own_uploads


class TallyRunner(DiscoverRunner):
    """Prints the slowest tests, and ``N passed, N failed`` last."""

    parallel_test_suite = Beside

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        self.tally = result
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        no_test_leans_on_the_clock()
        watch = Stopwatch()
        watch.start()
        collect_less()
        failures = super().run_tests(*args, **kwargs)
        sys.stderr.flush()
        rows = watch.slowest()
        if path := os.environ.get("TALLY_TEST_TIMES"):
            with open(path, "w") as kept:  # noqa: PTH123
                kept.writelines(f"{took:.2f} {name}\n" for took, name in rows)
        for took, name in rows[:SLOWEST]:
            print(f"{took:6.1f} s  {name}")
        result = self.tally
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped - len(result.expectedFailures)
        print(f"{max(passed, 0)} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""), flush=True)
        return failures
