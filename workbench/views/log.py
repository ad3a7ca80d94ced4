"""The log of a build: add, correct, find, print, take out."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from datetime import datetime
from urllib.parse import urlencode

from django.db import connection
from django.db.models import Q, QuerySet
from django.http import (
    Http404,
    HttpRequest,
    HttpResponse,
    HttpResponseRedirect,
    StreamingHttpResponse,
)
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_GET

from drawings.trend import trend
from latchcore.edits import EditError
from latchcore.figures.table import harmless
from latchcore.figures.typed import whole
from latchcore.procedure.calibrating import calibrations_of
from workbench.actions import calibrating, logbook
from workbench.actions.saving import Stale
from workbench.logforms import SAID
from workbench.logforms import shown as shown_forms
from workbench.models import Build, LogEntry, LogPhoto, OwnCheck, StockPart
from workbench.paging import search_of
from workbench.stations import Page
from workbench.views.pages import BuildPage

#: Entries a page, hits of a search that are looked through, readings of a contact that are drawn.
PER_PAGE, MOST_HITS, MOST_DRAWN = 40, 1000, 60
#: A search by any part of a word needs so many letters to use its index.
TRIGRAM = 3
WHO = (("", "anybody"), ("people", "people"), ("machine", "the machine"))
HEAD = ("at", "revision", "from", "kind", "channel", "station", "corrects", "words")
ADDED = {
    "add": "It stands in the log.",
    "correct": "The correction stands beside it.",
    "take_in": "What the machine wrote down stands in the log, apart from what people say.",
    "calibrate": "The design goes by it from now on, and the log says so.",
    "moves": "Speed and lag stand in the log.",
    "check": "It is asked at first power from now on.",
    "drop": "The check is gone.",
}


def found(build: Build, asked: dict[str, str], search: str) -> QuerySet[LogEntry]:
    """Entries by what is asked for: kind, channel, who wrote them, any part of their words."""
    rows = build.log.all()
    if asked.get("kind") in dict(LogEntry.KINDS):
        rows = rows.filter(kind=asked["kind"])
    if asked.get("channel"):
        rows = rows.filter(channel=asked["channel"][:60])
    if asked.get("who") in ("people", "machine"):
        rows = rows.filter(machine=asked["who"] == "machine")
    if len(search) >= TRIGRAM:
        rows = rows.filter(pk__in=hits(build, search))
    elif search:
        rows = rows.filter(words__icontains=search)
    return rows


def hits(build: Build, search: str) -> list[int]:
    """The newest entries of a build that hold some words, by the index of words."""
    wanted = '"' + search.replace('"', '""') + '"'
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT e.id FROM log_words AS w JOIN workbench_logentry AS e ON e.id = w.rowid"
            " WHERE w.log_words MATCH %s AND e.build_id = %s ORDER BY w.rowid DESC LIMIT %s",
            [wanted, build.pk, MOST_HITS],
        )
        return [row[0] for row in cursor.fetchall()]


class LogPage(BuildPage):
    """What was read, changed and suffered, by date."""

    page = Page("log/", "log", "log", "build/log.html", "g", "Log",
                touched=lambda build: build.log.exists())  # fmt: skip

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show the log as it is asked for."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Add to it; an edit of the build goes the way of all edits."""
        if "do" not in request.POST:
            return super().post(request, pk, **kwargs)
        build, args = self.build(pk), request.POST.dict()
        try:
            self._do(request, build, args)
        except Stale:
            told = {"wrong": "The build was changed in another tab; look at it, then again.",
                    "typed": args, "asked": {}}  # fmt: skip
            return self.show(request, self.build(pk), status=409, **told, **kwargs)
        except EditError as error:
            told = {"wrong": str(error), "about": error.field, "typed": args, "asked": {}}
            return self.show(request, build, status=422, **told, **kwargs)
        return HttpResponseRedirect(f"{request.path}?done={args['do'][:10]}")

    @staticmethod
    def _do(request: HttpRequest, build: Build, args: dict[str, str]) -> None:
        match args["do"]:
            case "add":
                logbook.add(build, args, request.FILES.get("photo"))
            case "correct":
                logbook.correct(build, args.get("entry", ""), args)
            case "take_in":
                logbook.take_in(build, request.FILES.get("events"))
            case "check":
                logbook.make_check(build, args.get("entry", ""), args)
            case "drop":
                logbook.drop_check(build, args.get("check", ""))
            case "calibrate" | "moves":
                version = whole(args.get("version", ""), 0, 2**31)
                seen = build.version if version is None else version
                take = (
                    calibrating.calibrate
                    if args["do"] == "calibrate"
                    else (calibrating.calibrate_moves)
                )
                take(build, args, seen)
            case other:
                raise EditError(f"“{other[:40]}” is nothing that can be done to a log.")

    @staticmethod
    def _choices(build: Build) -> dict[str, list[tuple[str, str]]]:
        """What the forms let one choose from: kinds, parts that lie in the drawer, figures."""
        parts = StockPart.objects.filter(binned=None, quantity__gt=0)[:200]
        figures = calibrations_of(build.document, build.around.catalogue)
        return {
            "kind": list(SAID),
            "part": [(p.key, f"{p.title}, {p.quantity} there") for p in parts],
            "what": [("", "choose"), *((c.id, c.title) for c in figures)],
        }

    def content(self, build: Build, **kwargs) -> dict:
        """A stretch of entries with what they correct, counters, own checks."""
        asked = kwargs.get("asked") or {}
        search = search_of(self.request)
        rows = found(build, asked, search)
        before = _place(asked.get("before", ""))
        if before is not None:
            at, number = before
            rows = rows.filter(Q(at__lt=at) | Q(at=at, pk__lt=number))
        shown = list(rows.select_related("corrects").prefetch_related("corrections")
                     .defer("photo__image")[: PER_PAGE + 1])  # fmt: skip
        older = ""
        if len(shown) > PER_PAGE:
            shown = shown[:PER_PAGE]
            last = shown[-1]
            same = {k: v for k, v in asked.items() if k in ("kind", "channel", "who") and v}
            same |= {"q": search} if search else {}
            older = urlencode(same | {"before": f"{last.at.isoformat()}_{last.pk}"})
        names = {c.id: c.name for c in build.document.channels}
        for entry in shown:
            entry.channel_name = names.get(entry.channel, entry.channel)
        photos = set(LogPhoto.objects.filter(entry__in=shown).values_list("entry_id", flat=True))
        checks = OwnCheck.objects.filter(Q(build=build) | Q(build=None))
        return {
            "entries": shown,
            "photos": photos,
            "older": older,
            "search": search,
            "asked": asked,
            "kinds": LogEntry.KINDS,
            "forms": shown_forms(self._choices(build), kwargs.get("typed") or {}),
            "who": WHO,
            "names": names,
            "contacts": contacts_of(build),
            "checks": checks,
            "done": ADDED.get(asked.get("done", ""), ""),
            "incident": logbook.INCIDENT,
            "measured": calibrating.measured_of(build),
            "filtered": any(asked.get(k) for k in ("kind", "channel", "who")) or bool(search),
        }  # fmt: skip


