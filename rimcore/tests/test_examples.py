"""Every public function's worked example runs."""

import doctest
import importlib
import pkgutil
import unittest

import rimcore

MODULES = sorted(one.name for one in pkgutil.walk_packages(rimcore.__path__, "rimcore.") if not one.ispkg and ".tests." not in one.name)


class WorkedExamples(unittest.TestCase):
    def test_examples_hold(self):
        for name in MODULES:
            with self.subTest(module=name):
                result = doctest.testmod(importlib.import_module(name))
                self.assertEqual(result.failed, 0)

    def test_there_are_examples(self):
        finder = doctest.DocTestFinder()
        count = sum(len(test.examples) for name in MODULES for test in finder.find(importlib.import_module(name)))
        self.assertGreater(count, 80)
