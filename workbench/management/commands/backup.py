"""Write a copy of everything while the program may be running."""

from datetime import UTC, datetime
from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from workbench.keeping import copies
from workbench.middleware import disk_trouble


class Command(BaseCommand):
    """One file with the database and its photos."""

    help = "Write a consistent copy of everything to a file; the program may be running."

    def add_arguments(self, parser):
        """Where to."""
        parser.add_argument(
            "file",
            nargs="?",
            help="the file to write; by default one in the data directory, under copies/",
        )

    def handle(self, *args, file=None, **options):
        """Write it and say what is in it."""
        target = (
            Path(file)
            if file
            else copies.directory() / f"now-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.zip"
        )
        try:
            about = copies.write_copy(target.absolute())
        except Exception as error:
            said = disk_trouble(error)
            raise CommandError(
                " ".join(said) if said else f"No copy was written: {error}"
            ) from error
        self.stdout.write(
            f"{target}: {about.builds} builds, {about.revisions} revisions, {about.parts} parts"
        )
