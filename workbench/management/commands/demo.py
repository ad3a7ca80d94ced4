"""Everything ``make demo`` does after the installation, in one process: database, assets, demo builds, server."""

from django.core.management import call_command
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    """Bring the data up to date and serve."""

    help = "Migrate, collect the assets, load the demo into an empty workbench, and serve on 127.0.0.1."

    def handle(self, *args, **options):
        """One after the other."""
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        call_command("load_demo")
        call_command("serve")
