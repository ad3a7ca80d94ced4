"""
What is looked at when the program starts, and what runs beside it: integrity, the bin, the copy of
the day.
"""

from __future__ import annotations

import logging
import threading
from datetime import UTC, datetime

from django.conf import settings

from workbench.keeping import copies

LOG = logging.getLogger("zinc_latch.faults")
#: What is wrong with the database, found at the start; pages then say so and nothing is written.
DAMAGE = ""
#: A database up to this size is looked through before anything is served [bytes].
SMALL = 20_000_000
_COPIED_ON = ""
_COPYING = threading.Lock()


def look_at_database() -> str:
    """
    Look at the database's integrity, remember and return what is wrong with it; nothing where it is
    whole or not there yet.
    """
    global DAMAGE
    path = copies.database_path()
    DAMAGE = (copies.damage_of(path) or "") if path.exists() and path.stat().st_size else ""
    return DAMAGE


def look_at_start() -> str:
    """
    Look at the database as the program starts: a small one whole before it serves, a large one
    beside it.

    What is found beside it is said in the terminal and on the next page.
    """
    path = copies.database_path()
    if not path.exists() or path.stat().st_size < SMALL:
        return look_at_database()
    threading.Thread(target=_look_beside, name="integrity", daemon=True).start()
    return copies.head_of(path) or ""


def _look_beside() -> None:
    if damage := look_at_database():
        LOG.error(what_to_do(damage))


def what_to_do(damage: str) -> str:
    """What is wrong and what to do about it, for the terminal and the page alike."""
    whole = [c.name for c in copies.kept_copies() if c.about][:3]
    way = (
        "Stop the program and bring back a copy, the newest first: manage.py restore"
        f" {copies.directory() / whole[0]}"
        if whole
        else (
            "There is no copy in the data directory; if you have one elsewhere, stop the program"
            " and use: manage.py restore FILE"
        )
    )
    return (
        f"The database in {settings.DATA_DIR} is damaged ({damage[:120]}). Nothing is written to"
        f" it. {way}. What is there now is set aside by that, not thrown away."
    )


def copy_soon() -> None:
    """
    Make the copy of the day beside the answer, once a day; a copy that fails is logged and tried at
    the next change.
    """
    global _COPIED_ON
    today = f"{datetime.now(UTC):%Y-%m-%d}"
    if today == _COPIED_ON or not settings.COPY_OF_THE_DAY or not _COPYING.acquire(blocking=False):
        return
    _COPIED_ON = today
    threading.Thread(target=_copy, name="copy of the day", daemon=True).start()


def _copy() -> None:
    global _COPIED_ON
    try:
        copies.copy_of_the_day()
    except Exception as error:
        _COPIED_ON = ""
        LOG.error("The copy of the day was not made: %s", error)
    finally:
        _COPYING.release()
