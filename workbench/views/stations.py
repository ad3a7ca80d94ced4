"""One page a station."""

from __future__ import annotations

from django.urls import reverse

from drawings.schematic import schematic
from latchcore.catalogue import load_catalogue
from latchcore.advisor import advise
from latchcore.context import BuildContext
from latchcore.document.models import HAZARDS
from latchcore.document.models import Build as Document
from latchcore.stages import STAGES
from workbench.actions import history
from workbench.models import Build
from workbench.views.pages import BuildPage


class LineUp(BuildPage):
    """The home of a build: one lane a channel."""

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes with their documents."""
        return {"lanes": list(zip(build.document.channels, build.report.channels, strict=True))}


class Loads(LineUp):
    """What is switched."""

    station, template = "loads", "build/loads.html"


class AtHand(BuildPage):
    """Board and conditions."""

    station, template = "at-hand", "build/at_hand.html"


class Stages(BuildPage):
    """Every stage that could serve, side by side, a row a channel."""

    station, template = "stages", "build/stages.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Compared stages of every channel."""
        rows = zip(build.document.channels, build.report.channels, strict=True)
        return {"rows": [(c, r, compare(build.document, c.id)) for c, r in rows]}


class Sizes(LineUp):
    """Everything that was sized."""

    station, template = "sizes", "build/sizes.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Lanes and the parts they add up to."""
        counts: dict[tuple[str, str], list[str]] = {}
        for channel in build.report.channels:
            for value in channel.result.values if channel.result else []:
                kind = "Resistor" if value.unit == "Ω" else value.label
                counts.setdefault((kind, value.text), []).append(channel.letter)
        return super().content(build) | {"shopping": sorted((kind, text, users) for (kind, text), users in counts.items())}


class Rails(BuildPage):
    """Supplies and their sums."""

    station, template = "rails", "build/rails.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Rails with their sums."""
        return {"rails": list(zip(build.document.rails, build.report.rails, strict=True))}


class Pins(BuildPage):
    """Pins of the board and who uses them."""

    station, template = "pins", "build/pins.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Every pin with its users."""
        board = BuildContext(build.document, load_catalogue()).board
        names = {c.id: c for c in build.report.channels}
        pins = [(p, [names[i] for i in build.report.pins.get(p.id, [])]) for p in board.pins] if board else []
        return {"board": board, "pins": pins}


class Wiring(BuildPage):
    """The wire list."""

    station, template = "wiring", "build/wiring.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Numbered wires in the words of the drawing."""
        names = {c.id: f"{c.letter}" for c in build.report.channels}
        rails = {r.id: r.name for r in build.document.rails}

        def plain(text: str) -> str:
            head, _, rest = text.partition(".")
            if head == "SUPPLY":
                rail, _, terminal = rest.partition(".")
                return f"{rails.get(rail, rail)} {terminal}"
            if head == "BOARD":
                return "board " + rest.replace(".pin", "").replace("0V.gnd", "0 V")
            return f"{names.get(head, head)}.{rest}" if head in names else rails.get(head, text)

        wires = [(w, plain(w.node), plain(w.start), plain(w.end)) for w in build.report.netlist.wires()]
        return {"wires": wires}


class Keeping(BuildPage):
    """Revisions and the build file."""

    station, template = "keeping", "build/keeping.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Every revision."""
        return {"revisions": build.revisions.only("id", "number", "summary", "created", "parent_id", "action")[:200]}


class ChannelPage(BuildPage):
    """One channel: the drawing with live values, the margins beside it, the working below."""

    station, template = "stages", "build/channel.html"

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The channel with its neighbours, or word that it is gone."""
        doc: Document = build.document
        ids = [c.id for c in doc.channels]
        if channel not in ids:
            removal = next((r for r in build.revisions.filter(action="remove_channel")[:50]), None)
            return {"gone": channel, "removal": removal}
        index = ids.index(channel)
        report = build.report.channel(channel)
        return {
            "channel": doc.channels[index], "cr": report, "selected": report,
            "previous": ids[index - 1] if index else None,
            "next": ids[index + 1] if index + 1 < len(ids) else None,
            "context": BuildContext(doc, load_catalogue()).channel(doc.channels[index]),
            "settings": STAGES[doc.channels[index].stage.kind].settings,
            "drawing": schematic(report.result, doc, doc.channels[index]) if report.result else None,
            "cards": compare(doc, channel), "hazard_list": HAZARDS,
        }  # fmt: skip

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
        drawn = [(c, r, schematic(r.result, build.document, c) if r.result else None) for c, r in rows]
        return {"drawn": drawn, "redo": history.redo_target(build)}
