"""How far a long import has come, for the page that waits for it; forgotten after a minute."""

from __future__ import annotations

import re

from django.core.cache import cache

_TOKEN = re.compile(r"[a-z0-9-]{8,40}")


def tell(token: str, done: int, of: int) -> None:
    """
    Note how many of the rows are judged, under the token the waiting page chose; any other text is
    no token.
    """
    if _TOKEN.fullmatch(token):
        cache.set(f"progress-{token}", (done, of), 60)


def told(token: str) -> tuple[int, int] | None:
    """What was last noted for a token, or ``None``."""
    return cache.get(f"progress-{token}") if _TOKEN.fullmatch(token) else None
