"""Load the demo builds into an empty workbench."""

import csv
import io
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from latchcore.formats.partsfile import read_parts
from workbench.actions import logbook
from workbench.actions.creating import create_from_file
from workbench.actions.stocking import take_in
from workbench.models import Build, StockPart


class Command(BaseCommand):
    """Demo builds are loaded once; a workbench that holds anything is left as it is."""

    help = "Load the demo builds, unless the workbench already holds builds."

    def handle(self, *args, **options):
        """Load them."""
        if Build.objects.exists():
            self.stdout.write("The workbench already holds builds; the demo is not loaded again.")
            return
        # All of it or none: a first start that was cut short begins again here.
        with transaction.atomic():
            self._load()

    def _load(self):
        for path in sorted((Path(settings.BASE_DIR) / "demo").glob("*.json"), reverse=True):
            build = create_from_file(path.read_bytes())
            self.stdout.write(f"loaded {build.name}")
        self._write_log()
        if not StockPart.objects.exists():
            count = take_in(
                read_parts(
                    (Path(settings.BASE_DIR) / "demo" / "drawer.csv").read_text(encoding="utf-8")
                )
            )
            self.stdout.write(f"loaded {count} parts into the drawer")

    def _write_log(self):
        """What was written down at the bench of some of them."""
        text = (Path(settings.BASE_DIR) / "demo" / "log.csv").read_text(encoding="utf-8")
        builds = {b.name: b for b in Build.with_head()}
        count = 0
        for row in csv.DictReader(io.StringIO(text)):
            name = row.pop("build")
            logbook.add(builds[name], row)
            count += 1
        self.stdout.write(f"loaded {count} entries of the log")
