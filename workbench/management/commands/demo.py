"""
Everything ``make demo`` does after the installation, in one process: database, assets, demo builds,
server.
"""

import hashlib

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader

from workbench.actions import binning
from workbench.keeping import starting


def fingerprint() -> str:
    """What the assets are made from: every file with its size and time of change."""
    found = hashlib.sha256()
    for finder in get_finders():
        for path, storage in sorted(finder.list([]), key=lambda pair: pair[0]):
            found.update(f"{path} {storage.size(path)} {storage.get_modified_time(path)}".encode())
    return found.hexdigest()


def newer_migrations() -> str:
    """
    A change of the database this program does not know, for it was made by a newer one; empty where
    there is none.
    """
    loader = MigrationLoader(connection)
    unknown = sorted(
        name
        for app, name in loader.applied_migrations
        if app == "workbench" and (app, name) not in loader.disk_migrations
    )
    return unknown[-1] if unknown else ""


class Command(BaseCommand):
    """Bring the data up to date and serve."""

    help = (
        "Migrate, collect the assets, load the demo into an empty workbench, and serve on"
        " 127.0.0.1."
    )

    def handle(self, *args, **options):
        """One after the other; assets that have not changed are not compressed again."""
        stamp, wanted = settings.STATIC_ROOT / "collected", fingerprint()
        if not stamp.exists() or stamp.read_text() != wanted:
            call_command("collectstatic", interactive=False, verbosity=0)
            stamp.write_text(wanted)
        if damage := starting.look_at_start():
            self.stderr.write(starting.what_to_do(damage))
            call_command("serve")
            return
        if newer := newer_migrations():
            raise CommandError(
                f"The data was written by a newer program ({newer}); use that one, or name another"
                " directory with ZINC_LATCH_DATA=."
            )
        call_command("migrate", verbosity=0)
        builds, parts = binning.let_go()
        if builds or parts:
            self.stdout.write(
                f"erased from the bin after {binning.KEPT_DAYS} days: {builds} builds, {parts}"
                " parts"
            )
        call_command("load_demo")
        call_command("serve")
