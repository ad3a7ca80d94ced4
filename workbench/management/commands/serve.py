"""Serve the application on this machine alone."""

import os
import time

from django.core.management.base import BaseCommand
from waitress import create_server
from waitress.channel import HTTPChannel

from workbench.wsgi import application

#: A request that is not whole after this long is ended, however it trickles [s].
PATIENCE = 10


class Patient(HTTPChannel):
    """
    A connection that is closed when a request takes too long to arrive; idle ones are closed by the
    server itself.
    """

    begun = None

    def received(self, data):
        """Take what arrived, and note how long a half request has been coming."""
        taken = super().received(data)
        if self.request is None:
            self.begun = None
        elif self.begun is None:
            self.begun = time.monotonic()
        elif time.monotonic() - self.begun > PATIENCE:
            self.will_close = True
        return taken


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
                server = create_server(
                    application,
                    host="127.0.0.1",
                    port=attempt,
                    threads=6,
                    ident=None,
                    channel_timeout=PATIENCE - 2,
                    cleanup_interval=2,
                )
                server.channel_class = Patient
                break
            except OSError:
                self.stderr.write(f"Port {attempt} is taken; trying the next.")
        else:
            raise SystemExit(f"No free port from {port} to {port + 19}; give another with PORT=.")
        self.stdout.write(f"Zinc Latch is at http://127.0.0.1:{attempt}/  (stop with Ctrl-C)")
        self.stdout.flush()
        server.run()
