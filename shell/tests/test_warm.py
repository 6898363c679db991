"""Templates are compiled before a serving process answers."""

from __future__ import annotations

import gc
import weakref
from unittest.mock import patch

from django.template import Template, engines
from django.test import SimpleTestCase
from django.urls import get_resolver

from shell.warm import Between, compile_templates, our_templates, warm


class Warm(SimpleTestCase):
    def test_every_template_compiles(self):
        self.assertEqual(compile_templates(), len(our_templates()))
        self.assertLessEqual({"shell/base.html", "bench/well/bench.html", "garage/car.html"}, set(our_templates()))
        self.assertFalse(
            [name for name in our_templates() if name.startswith(("admin/", "registration/password_reset"))]
        )

    def test_what_is_loaded_is_left_out_of_later_collections(self):
        before = gc.get_threshold()
        try:
            warm()
            self.assertGreater(gc.get_freeze_count(), 10_000)
            self.assertGreaterEqual(gc.get_threshold()[2], 1_000_000)
        finally:
            gc.unfreeze()
            gc.set_threshold(*before)

    def test_addresses_are_loaded_before_the_first_visitor(self):
        before = gc.get_threshold()
        resolver = get_resolver()
        vars(resolver).pop("url_patterns", None)
        try:
            warm()
            self.assertIn("url_patterns", vars(resolver))
        finally:
            gc.unfreeze()
            gc.set_threshold(*before)

    def test_a_full_collection_comes_after_so_many_answers(self):
        class Loop:
            pass

        between, gone = Between(3), []
        loop = Loop()
        loop.itself, loop.said = loop, weakref.finalize(loop, gone.append, "gone")
        gc.disable()
        try:
            del loop
            for count, seen in ((1, []), (2, []), (3, ["gone"])):
                between.answered()
                self.assertEqual((between.count, gone), (count % 3, seen))
        finally:
            gc.enable()

    def test_a_template_compiled_before_is_not_compiled_again(self):
        for loader in engines["django"].engine.template_loaders:
            loader.reset()
        compile_templates()
        with patch.object(Template, "compile_nodelist", side_effect=AssertionError("compiled anew")):
            engines["django"].get_template("shell/base.html")