def _place(typed: str) -> tuple[datetime, int] | None:
    """Where the entries before begin, as the link has it."""
    when, _, number = typed.rpartition("_")
    try:
        return datetime.fromisoformat(when), whole(number, 1, 2**62) or 0
    except ValueError:
        return None


def contacts_of(build: Build) -> list[dict]:
    """Of each channel with counters: hours, cycles, by hand and by the machine; its resistance."""
    told: dict[str, dict] = {}
    for entry in build.log.filter(kind="contact").order_by("at", "pk")[:1000]:
        one = told.setdefault(entry.channel, {"ohms": []})
        for name in ("hours", "cycles"):
            if name in entry.figures:
                one[name] = entry.figures[name]
        if "ohms" in entry.figures:
            one["ohms"].append((entry.at, entry.figures["ohms"]))
    by_machine = {c.channel: c for c in build.machine_counts.all() if c.cycles}
    found_rows = []
    for channel in build.document.channels:
        one, machine = told.get(channel.id), by_machine.get(channel.id)
        if one is None and machine is None:
            continue
        ohms = (one or {"ohms": []})["ohms"][-MOST_DRAWN:]
        found_rows.append({
            "name": channel.name,
            "hours": _plain((one or {}).get("hours")),
            "cycles": _plain((one or {}).get("cycles")),
            "machine": machine,
            "first": ohms[0][1] if ohms else None,
            "last": ohms[-1][1] if ohms else None,
            "many": len(ohms),
            "picture": trend(channel.name, ohms) if len(ohms) > 1 else "",
        })  # fmt: skip
    return found_rows


def _plain(number: float | None) -> str | None:
    """A counter as one says it."""
    return None if number is None else f"{number:g}"


@require_GET
def photo(request: HttpRequest, pk: int, entry: int) -> HttpResponse:
    """The photo of an entry."""
    kept = get_object_or_404(LogPhoto, entry_id=entry, entry__build_id=pk)
    answer = HttpResponse(bytes(kept.image), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=3600"
    return answer


@require_GET
def as_csv(request: HttpRequest, pk: int) -> StreamingHttpResponse:
    """The log as it is asked for, as a table; written row by row, for it may be long."""
    build = Build.objects.filter(pk=pk).first()
    if build is None:
        raise Http404
    rows = found(build, request.GET.dict(), search_of(request)).values_list(
        "at", "revision", "machine", "kind", "channel", "station", "corrects_id", "words"
    )
    answer = StreamingHttpResponse(_lines(rows), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="log-{pk}.csv"'
    return answer


def _lines(rows: QuerySet) -> Iterator[str]:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(HEAD)
    for at, revision, machine, *rest in rows.iterator(2000):
        who = "machine" if machine else "people"
        cells = [at.isoformat(), str(revision), who, *("" if r is None else str(r) for r in rest)]
        writer.writerow([harmless(cell) for cell in cells])
        if text.tell() > 60_000:
            yield text.getvalue()
            text.seek(0)
            text.truncate()
    yield text.getvalue()
