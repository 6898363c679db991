"""Questions of a long form by what they decide: none lost, counted, opened where one is wrong."""

from django import forms
from django.test import SimpleTestCase

from bench.air.forms import PANEL_FOLDS, UNDER_FOLDS, PanelForm, UnderForm
from bench.frame.folded import folds_of


class Asked(forms.Form):
    name = forms.CharField()
    pitch = forms.FloatField(initial=150, required=False)
    heat = forms.CharField(required=False)


GROUPS = {"Fasteners": ("pitch",), "Heat": ("heat",)}


class Folds(SimpleTestCase):
    def test_each_question_stands_once(self):
        for form, groups in ((PanelForm, PANEL_FOLDS), (UnderForm, UNDER_FOLDS)):
            made = form(None)
            found = [field.name for fold in folds_of(made, groups) for field in fold.fields]
            self.assertEqual(sorted(found), sorted(made.fields))

    def test_what_is_answered_is_counted_and_what_is_wrong_stands_open(self):
        first, fasteners, heat = folds_of(Asked(), GROUPS)
        self.assertEqual((first.open, fasteners.open, fasteners.said, heat.said), (True, False, 0, 0))
        wrong = folds_of(Asked({"name": "belly", "pitch": "wide", "heat": "silencer"}), GROUPS)
        self.assertEqual([(one.open, one.said) for one in wrong[1:]], [(True, 1), (False, 1)])
