"""One page a station."""

from __future__ import annotations

from django.urls import reverse

from drawings.build_plan import build_plan
from drawings.histogram import histogram
from drawings.schematic import schematic
from drawings.timeline import timeline_picture
from latchcore.advice.advisor import NEEDS, WEIGHTS, advise
from latchcore.advice.modules import ways
from latchcore.advice.reach import kinds, reach
from latchcore.advice.spreading import spread_out
from latchcore.advice.stepin import judge
from latchcore.design.context import BuildContext
from latchcore.document.models import HAZARDS
from latchcore.document.models import Build as Document
from latchcore.edits.kept import kept_catalogue
from latchcore.findings.fuse_print import as_stated
from latchcore.findings.routing import opens_within, sequence
from latchcore.stages import STAGES
from latchcore.whole.standardise import common_resistors
from latchcore.whole.timeline import row
from latchcore.whole.wire_list import wire_list
from workbench.actions import history
from workbench.drawer import catalogue
from workbench.models import Build, StockPart
from workbench.shopping import shopping_list
from workbench.views.pages import BuildPage
from workbench.views.revisions import page_of_revisions
from workbench.views.states import times

KNOWN = (("yes", "yes"), ("no", "no"), ("unknown", "not known"))
SUPPLIES = (
    ("isolated_low", "identified, isolated, low voltage"),
    ("mains", "joined with mains"),
    ("unknown", "not known"),
)


def gone(build: Build, channel: str) -> dict:
    """What is said of a channel that is not in the build."""
    return {"gone": channel, "removal": build.revisions.filter(action="remove_channel").first()}


class LineUp(BuildPage):
    """The home of a build: one lane a channel."""

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes with their documents."""
        return {"lanes": list(zip(build.document.channels, build.report.channels, strict=True))}


class Loads(LineUp):
    """What is switched."""

    station, template = "loads", "build/loads.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes, with own loads and relays from the drawer to add."""
        own = StockPart.objects.filter(family__in=("load", "relay"))[:40]
        names = {r.id: f"{r.letter} {r.name}" for r in build.report.channels}
        results = {r.id: r.result for r in build.report.channels if r.result is not None}
        lines = [
            (route, [(m, names[m]) for m in route.members], self._between(route, results))
            for route in build.document.routes
        ]
        taken = {m for route in build.document.routes for m in route.members}
        free = [(c, names[c]) for c in names if c not in taken]
        return super().content(build) | {"own": own, "lines": lines, "free": free}

    @staticmethod
    def _between(route, results) -> list:
        """The steps from one source of a line to the next, by the slowest of its contacts."""
        members = [results[m] for m in route.members if m in results]
        slowest = max(members, key=opens_within, default=None)
        return sequence(slowest, None) if slowest is not None else []


class StepIn(BuildPage):
    """Where to step into a machine that already exists."""

    station, template = "loads", "build/step_in.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Machines with their ways judged."""
        return {
            "machines": [(m, judge(m)) for m in build.document.machines],
            "known": KNOWN,
            "supplies": SUPPLIES,
            "yes_no": KNOWN[:2],
        }


class AtHand(BuildPage):
    """Board and conditions."""

    station, template = "at-hand", "build/at_hand.html"


class Stages(LineUp):
    """What drives each channel, and the way to its comparison."""

    station, template = "stages", "build/stages.html"


class Advisor(BuildPage):
    """Every stage worked out for one load, ranked with its reasons; up to three side by side."""

    station, template = "stages", "build/advisor.html"

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """Ranked cards, and which of them are compared."""
        found = build.document.channel(channel)
        if found is None:
            return gone(build, channel)
        cards = advise(build.document, channel, catalogue())
        asked = [
            k
            for k in self.request.GET.getlist("with")
            if any(c.kind == k and c.result for c in cards)
        ][:3]
        usual = [c.kind for c in cards if c.feasible][:2]
        chosen = next((c.kind for c in cards if c.chosen), None)
        shown = asked or list(dict.fromkeys([*usual, *([chosen] if chosen else [])]))[:3]
        return {
            "channel": found,
            "cr": build.report.channel(channel),
            "cards": cards,
            "selected": build.report.channel(channel),
            "side": [c for kind in shown for c in cards if c.kind == kind and c.result],
            "shown": shown,
            "needs": NEEDS,
            "declared": found.needs,
            "weights": WEIGHTS.values(),
        }


class SpreadPage(BuildPage):
    """One quantity of a channel drawn a hundred thousand times."""

    station, template = "sizes", "build/spread.html"

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """
        The quantity asked for, the tightest by default, with its histogram and what drives it.
        """
        found, report = build.document.channel(channel), build.report.channel(channel)
        if found is None:
            return gone(build, channel)
        page = {"channel": found, "cr": report, "selected": report, "picture": None}
        if report.result is None:
            return page
        context = BuildContext(build.document, kept_catalogue(build.document)).channel(found)
        measures = sorted(report.result.measures, key=lambda m: m.headroom)
        asked = report.result.measure(self.request.GET.get("measure", ""))
        candidates = [asked] if asked else measures
        spread = next((s for m in candidates if (s := spread_out(context, report.result, m))), None)
        page |= {
            "measures": measures,
            "measure": spread.measure if spread else asked or measures[0],
            "spread": spread,
        }
        page["picture"] = histogram(spread) if spread else None
        return page


