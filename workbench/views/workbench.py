"""The workbench: the list of builds."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views import View
from django.views.decorators.http import require_GET

from latchcore.edits import EditError
from latchcore.figures.typed import quoted, whole
from latchcore.formats.buildfile import MOST_BYTES, BuildFileError, write_build
from workbench.actions import binning, creating
from workbench.actions.editing import edit_build
from workbench.actions.saving import Stale
from workbench.keeping.program import PROGRAM
from workbench.keeping.writing import judge
from workbench.models import Build, Unreadable, Verdict
from workbench.paging import listed, search_of


def rows_of(builds: list[Build]) -> list[tuple[Build, Verdict | None]]:
    """
    Builds with what was found of them, where this program found it; nothing is worked out here.
    """
    heads = [b.head_id for b in builds]
    found = {
        v.revision_id: v
        for v in Verdict.objects.filter(revision__in=heads, program=PROGRAM).defer("uses")
    }
    return [(build, found.get(build.head_id)) for build in builds]


class Workbench(View):
    """Builds: open, begin, copy, rename, bin and restore."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The list."""
        return self.show(request)

    def show(self, request: HttpRequest, status: int = 200, **context) -> HttpResponse:
        """A page of the list, with whatever was refused."""
        builds, binned = (
            Build.objects.filter(binned=None),
            Build.objects.exclude(binned=None).order_by("-binned", "-id"),
        )
        if search := search_of(request):
            builds, binned = (
                builds.filter(name__icontains=search),
                binned.filter(name__icontains=search),
            )
        now, bin_ = listed(request, builds), listed(request, binned, "bin")
        return render(
            request,
            "workbench.html",
            {
                "listing": now,
                "rows": rows_of(list(now.page)),
                "bin": bin_,
                "kept_days": binning.KEPT_DAYS,
                "any": now.page.paginator.count or search,
                **context,
            },
            status=status,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """One of the named things that can be done with a build."""
        what, typed = request.POST.get("do", ""), request.POST.get("name", "")
        if what == "begin":
            try:
                build = creating.create_empty(typed)
            except EditError as error:
                return self.show(request, 422, begin_error=str(error), typed=typed[:400])
            return redirect("at-hand", build.pk)
        if what == "empty_bin":
            gone = binning.empty_bin()
            return self.show(request, says=f"{gone} build{'s' * (gone != 1)} erased from the bin.")
        build = get_object_or_404(
            Build.with_head(), pk=whole(request.POST.get("build", ""), 1, 2**60) or 0
        )
        try:
            if what == "copy":
                creating.create_copy(build)
            elif what == "bin":
                binning.bin_build(build)
            elif what == "restore":
                binning.restore_build(build)
            elif what == "rename":
                edit_build(build, "rename_build", {"name": typed}, build.version)
            else:
                return self.show(
                    request,
                    422,
                    begin_error=f"{quoted(what)} is nothing that can be done with a build.",
                )
        except (EditError, Stale, Unreadable) as error:
            return self.show(
                request, 422, rename_error=str(error), renamed=build.pk, typed=typed[:400]
            )
        return redirect("workbench")


@require_GET
def verdict(request: HttpRequest, pk: int) -> HttpResponse:
    """
    What was found of one build, worked out now where this program has not yet; a row of the list
    asks for it by itself.
    """
    build = get_object_or_404(Build.with_head(), pk=pk)
    found = Verdict.objects.filter(revision=build.head_id, program=PROGRAM).first() or judge(build)
    return render(request, "parts/verdict_of.html", {"build": build, "verdict": found})


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
                raise BuildFileError(
                    f"The file has {upload.size / 1e6:.1f} MB; a build file has at most"
                    f" {MOST_BYTES / 1e6:.0f} MB."
                )
            content = upload.read() if upload is not None else pasted
            if not content:
                raise BuildFileError("Nothing was given; choose a build file or paste its text.")
            build = creating.create_from_file(content)
        except BuildFileError as error:
            return Workbench().show(
                request, 422, import_error=str(error), pasted=pasted[:MOST_BYTES]
            )
        return redirect("lineup", build.pk)


@require_GET
def export(request: HttpRequest, pk: int) -> HttpResponse:
    """
    The build as a file; one that cannot be read goes out as it is stored, so that nothing is locked
    in.
    """
    build = get_object_or_404(Build.with_head(), pk=pk)
    try:
        content: str | bytes = write_build(build.document, build.around.catalogue)
    except Exception:
        try:
            content = build.head.text
        except ValueError as error:
            return render(
                request,
                "error.html",
                {
                    "title": "This revision is damaged",
                    "message": (
                        f"{error}. An older one may be whole: undo, or bring one back under"
                        " Keeping."
                    ),
                },
                status=409,
            )
    response = HttpResponse(content, content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = (
        f'attachment; filename="{slugify(build.name) or "build"}.json"'
    )
    return response
