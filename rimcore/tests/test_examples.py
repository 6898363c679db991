"""Every public function's worked example runs, a test a module."""

import doctest
import importlib
import inspect
import pkgutil
import unittest

import rimcore

MODULES = sorted(
    one.name
    for one in pkgutil.walk_packages(rimcore.__path__, "rimcore.")
    if not one.ispkg and ".tests." not in one.name
)
#: least share of public functions of the core that carry a worked example; it may only rise
LEAST_SHARE = 0.63


def load_tests(loader, standard, pattern):
    """One test for the examples of each module, so that they share the work and a fault names its module."""
    for name in MODULES:
        if examples_of(name):
            standard.addTest(Examples(name))
    return standard


def examples_of(name):
    """Worked examples of a module, a test a docstring."""
    return [test for test in doctest.DocTestFinder().find(importlib.import_module(name)) if test.examples]


class Examples(unittest.TestCase):
    """The worked examples of one module."""

    def __init__(self, name="rimcore"):
        super().__init__("examples_hold")
        self.name = name

    def id(self):
        return f"worked examples of {self.name}"

    __str__ = id

    def __eq__(self, other):
        """Two modules are two tests: the runner leaves out what it takes for the same one."""
        return isinstance(other, Examples) and self.name == other.name

    def __hash__(self):
        return hash(self.name)

    def examples_hold(self):
        told = []
        runner = doctest.DocTestRunner()
        for test in examples_of(self.name):
            runner.run(test, out=told.append)
        self.assertEqual(runner.summarize(verbose=False).failed, 0, "".join(told))


class There(unittest.TestCase):
    def test_every_module_is_a_test_of_its_own(self):
        """As the runner sees them, which keeps each test once."""
        found = {Examples(name) for name in MODULES if examples_of(name)}
        self.assertGreater(len(found), 150)

    def test_public_functions_have_examples(self):
        """Counted function by function: what returns something of the trade shows one by hand."""
        wanted, shown = [], 0
        for name in MODULES:
            module = importlib.import_module(name)
            for word, function in vars(module).items():
                if inspect.isfunction(function) and function.__module__ == name and not word.startswith("_"):
                    wanted.append(f"{name}.{word}")
                    shown += ">>>" in (function.__doc__ or "")
        self.assertGreater(len(wanted), 500)
        self.assertGreaterEqual(shown / len(wanted), LEAST_SHARE, f"{shown} of {len(wanted)}")
