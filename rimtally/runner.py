"""Django's test runner, closing with one plain line from its real result."""

import sys
from typing import Any

from django.test.runner import DiscoverRunner


class TallyRunner(DiscoverRunner):
    """Prints ``N passed, N failed`` last."""

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        self.tally = result
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        failures = super().run_tests(*args, **kwargs)
        result = self.tally
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped - len(result.expectedFailures)
        sys.stderr.flush()
        print(f"{max(passed, 0)} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""), flush=True)
        return failures
