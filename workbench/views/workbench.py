"""The workbench: the list of builds."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views import View

from latchcore.document.edits import EditError
from latchcore.formats.buildfile import MOST_BYTES, BuildFileError, write_build
from workbench.actions import binning, creating
from workbench.actions.editing import edit_build
from workbench.actions.saving import Stale
from workbench.drawer import catalogue
from workbench.models import Build


class Workbench(View):
    """Builds: open, begin, copy, rename, bin and restore."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The list."""
        return self.show(request)

    def show(self, request: HttpRequest, status: int = 200, **context) -> HttpResponse:
        """The list, with whatever was refused."""
        builds = list(Build.objects.select_related("head")[:200])
        return render(request, "workbench.html", {
            "builds": [b for b in builds if b.binned is None], "binned": [b for b in builds if b.binned], **context,
        }, status=status)  # fmt: skip

    def post(self, request: HttpRequest) -> HttpResponse:
        """One of the named things that can be done with a build."""
        what, typed = request.POST.get("do", ""), request.POST.get("name", "")
        if what == "begin":
            try:
                build = creating.create_empty(typed)
            except EditError as error:
                return self.show(request, 422, begin_error=str(error), typed=typed)
            return redirect("at-hand", build.pk)
        key = request.POST.get("build", "")
        build = get_object_or_404(Build.objects.select_related("head"), pk=key if key.isdigit() and len(key) < 15 else 0)
        if what == "copy":
            creating.create_copy(build)
        elif what == "bin":
            binning.bin_build(build)
        elif what == "restore":
            binning.restore_build(build)
        elif what == "rename":
            try:
                edit_build(build, "rename_build", {"name": typed}, build.version)
            except (EditError, Stale) as error:
                return self.show(request, 422, rename_error=str(error), renamed=build.pk, typed=typed)
        else:
            return self.show(request, 422, begin_error=f"“{what[:40]}” is nothing that can be done with a build.")
        return redirect("workbench")


class Import(View):
    """A build from a file or from pasted text."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The form stands on the workbench."""
        return redirect("workbench")

    def post(self, request: HttpRequest) -> HttpResponse:
        """Read the file, all or nothing."""
        upload, pasted = request.FILES.get("file"), request.POST.get("text", "")
        try:
            if upload is not None and upload.size > MOST_BYTES:
                raise BuildFileError(f"The file has {upload.size / 1e6:.1f} MB; a build file has at most {MOST_BYTES / 1e6:.0f} MB.")
            content = upload.read() if upload is not None else pasted
            if not content:
                raise BuildFileError("Nothing was given; choose a build file or paste its text.")
            build = creating.create_from_file(content)
        except BuildFileError as error:
            return Workbench().show(request, 422, import_error=str(error), pasted=pasted[:MOST_BYTES])
        return redirect("lineup", build.pk)


def export(request: HttpRequest, pk: int) -> HttpResponse:
    """The build as a file."""
    build = get_object_or_404(Build.objects.select_related("head"), pk=pk)
    response = HttpResponse(write_build(build.document, catalogue()), content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(build.name) or "build"}.json"'
    return response
