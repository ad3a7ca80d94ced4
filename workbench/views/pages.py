"""The pages of a build: one class shows and edits, each station adds what it needs."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.exceptions import PermissionDenied, SuspiciousOperation
from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.views import View

from latchcore.edits import EditError
from latchcore.edits.kept import otherwise
from latchcore.figures.typed import whole
from workbench.actions import history
from workbench.actions.editing import edit_build, take_drawer
from workbench.actions.saving import Stale
from workbench.drawer import catalogue, held_catalogue
from workbench.middleware import note_fault
from workbench.models import Build, Unreadable
from workbench.stations import Page, own_first, spine

RESERVED = {"csrfmiddlewaretoken", "edit", "version"}
#: Arguments that say what an edit is about, the nearer first.
ABOUT = (
    "chain",
    "vehicle",
    "rule",
    "machine",
    "route",
    "channel",
    "what",
    "block",
    "cable",
    "metal",
    "rail",
)
#: Arguments that together say which place of a behaviour an edit is about.
PLACES = ("piece", "path", "sequence", "phase", "macro", "press")


@dataclass
class Refused:
    """An edit that was refused, with what was typed, so that the form can show both."""

    edit: str
    args: dict[str, str]
    message: str
    field: str | None = None

    @property
    def nowhere(self) -> bool:
        """Whether no field of its form is where the message belongs."""
        return self.field is None or self.field not in self.args

    @property
    def told(self) -> list[tuple[str, str]]:
        """What was asked for, without which channel or rail it was asked of."""
        return [(k, v) for k, v in self.args.items() if k not in ("channel", "rail")]

    def typed(self, edit: str, field: str, of: str | None = None) -> str | None:
        """
        What was typed into a field of the refused form, or ``None`` for any other form; ``of`` is
        what the form is about.
        """
        parts = [self.args[key].replace(".", "-") for key in PLACES if self.args.get(key)]
        near = next((self.args[k] for k in ABOUT if self.args.get(k)), None)
        about = "-".join(parts) or near or ""
        # A place of a behaviour stands in the ids of a page without its points.
        same = self.edit == edit and (not of or of in (about, about.replace(".", "-")))
        return self.args.get(field) if same else None


class BuildPage(View):
    """A page of a build; posting a named edit to it changes the build and shows the page again."""

    #: The record of the page; a class without one is what several pages share.
    page: Page
    #: Every page of a build there is.
    every: list[type[BuildPage]] = []

    def __init_subclass__(cls, **kwargs):
        super().__init_subclass__(**kwargs)
        if "page" in cls.__dict__:
            cls.every.append(cls)

    def dispatch(self, request: HttpRequest, *args, **kwargs) -> HttpResponse:
        """A page of a build reads the drawer and never changes it: once is enough."""
        with held_catalogue():
            try:
                return super().dispatch(request, *args, **kwargs)
            except Unreadable as error:
                return self.in_trouble(
                    request, kwargs["pk"], f"This build cannot be read: {error}", 409
                )
            except (Http404, DatabaseError, SuspiciousOperation, PermissionDenied):
                raise
            except Exception as error:
                number = note_fault(request, error)
                return self.in_trouble(
                    request,
                    kwargs["pk"],
                    f"This page of the build cannot be worked out (fault {number}, in the log).",
                    500,
                )

    def in_trouble(self, request: HttpRequest, pk: int, says: str, status: int) -> HttpResponse:
        """
        A build whose page cannot be shown: what is wrong, and every way out that needs no sums.
        """
        build = self.build(pk)
        page = {
            "build": build,
            "says": says,
            "redo": history.redo_target(build),
            "path": request.path,
        }
        partial = (
            request.htmx and not request.htmx.boosted and not request.htmx.history_restore_request
        )
        page["wrapper"] = "bare.html" if partial else "base.html"
        return render(request, "build/trouble.html", page, status=status)

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show the page."""
        return self.show(request, self.build(pk), **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """
        Carry out one edit, then show the page: as a fragment to htmx, by redirect to anybody else.
        """
        build = self.build(pk)
        args = {key: value for key, value in request.POST.items() if key not in RESERVED}
        # Several boxes of one name (hazards) come as one list.
        args |= {
            key: ",".join(v for v in request.POST.getlist(key) if v)
            for key in args
            if len(request.POST.getlist(key)) > 1
        }
        name = request.POST.get("edit", "")
        version = whole(request.POST.get("version", ""), 0, 2**31)
        seen = -1 if version is None else version
        before = build.version
        try:
            says = self.carry_out(build, name, args, seen)
        except EditError as error:
            return self.show(
                request,
                build,
                status=422,
                refused=Refused(name, args, str(error), error.field),
                **kwargs,
            )
        except Stale as stale:
            return self.show(
                request,
                stale.build,
                status=409,
                stale=stale,
                mine=Refused(name, args, "", None),
                **kwargs,
            )
        target = self.after(build, name, args, kwargs)
        if request.htmx and target is None:
            return self.show(
                request,
                build,
                says=says,
                fresh=build.version != before and name not in ("undo", "redo"),
                **kwargs,
            )
        if request.htmx:
            return HttpResponse(status=204, headers={"HX-Redirect": target})
        return HttpResponseRedirect(target or request.path)

    def carry_out(self, build: Build, name: str, args: dict, seen: int) -> str:
        """Undo, redo and restore are the history's; everything else is an edit of the document."""
        if name == "undo":
            return history.undo(build, seen)
        if name == "redo":
            return history.redo(build, seen)
        if name == "restore":
            return history.restore(build, args.get("number", ""), seen)
        if name == "take_drawer":
            return take_drawer(build, seen)
        return edit_build(build, name, args, seen)

    def after(self, build: Build, name: str, args: dict, kwargs: dict) -> str | None:
        """Where an edit leads, or ``None`` to stay."""
        return None

    def build(self, pk: int) -> Build:
        """The build with its head."""
        return get_object_or_404(Build.with_head(), pk=pk)

    def content(self, build: Build, **kwargs) -> dict:
        """What this page shows beside what all of them show."""
        return {}

    def show(
        self, request: HttpRequest, build: Build, status: int = 200, **context
    ) -> HttpResponse:
        """Render the page, or its working part alone for htmx."""
        parts = catalogue()
        around = build.around
        page = {
            "build": build,
            "doc": build.document,
            "report": build.report,
            "catalogue": parts,
            "around": around,
            "station": self.page.station,
            "stock_choice": "yes" if build.document.prefer_stock else "no",
            "hazardous": [
                *(r for r in build.document.rails if around.hazardous(r)),
                *(c for c in build.document.channels if around.hazardous_alone(c)),
            ],
            "dangerous": {
                c.id
                for c in build.document.channels
                if around.hazardous_alone(c)
                or (c.rail and around.hazardous(build.document.rail(c.rail)))
            },
            # Nothing follows a revision that was just written.
            "redo": None if context.get("fresh") else history.redo_target(build),
            "spine": spine(build, [cls.page for cls in self.every]),
            "selected": None,
        }
        page["otherwise"] = otherwise(build.document, parts)
        page["findings"] = own_first(build.report.all_findings, self.page.station)
        page |= context | self.content(build, **context)
        if "gone" in page:
            status = 404
        template = "build/gone.html" if "gone" in page else self.page.template
        partial = (
            request.htmx and not request.htmx.boosted and not request.htmx.history_restore_request
        )
        page["wrapper"] = "bare.html" if partial else "base.html"
        return render(request, template, page, status=status)
