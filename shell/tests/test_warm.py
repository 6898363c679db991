"""Templates are compiled before a serving process answers."""

from __future__ import annotations

from unittest.mock import patch

from django.template import Template, engines
from django.test import SimpleTestCase

from shell.warm import compile_templates, our_templates


class Warm(SimpleTestCase):
    def test_every_template_compiles(self):
        self.assertEqual(compile_templates(), len(our_templates()))
        self.assertIn("shell/base.html", our_templates())
        self.assertFalse([name for name in our_templates() if name.startswith(("admin/", "registration/password_reset"))])

    def test_a_template_compiled_before_is_not_compiled_again(self):
        for loader in engines["django"].engine.template_loaders:
            loader.reset()
        compile_templates()
        with patch.object(Template, "compile_nodelist", side_effect=AssertionError("compiled anew")):
            engines["django"].get_template("shell/base.html")
