"""Everything ``make demo`` does after the installation, in one process: database, assets, demo builds, server."""

import hashlib

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand


def fingerprint() -> str:
    """What the assets are made from: every file with its size and time of change."""
    found = hashlib.sha256()
    for finder in get_finders():
        for path, storage in sorted(finder.list([]), key=lambda pair: pair[0]):
            found.update(f"{path} {storage.size(path)} {storage.get_modified_time(path)}".encode())
    return found.hexdigest()


class Command(BaseCommand):
    """Bring the data up to date and serve."""

    help = "Migrate, collect the assets, load the demo into an empty workbench, and serve on 127.0.0.1."

    def handle(self, *args, **options):
        """One after the other; assets that have not changed are not compressed again."""
        call_command("migrate", verbosity=0)
        stamp, wanted = settings.STATIC_ROOT / "collected", fingerprint()
        if not stamp.exists() or stamp.read_text() != wanted:
            call_command("collectstatic", interactive=False, verbosity=0)
            stamp.write_text(wanted)
        call_command("load_demo")
        call_command("serve")
