"""Waveforms of a channel: switched on, off and pulsed, clamps side by side, before and after."""

from __future__ import annotations

from dataclasses import dataclass, replace

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from drawings.scope import scope
from latchcore.bench.circuit import NotModelled
from latchcore.bench.waves import SWITCHINGS, Waves, clamps_of, waves_of, waves_table
from latchcore.design.context import BuildContext
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import QuantityError, parse, show
from latchcore.figures.typed import whole
from latchcore.pieces.clamps import CLAMPS
from workbench.models import Build
from workbench.stations import Page
from workbench.views.outward import attached
from workbench.views.pages import BuildPage
from workbench.views.stations import gone

#: As many sets are laid over each other.
MOST_LAID = 3


@dataclass(frozen=True)
class Laid:
    """What is laid over each other, with what is wrong with what was asked for."""

    waves: tuple[Waves, ...]
    wrong: str = ""
    why: str = ""


class WavesPage(BuildPage):
    """What an oscilloscope would show."""

    page = Page("channels/<slug:channel>/waves/", "waves", "first-power", "build/waves.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show it as it is asked for; everything stands in the address."""
        if request.GET.get("as") == "csv":
            return self._csv(request, pk, kwargs.get("channel", ""))
        return self.show(request, self.build(pk), **kwargs)

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The curves, cursors with their readings, what else can be laid over them."""
        found, told = build.document.channel(channel), build.report.channel(channel)
        if found is None:
            return gone(build, channel)
        asked = self.request.GET
        page = {"channel": found, "cr": told, "selected": told, "switchings": SWITCHINGS}
        if told.result is None:
            return page | {"why": f"Not stated yet: {', '.join(told.missing)}."}
        switching = asked.get("switching", "off")
        clamps = clamps_of(build.around.channel(found), told.result)
        remedies = [r for f in told.findings for r in f.remedies if r.edits]
        laid = laid_over(build, channel, asked.getlist("clamp"), switching, asked.get("remedy", ""))
        page |= {
            "switching": switching,
            "clamps": [(key, words) for key, words in CLAMPS if key in clamps],
            "chosen": asked.getlist("clamp"),
            "remedies": list(enumerate(r.label for r in remedies)),
            "remedy": asked.get("remedy", ""),
            "why": laid.why,
            "wrong": laid.wrong,
            "typed": {"one": asked.get("one", ""), "two": asked.get("two", "")},
        }
        if not laid.waves:
            return page
        cursors, page["wrong"] = cursors_of(asked.get("one", ""), asked.get("two", ""), laid.wrong)
        title = f"Waveforms of {found.name}, {dict(SWITCHINGS)[switching]}"
        return page | {
            "notes": dict.fromkeys(note for wave in laid.waves for note in wave.notes),
            "picture": scope(laid.waves, cursors, title),
            "readouts": readouts(laid.waves, cursors),
            "query": asked.urlencode(),
        }

    def _csv(self, request: HttpRequest, pk: int, channel: str) -> HttpResponse:
        build = get_object_or_404(Build.with_head(), pk=pk)
        told = build.report.channel(channel)
        if told is None or told.result is None:
            raise Http404
        asked = request.GET
        switching = asked.get("switching", "off")
        laid = laid_over(build, channel, asked.getlist("clamp"), switching, asked.get("remedy", ""))
        if not laid.waves:
            raise Http404(laid.why)
        text = waves_table(laid.waves).as_csv()
        return attached(text, "text/csv; charset=utf-8", f"waves-{channel}-{switching}.csv")


def laid_over(build: Build, channel: str, clamps: list[str], switching: str, remedy: str) -> Laid:
    """The curves as they stand, or with each clamp that is named; with a remedy laid over them."""
    told, context = (
        build.report.channel(channel),
        build.around.channel(build.document.channel(channel)),
    )
    known = clamps_of(context, told.result)
    if switching not in dict(SWITCHINGS):
        return Laid((), why=f"“{switching[:20]}” is no way of switching.")
    wrong = next((f"“{c[:30]}” is no clamp for this load." for c in clamps if c not in known), "")
    chosen = [known[c] for c in dict.fromkeys(clamps) if c in known][:MOST_LAID] or [None]
    found: list[Waves] = []
    why = ""
    for clamp in chosen:
        try:
            found.append(waves_of(context, told.result, switching, clamp))
        except NotModelled as error:
            why = f"Not drawn: {error}."
    if len(found) > 1:
        # On one axis, as long as the slowest of them.
        last = max(float(wave.times[-1]) for wave in found)
        same = [c for c in chosen if c is not None]
        if switching != "pulsed" and len(same) == len(found):
            found = [waves_of(context, told.result, switching, c, last) for c in same]
    number = whole(remedy, 0, 200)
    remedies = [r for f in told.findings for r in f.remedies if r.edits]
    if number is not None and number < len(remedies) and found:
        after, words = mended(build, channel, remedies[number], switching)
        if after is None:
            wrong = wrong or words
        else:
            before = replace(found[0], clamp=f"before: {found[0].clamp}")
            found = [before, after]
    return Laid(tuple(found), wrong, "" if found else why)


def mended(build: Build, channel: str, remedy, switching: str) -> tuple[Waves | None, str]:
    """The curves once a remedy is applied, or why there are none."""
    document = build.document
    try:
        document, _ = apply(document, remedy.edit_name, remedy.edit_args)
        report = evaluate(document, build.around.catalogue)
        told, around = report.channel(channel), BuildContext(document, build.around.catalogue)
        if told is None or told.result is None:
            return None, f"With “{remedy.label}” the channel is not worked out."
        context = around.channel(document.channel(channel))
        after = waves_of(context, told.result, switching)
    except (EditError, NotModelled) as error:
        return None, f"With “{remedy.label}”: {error}."
    return replace(after, clamp=f"after “{remedy.label}”: {after.clamp}"), ""


def cursors_of(one: str, two: str, wrong: str) -> tuple[list[float], str]:
    """Times of the cursors [s], and what is wrong with what was typed."""
    found = []
    for typed in (one.strip(), two.strip()):
        if not typed:
            continue
        try:
            found.append(parse(typed, "s", allow_zero=True))
        except QuantityError as error:
            wrong = wrong or str(error)
    return found, wrong


def readouts(waves: tuple[Waves, ...], cursors: list[float]) -> list[tuple[str, list[str]]]:
    """What each curve shows at the cursors, and the difference between two of them."""
    rows = []
    for wave in waves if cursors else ():
        for trace in wave.traces:
            at = [wave.at(trace.key, time) for time in cursors]
            cells = [show(v, trace.unit) if v else f"0 {trace.unit}" for v in at]
            if len(at) == 2:
                gap = at[1] - at[0]
                cells.append(show(gap, trace.unit) if gap else f"0 {trace.unit}")
            rows.append((f"{trace.title}, {wave.clamp}", cells))
    return rows
