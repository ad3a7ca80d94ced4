"""What every answer gets, and what is said when one fails."""

from __future__ import annotations

import logging
import sqlite3

from django.core.exceptions import PermissionDenied, SuspiciousOperation
from django.db import DatabaseError
from django.http import Http404, HttpRequest
from django.shortcuts import render
from django.utils.cache import add_never_cache_headers

from latchcore.design.faults import number_of
from latchcore.figures.typed import in_one_line
from workbench.keeping import starting

LOG = logging.getLogger("zinc_latch.faults")
#: What the database says of its disk, and what that means here.
DISK = {
    "full": (
        "The disk is full",
        (
            "Nothing was changed, and what was there is whole. Make room on the disk that holds the"
            " data, then send it again."
        ),
    ),
    "readonly": (
        "The data cannot be written",
        (
            "Nothing was changed. The data directory or a file in it is read-only, or belongs to"
            " somebody else; give this user the right to write there."
        ),
    ),
    "unable to open": (
        "The data cannot be opened",
        (
            "The data directory is gone or cannot be entered. Look at the directory that"
            " ZINC_LATCH_DATA names, then start again."
        ),
    ),
    "locked": (
        "The data is busy",
        (
            "Another program holds the database, perhaps a second server on the same data. Nothing"
            " was changed; try again in a moment."
        ),
    ),
    "malformed": (
        "The database is damaged",
        (
            "Nothing more is written to it. Stop the program, then bring back a copy: “manage.py"
            " restore FILE”; copies lie in the data directory under copies/."
        ),
    ),
    "not a database": (
        "The database is damaged",
        (
            "Nothing more is written to it. Stop the program, then bring back a copy: “manage.py"
            " restore FILE”; copies lie in the data directory under copies/."
        ),
    ),
    "disk i/o": (
        "The disk does not answer",
        (
            "Reading or writing failed below the program. Look at the disk; nothing was changed"
            " that was acknowledged."
        ),
    ),
}


def note_fault(request: HttpRequest, error: BaseException) -> str:
    """Write a fault to the log under its number, and give the number for the page."""
    number = number_of(error)
    LOG.error("%s at %s %s", number, request.method, in_one_line(request.path), exc_info=error)
    return number


def disk_trouble(error: BaseException) -> tuple[str, str] | None:
    """What to say of a disk that is full, read-only or gone, or ``None`` for any other error."""
    if not isinstance(error, DatabaseError | sqlite3.Error | OSError):
        return None
    words = str(error).lower()
    if isinstance(error, OSError) and not isinstance(error, sqlite3.Error):
        words = {28: "full", 30: "readonly", 13: "readonly"}.get(error.errno or 0, "")
    return next((said for sign, said in DISK.items() if words and sign in words), None)


class Guard:
    """
    Before anything is shown: a damaged database is not written to; after a change: the copy of the
    day is made.
    """

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        damage = starting.DAMAGE
        if damage:
            page = {
                "title": "The database is damaged",
                "message": starting.what_to_do(damage),
                "plain": True,
            }
            return render(request, "error.html", page, status=503)
        response = self.get_response(request)
        if request.method == "POST" and response.status_code < 400:
            starting.copy_soon()
        return response


class Faults:
    """A fault becomes a page with its number; one of the disk says what to do about it."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception):
        """The page for what a view did not handle."""
        if isinstance(error, Http404 | SuspiciousOperation | PermissionDenied):
            return None
        if (said := disk_trouble(error)) is not None:
            LOG.error("%s at %s", said[0], in_one_line(request.path), exc_info=error)
            return render(
                request,
                "error.html",
                {"title": said[0], "message": said[1]},
                status=507 if "full" in said[0] else 503,
            )
        number = note_fault(request, error)
        message = (
            f"This is fault {number}; the log holds it under that number. The build is as it was"
            " before."
        )
        return render(
            request,
            "error.html",
            {"title": "Something broke in the program", "message": message, "number": number},
            status=500,
        )


def fresh_pages(get_response):
    """
    Pages are never taken from a cache, so that the back button shows the build as it is now; HEAD
    has no body.
    """

    def answer(request):
        response = get_response(request)
        if not response.has_header("Cache-Control"):
            add_never_cache_headers(response)
        if request.method == "HEAD" and not response.streaming:
            response["Content-Length"] = str(len(response.content))
            response.content = b""
        return response

    return answer
