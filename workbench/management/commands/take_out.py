"""Write every build and the drawer as files into one."""

from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from workbench.keeping.files import files_of_everything, zipped


class Command(BaseCommand):
    """One file with a build file for each build and the drawer as a table."""

    help = "Write every build and the drawer as files anybody can read into one zip file."

    def add_arguments(self, parser):
        """Where to."""
        parser.add_argument("file", help="the zip file to write")

    def handle(self, *args, file, **options):
        """Write it and say how many there are."""
        found = files_of_everything()
        try:
            Path(file).write_bytes(zipped(found))
        except OSError as error:
            raise CommandError(f"{file}: {error.strerror}") from error
        self.stdout.write(f"{file}: {len(found) - 1} builds and the drawer")
