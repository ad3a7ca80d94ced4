"""Copies of everything: make one by one press, fetch one, read how to bring one back."""

from __future__ import annotations

import re
from datetime import UTC, datetime

from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View
from django.views.decorators.http import require_GET

from workbench.keeping import copies

_NAME = re.compile(r"^(day|now|before-restore)-[0-9-]{8,30}\.zip$")


class Copies(View):
    """Every copy that is kept, and the press that makes one."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The list."""
        return render(
            request,
            "copies.html",
            {"kept": copies.kept_copies(), "days": copies.DAYS, "where": copies.directory()},
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Make one now."""
        target = copies.directory() / f"now-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.zip"
        copies.write_copy(target)
        for old in sorted(copies.directory().glob("now-*.zip"))[: -copies.DAYS]:
            old.unlink(missing_ok=True)
        return redirect("copies")


@require_GET
def fetch(request: HttpRequest, name: str) -> FileResponse:
    """One copy, to be put elsewhere."""
    path = copies.directory() / name
    if _NAME.fullmatch(name) is None or not path.exists():
        raise Http404("There is no such copy.")
    return FileResponse(path.open("rb"), as_attachment=True, filename=name)
