"""Where nothing can be kept beside the source or for the user, a function is compiled all the same."""

import unittest
from unittest.mock import patch

from rimcore import compiling


class Kept(unittest.TestCase):
    def test_without_a_place_to_keep_it_every_process_compiles_it(self) -> None:
        real, asked = compiling.njit, []

        def nowhere(**options):
            asked.append(options)
            if options.get("cache"):
                raise RuntimeError("cannot cache function: no locator available")
            return real(**options)

        with patch.object(compiling, "njit", nowhere):
            self.assertEqual(compiling.compiled(lambda one: one + 1)(2), 3)
        self.assertEqual([one.get("cache", False) for one in asked], [True, False])
