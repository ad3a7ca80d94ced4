"""One channel: the drawing with live values, the margins beside it, the working below."""

from __future__ import annotations

from django.urls import reverse

from drawings.schematic import is_wide, schematic
from drawings.servo_dial import servo_dial
from drawings.timeline import timeline_picture
from latchcore.advice.modules import ways
from latchcore.advice.reach import kinds, may_stand_in_series, reach
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import lines_of
from latchcore.design.report import ChannelReport
from latchcore.document.models import HAZARDS, Channel
from latchcore.findings.routing import sequence
from latchcore.pieces.contact_life import years_wanted
from latchcore.stages import STAGES
from latchcore.whole.contact_commands import commands
from latchcore.whole.timeline import row
from workbench.actions.calibrating import measured_of
from workbench.drawer import catalogue
from workbench.fitted import fitted
from workbench.models import Build
from workbench.stations import Page
from workbench.views.bridge import bridge_states
from workbench.views.pages import BuildPage, Refused
from workbench.views.states import times

#: Edits whose fields stand on the load sheet.
LOAD_SHEET = {"set_load", "set_switching", "set_use", "rename_channel"}


def gone(build: Build, channel: str) -> dict:
    """What is said of a channel that is not in the build."""
    return {"gone": channel, "removal": build.revisions.filter(action="remove_channel").first()}


def pin_choices(around: BuildContext) -> list[tuple[str, str]]:
    """Pins of a build's board as (id, words), each with its place and who has it."""
    users = {pin: c.name for c in around.build.channels for pin in c.pins}
    pins = around.deck.pins if around.deck else ()
    return [(p.id, f"{p.id} ({p.header}{_remark(p, users)})") for p in pins]


def _remark(pin, users: dict[str, str]) -> str:
    holder = (
        users.get(pin.id) or pin.owner or ("" if {"out", "sink"} & set(pin.can) else "input only")
    )
    return f", {holder}" if holder else ""


class ChannelPage(BuildPage):
    """A channel's own page."""

    page = Page("channels/<slug:channel>/", "channel", "stages", "build/channel.html")

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The channel with its neighbours, or word that it is gone."""
        doc, around = build.document, build.around
        ids = [c.id for c in doc.channels]
        if channel not in ids:
            return gone(build, channel)
        index = ids.index(channel)
        report, shown = build.report.channel(channel), doc.channels[index]
        context = around.channel(shown)
        return {
            "measured": measured_of(build, channel),
            "strip": _strip(context, report),
            "channel": shown,
            "cr": report,
            "selected": report,
            "previous": ids[index - 1] if index else None,
            "next": ids[index + 1] if index + 1 < len(ids) else None,
            "context": context,
            "pin_choices": pin_choices(around),
            "fitted": fitted(BuildContext(doc, catalogue()), shown, report.result),
            "drawing": schematic(report.result, around, shown) if report.result else None,
            "wide": report.result is not None and is_wide(report.result),
            "dims": _may_cut_phases(shown),
            "hazard_list": HAZARDS,
            "sheet_open": report.result is None or _refused_here(kwargs.get("refused")),
            "ways": ways(context) if report.result and report.result.module.part else [],
            **_contact(build, context, report),
            "dial": servo_dial(report.result) if report.result else "",
            "bridge": bridge_states(report.result),
            "further": [
                {"key": f"{shown.id}.{role}", "line": line, "label": f"Pin, {role}"}
                for role, line in lines_of(context)[1:]
            ],
            "region": around.catalogue.regions[doc.region],
            "limits": around.catalogue.limits,
        }

    def after(self, build: Build, name: str, args: dict, kwargs: dict) -> str | None:
        """A removed channel has no page; a copy has its own."""
        if build.document.channel(kwargs["channel"]) is None and name == "remove_channel":
            return reverse("lineup", args=[build.pk])
        return None


def _refused_here(refused: Refused | None) -> bool:
    """Whether a field of the load sheet was refused, which then stands open."""
    return refused is not None and refused.edit in LOAD_SHEET


def _may_cut_phases(channel: Channel) -> bool:
    """Whether its kind of stage can be set to fire after a delay."""
    settings = STAGES[channel.stage.kind].settings
    return any(key == "phase" for s in settings for key, _ in s.choices)


def _strip(context: ChannelContext, report: ChannelReport) -> str:
    """The moments of the board over one channel; none of a stage that only senses."""
    result, board = report.result, context.around.board
    if result is None or board is None or result.drive.senses:
        return ""
    return timeline_picture([row(context, result, report.letter)], times(board), True)


def _contact(build: Build, context: ChannelContext, report: ChannelReport) -> dict:
    """What else the contact might switch, reed against armature, and a switch in series."""
    result = report.result
    if result is None or result.contact.which is None:
        return {}
    relay = result.contact.relay
    return {
        "commands": commands(result),
        "reaches": reach(context, relay, result.contact.inverts) if relay else (),
        "kinds": (
            kinds(context, relay, result.running) if relay and relay.family == "relay" else ()
        ),
        "years_wanted": years_wanted(context),
        "relief": _relief(build, context.channel, report),
    }


def _relief(build: Build, channel: Channel, report: ChannelReport) -> dict:
    """
    Which solid-state channels could stand in series with a contact, and the sequence with the one
    that does.
    """
    others = may_stand_in_series(build.document, channel)
    series = (
        build.report.channel(channel.series_switch) if report.result.contact.series_switch else None
    )
    steps = sequence(report.result, series.result) if series and series.result else []
    return {"others": [(c.id, c.name) for c in others], "steps": steps, "series": series}
