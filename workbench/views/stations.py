"""One page a station."""

from __future__ import annotations

from drawings.histogram import histogram
from latchcore.advice.advisor import NEEDS, WEIGHTS, advise
from latchcore.advice.spreading import spread_out
from latchcore.advice.stepin import judge
from latchcore.advice.unplanned import UNPLANNED
from latchcore.findings.routing import opens_within, sequence
from latchcore.stages import STAGES
from latchcore.whole.standardise import common_resistors
from workbench.drawer import catalogue
from workbench.models import Build, StockPart
from workbench.shopping import shopping_list
from workbench.stations import Page, some
from workbench.views.channel import gone
from workbench.views.first_form import first_form
from workbench.views.pages import BuildPage
from workbench.views.revisions import page_of_revisions

KNOWN = (("yes", "yes"), ("no", "no"), ("unknown", "not known"))
SUPPLIES = (
    ("isolated_low", "identified, isolated, low voltage"),
    ("mains", "joined with mains"),
    ("unknown", "not known"),
)


class LineUp(BuildPage):
    """The home of a build: one lane a channel."""

    page = Page("", "lineup", "lineup", "build/lineup.html")

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes with their documents."""
        lanes = list(zip(build.document.channels, build.report.channels, strict=True))
        empty = not lanes and not build.document.rails
        form = first_form(catalogue(), into=str(build.pk)) if empty else None
        return {"lanes": lanes, "first_form": form}


class Loads(LineUp):
    """What is switched."""

    page = Page("loads/", "loads", "loads", "build/loads.html", "1", "Loads", touched=some)

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
        refused = kwargs.get("refused")
        ticked = refused.args.get("channels", "").split(",") if refused else []
        return super().content(build) | {
            "own": own,
            "lines": lines,
            "free": free,
            "ticked": ticked,
            "unplanned": UNPLANNED,
            "stages": [(kind, stage.title) for kind, stage in STAGES.items()],
        }

    @staticmethod
    def _between(route, results) -> list:
        """The steps from one source of a line to the next, by the slowest of its contacts."""
        members = [results[m] for m in route.members if m in results]
        slowest = max(members, key=opens_within, default=None)
        return sequence(slowest, None) if slowest is not None else []


class StepIn(BuildPage):
    """Where to step into a machine that already exists."""

    page = Page("step-in/", "step-in", "loads", "build/step_in.html")

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

    page = Page(
        "at-hand/",
        "at-hand",
        "at-hand",
        "build/at_hand.html",
        "2",
        "At hand",
        touched=lambda build: build.document.board is not None,
        unanswered=lambda build: int(some(build) and build.document.board is None),
    )


class Stages(LineUp):
    """What drives each channel, and the way to its comparison."""

    page = Page("stages/", "stages", "stages", "build/stages.html", "3", "Stages", touched=some)

    def content(self, build: Build, **kwargs) -> dict:
        """The line-up, and whether two of its motors could move one thing."""
        loads = catalogue().loads
        both = [c for c in build.document.channels if loads[c.load.kind].model == "reversing"]
        return {**super().content(build, **kwargs), "two_ways": len(both) > 1}


class Advisor(BuildPage):
    """Every stage worked out for one load, ranked with its reasons; up to three side by side."""

    page = Page("channels/<slug:channel>/advisor/", "advisor", "stages", "build/advisor.html")

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
        ]
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

    page = Page("channels/<slug:channel>/spread/", "spread", "sizes", "build/spread.html")

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
        context = build.around.channel(found)
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

    page = Page("sizes/", "sizes", "sizes", "build/sizes.html", "4", "Sizes", touched=some)

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes and the parts they add up to."""
        common = common_resistors(build.report, catalogue().stock)
        return super().content(build) | {
            "shopping": shopping_list(build.report, build.document),
            "common": common,
        }


class Keeping(BuildPage):
    """Revisions and the build file."""

    page = Page(
        "keeping/",
        "keeping",
        "keeping",
        "build/keeping.html",
        "0",
        "Keeping",
        touched=lambda build: build.head.number > 1,
    )

    def content(self, build: Build, **kwargs) -> dict:
        """A page of the revisions."""
        return {"listing": page_of_revisions(self.request, build)}
