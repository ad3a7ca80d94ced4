"""Pages for what went wrong: what happened, what is kept, where to go."""

from __future__ import annotations

from django.core.exceptions import RequestDataTooBig
from django.shortcuts import render


def _page(request, status: int, title: str, message: str):
    return render(request, "error.html", {"title": title, "message": message}, status=status)


def bad_request(request, exception=None):
    """
    A request that is refused before any view sees it: too large, too many fields, a strange host.
    """
    if isinstance(exception, RequestDataTooBig):
        return _page(
            request,
            413,
            "That was too much at once",
            "More than 2.5 MB was sent in one go. A field takes 80 characters, a build file up to 2"
            " MB. Nothing was changed; go back, and what was typed is still there.",
        )
    return _page(
        request,
        400,
        "That request was not understood",
        "Nothing was changed; go back and try once more.",
    )


def not_found(request, exception=None):
    """No such page."""
    return _page(
        request,
        404,
        "There is no such page",
        "The build or page may have been removed. The workbench lists what there is.",
    )


def broken(request):
    """A fault of the program."""
    return _page(
        request,
        500,
        "Something broke in the program",
        "The build is as it was before. Please note what you did last.",
    )


def csrf_failure(request, reason=""):
    """The form was older than its cookie, or came from elsewhere."""
    return _page(
        request,
        403,
        "This form is no longer valid",
        "Nothing was changed. Reload the page you came from and send it again.",
    )
