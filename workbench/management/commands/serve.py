"""Serve the application on this machine alone."""

import os

from django.core.management.base import BaseCommand
from waitress import create_server

from workbench.wsgi import application


class Command(BaseCommand):
    """The demo's server: bound to 127.0.0.1, the next free port where the usual one is taken."""

    help = "Serve on 127.0.0.1 and print the address."

    def add_arguments(self, parser):
        """Port."""
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8046")))

    def handle(self, *args, port: int, **options):
        """Serve until interrupted."""
        for attempt in range(port, port + 20):
            try:
                server = create_server(application, host="127.0.0.1", port=attempt, threads=6, ident=None)
                break
            except OSError:
                self.stderr.write(f"Port {attempt} is taken; trying the next.")
        else:
            raise SystemExit(f"No free port from {port} to {port + 19}; give another with PORT=.")
        self.stdout.write(f"Zinc Latch is at http://127.0.0.1:{attempt}/  (stop with Ctrl-C)")
        self.stdout.flush()
        server.run()
