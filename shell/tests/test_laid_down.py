"""What is laid down is what the scenario loads."""

from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.db import transaction
from django.test import TestCase

from shell.tests import laid_down as support
from shell.tidy import file_columns


class LaidDown(TestCase):
    def rows(self):
        """Of a scenario that is taken back again."""
        with transaction.atomic():
            car = support.laid_down()
            found = car.pk, support._rows(), sorted(map(str, support._files()))
            transaction.set_rollback(True)
        return found

    def test_row_by_row_and_file_by_file(self):
        with patch.dict(support._kept, clear=True):
            first = self.rows()
            self.assertEqual(len(support._kept), 1)
            for name in first[2]:
                Path(name).unlink()
            self.assertEqual(self.rows(), first)
        self.assertGreater(sum(map(len, first[1].values())), 1000)
        self.assertTrue(first[2] and file_columns() and all(name.startswith(str(settings.MEDIA_ROOT)) for name in first[2]))
