"""Bring back a copy of everything."""

from pathlib import Path

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from workbench.keeping import copies


class Command(BaseCommand):
    """Looks the copy over first and keeps what was there."""

    help = "Bring back a copy that backup wrote. It is checked first; what is there now is kept."

    def add_arguments(self, parser):
        """Which."""
        parser.add_argument("file", help="a copy")

    def handle(self, *args, file: str, **options):
        """Check, keep, bring back, upgrade."""
        path = Path(file)
        if not path.exists():
            raise CommandError(f"There is no file {path}.")
        connections.close_all()
        try:
            about, kept = copies.restore(path.absolute())
        except copies.CopyError as error:
            raise CommandError(f"{error} Nothing was changed.") from error
        call_command("migrate", verbosity=0)
        self.stdout.write(
            f"brought back: {about.builds} builds, {about.revisions} revisions, {about.parts}"
            f" parts, as of {about.made}"
        )
        if kept is not None:
            self.stdout.write(f"what was there is kept in {kept}")
