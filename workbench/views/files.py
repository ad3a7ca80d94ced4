"""Files that come in with a form."""

from __future__ import annotations

from django.http import HttpRequest

#: More than any file that is taken; what is larger is refused by its reader, not swallowed whole.
MOST_READ = 2_500_000


def read_upload(request: HttpRequest) -> str:
    """The text of the file that was sent, else of the box beside it."""
    upload = request.FILES.get("file")
    if upload is None:
        return request.POST.get("text", "")
    return upload.read(MOST_READ).decode("utf-8-sig", errors="replace")
