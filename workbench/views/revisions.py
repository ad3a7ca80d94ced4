"""
Every revision of a build, by pages; needs no sums, so it opens for a build that cannot be worked
out.
"""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views import View

from latchcore.edits import EditError
from latchcore.figures.typed import whole
from workbench.actions import history
from workbench.actions.saving import Stale
from workbench.models import Build
from workbench.paging import listed


def page_of_revisions(request: HttpRequest, build: Build):
    """
    The page of a build's revisions that was asked for, newest first; a search goes over their
    summaries.
    """
    rows = build.revisions.only("id", "number", "summary", "created", "parent_id", "action")
    if search := request.GET.get("q", "").strip()[:60].replace("\x00", ""):
        rows = rows.filter(summary__icontains=search)
    return listed(request, rows, per_page=50)


class Revisions(View):
    """The plain list of a build's revisions."""

    def get(
        self, request: HttpRequest, pk: int, status: int = 200, wrong: str = ""
    ) -> HttpResponse:
        """A page of them."""
        build = get_object_or_404(Build.with_head(), pk=pk)
        page = {"build": build, "listing": page_of_revisions(request, build), "wrong": wrong}
        return render(request, "build/revisions.html", page, status=status)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Bring one back."""
        build = get_object_or_404(Build.with_head(), pk=pk)
        version = whole(request.POST.get("version", ""), 0, 2**31)
        try:
            history.restore(
                build, request.POST.get("number", ""), -1 if version is None else version
            )
        except EditError as error:
            return self.get(request, pk, 422, str(error))
        except Stale:
            return self.get(
                request,
                pk,
                409,
                "The build was changed in another tab meanwhile; nothing was brought back.",
            )
        return redirect("lineup", pk)
