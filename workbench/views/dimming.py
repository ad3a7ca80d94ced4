"""Phase control of one channel: the curve, the window, the table for the program."""

from __future__ import annotations

import math

from drawings.dimming import dimming_curve
from latchcore.findings.solid import undimmable
from latchcore.pieces.firing import zero_detector
from latchcore.sums import phase
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage
from workbench.views.stations import gone

QUANTITIES = (
    ("light", "equal steps of light, as a filament gives it"),
    ("power", "equal steps of power"),
)


class Dimming(BuildPage):
    """What delays do to one load, and which of them hold at every corner of the line."""

    page = Page("channels/<slug:channel>/dimming/", "dimming", "stages", "build/dimming.html")

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The curve and the table, or why this load is not dimmed this way."""
        found, report = build.document.channel(channel), build.report.channel(channel)
        if found is None:
            return gone(build, channel)
        page = {
            "channel": found,
            "cr": report,
            "selected": report,
            "why": self._refused(build, found, report),
            "window": None,
            "quantities": QUANTITIES,
        }
        result = report.result
        if page["why"] or result is None:
            return page
        around = build.around
        window, frequency = result.output.window, around.frequency
        detector = zero_detector(around, found.rail)
        correction = detector.found.adds if detector else 0.0
        quantity = self.request.GET.get("of", "light")
        quantity = quantity if quantity in ("light", "power") else "light"
        volts = around.rail_volts(build.document.rail(found.rail)).typ
        rows = []
        for share, delay, left, held in phase.table(frequency, window, quantity, correction):
            if math.isnan(delay):
                rows.append((share, None, 0.0, 0.0, held))
                continue
            angle = (delay - correction) / phase.half(frequency) * math.pi
            rows.append((share, round(delay * 1e6), phase.rms_ratio(angle) * volts, left, held))
        return page | {
            "inductive": around.channel(found).load.kind.inductive,
            "window": window,
            "frequency": frequency,
            "detector": detector,
            "correction": correction,
            "quantity": quantity,
            "rows": rows,
            "pulse": result.output.gate_pulse,
            "error": result.output.detector_error,
            "picture": dimming_curve(frequency, window, 60.0 if frequency == 50.0 else 50.0),
            "corners": phase.CORNERS.get(frequency, (frequency, frequency)),
        }

    @staticmethod
    def _refused(build: Build, channel, report) -> str | None:
        if report.result is None:
            return f"Not stated yet: {', '.join(report.missing)}."
        context = build.around.channel(channel)
        if (why := undimmable(context)) is not None:
            return f"{context.load.kind.title} must not be dimmed: {why}."
        if report.result.output.control != "phase" or report.result.output.window is None:
            return (
                "This stage does not cut phases. A triac fired by a coupler does, set to fire after"
                " a delay."
            )
        return None