class Sizes(LineUp):
    """Everything that was sized."""

    station, template = "sizes", "build/sizes.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes and the parts they add up to."""
        common = common_resistors(build.report, catalogue().stock)
        return super().content(build) | {
            "shopping": shopping_list(build.report, build.document.rails),
            "common": common,
        }


class Keeping(BuildPage):
    """Revisions and the build file."""

    station, template = "keeping", "build/keeping.html"

    def content(self, build: Build, **kwargs) -> dict:
        """A page of the revisions."""
        return {"listing": page_of_revisions(self.request, build)}


class ChannelPage(BuildPage):
    """One channel: the drawing with live values, the margins beside it, the working below."""

    station, template = "stages", "build/channel.html"

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The channel with its neighbours, or word that it is gone."""
        doc: Document = build.document
        ids = [c.id for c in doc.channels]
        if channel not in ids:
            return gone(build, channel)
        index = ids.index(channel)
        report = build.report.channel(channel)
        context = BuildContext(doc, kept_catalogue(doc)).channel(doc.channels[index])
        driven = (
            report.result is not None
            and not report.result.drive.senses
            and context.around.board is not None
        )
        return {
            "strip": (
                timeline_picture(
                    [row(context, report.result, report.letter)], times(context.board), True
                )
                if driven
                else ""
            ),
            "channel": doc.channels[index],
            "cr": report,
            "selected": report,
            "previous": ids[index - 1] if index else None,
            "next": ids[index + 1] if index + 1 < len(ids) else None,
            "context": context,
            "settings": STAGES[doc.channels[index].stage.kind].settings,
            "drawing": (
                schematic(report.result, doc, doc.channels[index]) if report.result else None
            ),
            "hazard_list": HAZARDS,
            "ways": self._ways(doc, doc.channels[index], report),
            "reaches": self._reaches(doc, doc.channels[index], report),
            "kinds": self._kinds(doc, doc.channels[index], report),
            "relief": self._relief(build, doc.channels[index], report),
            "region": catalogue().regions[doc.region],
            "contact_years": catalogue().limits["contact_years"],
        }

    @staticmethod
    def _reaches(doc: Document, channel, report) -> tuple:
        """What else the contact might switch, for a channel on one."""
        relay = report.result.contact.relay if report.result else None
        return (
            reach(
                BuildContext(doc, kept_catalogue(doc)).channel(channel),
                relay,
                report.result.contact.inverts,
            )
            if relay
            else ()
        )

    @staticmethod
    def _kinds(doc: Document, channel, report) -> tuple:
        """Reed against armature, for a bare relay."""
        relay = report.result.contact.relay if report.result else None
        return (
            kinds(
                BuildContext(doc, kept_catalogue(doc)).channel(channel),
                relay,
                report.result.running,
            )
            if relay and relay.family == "relay"
            else ()
        )

    @staticmethod
    def _relief(build: Build, channel, report) -> dict | None:
        """
        Which solid-state channels could stand in series with a contact, and the sequence with the
        one that does.
        """
        if report.result is None or report.result.contact.which is None:
            return None
        others = [
            c
            for c in build.document.channels
            if c.id != channel.id
            and c.rail == channel.rail
            and STAGES[c.stage.kind].traits.silent
            and not STAGES[c.stage.kind].traits.air_gap
        ]
        series = (
            build.report.channel(channel.series_switch)
            if report.result.contact.series_switch
            else None
        )
        steps = sequence(report.result, series.result) if series and series.result else []
        return {"others": [(c.id, c.name) for c in others], "steps": steps, "series": series}

    @staticmethod
    def _ways(doc: Document, channel, report) -> list:
        """The ways to make a module work, for a channel on one."""
        if channel.stage.kind not in ("relay_module", "solid_module") or report.result is None:
            return []
        return ways(BuildContext(doc, kept_catalogue(doc)).channel(channel))

    def after(self, build: Build, name: str, args: dict, kwargs: dict) -> str | None:
        """A removed channel has no page; a copy has its own."""
        if build.document.channel(kwargs["channel"]) is None and name == "remove_channel":
            return reverse("lineup", args=[build.pk])
        return None


class Sheet(LineUp):
    """The build sheet for the wall over the bench."""

    template = "build/sheet.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Every channel with its drawing."""
        rows = zip(build.document.channels, build.report.channels, strict=True)
        drawn = [
            (c, r, schematic(r.result, build.document, c) if r.result else None) for c, r in rows
        ]
        around = BuildContext(build.document, kept_catalogue(build.document))
        wires = wire_list(around, build.report)
        fuses = {rail.id: as_stated(rail) for rail in build.document.rails}
        return {
            "drawn": drawn,
            "fuses": fuses,
            "redo": history.redo_target(build),
            "plan": build_plan(around, build.report) if wires else "",
            "wires": wires,
        }
