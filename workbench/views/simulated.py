"""The simulated bench: controller, supplies and meter in the page, loads that light, probes."""

from __future__ import annotations

import json
from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect

from drawings.schematic import schematic
from latchcore.behaviour.named import Sense
from latchcore.bench.circuit import NotModelled
from latchcore.bench.hidden import Hidden, hidden_faults, named
from latchcore.bench.rig import Rig
from latchcore.edits import EditError
from latchcore.figures.quantity import show
from latchcore.procedure.finding import search_of
from latchcore.procedure.practice import Taken, all_read, follow, reader_of
from workbench.actions import simulating
from workbench.actions.simulating import Standing
from workbench.models import Build
from workbench.stations import Page
from workbench.views.first_power import tips
from workbench.views.pages import BuildPage

#: How long the board's time goes on at one press.
WAITS = ("1 s", "10 s", "1 min")
#: Steps of brightness a load is drawn in.
STEPS = 4
MODES = (
    (simulating.VOLTS, "direct volts"),
    (simulating.OHMS, "ohms, supplies off"),
    (simulating.AMPS, "amperes, in a supply's lead"),
)


@dataclass(frozen=True)
class Hand:
    """One input under a hand: what the program reads, what it is given, what was refused."""

    sense: Sense
    reads: str
    fed: object
    refused: str | None

    @property
    def text(self) -> str:
        """What stands in its field."""
        if self.refused is not None:
            return self.refused
        return "none" if self.fed is None else f"{self.fed:g}"


class SimulatedPage(BuildPage):
    """A bench that stands in for the real one."""

    page = Page("bench/", "bench", "first-power", "build/bench.html")

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Do one thing at the bench; an edit of the build goes the way of all edits."""
        if "do" not in request.POST:
            return super().post(request, pk, **kwargs)
        build, args = self.build(pk), request.POST.dict()
        try:
            simulating.do(build, args["do"], args)
        except EditError as error:
            refused = {"wrong": str(error), "about": error.field, "typed": args}
            return self.show(request, build, status=422, **refused, **kwargs)
        if request.htmx:
            return self.show(request, build, **kwargs)
        return HttpResponseRedirect(request.path)

    def content(self, build: Build, **kwargs) -> dict:
        """What stands on the bench, the drawing laid out, what a search has come to."""
        standing = simulating.standing_of(build)
        rig = simulating.rig_of(build, standing)
        if not rig.told:
            return {"nothing": True}
        if standing.channel not in rig.told:
            standing.channel = next(iter(rig.told))
        points, lit = rig.points, rig.lit()
        controller = simulating.controller_of(standing, rig)
        board = controller.board
        loads = [
            (key, told, rig.states[key], rig.commands[key], lit[key], round(lit[key].share * STEPS),
             rig.not_modelled.get(key, ""))
            for key, told in rig.told.items()
        ]  # fmt: skip
        channel = build.document.channel(standing.channel)
        told = rig.told[standing.channel]
        marks = tips((points.get(standing.red, ""), points.get(standing.black, "")))
        marks |= {p.ref: {"data_lit": lit[standing.channel].word}
                  for p in told.result.netlist.parts if p.kind == "load"}  # fmt: skip
        picture = schematic(told.result, build.around, channel, marks)
        if standing.mode != simulating.AMPS and standing.red and standing.red not in points:
            standing.red = ""
        return {
            "standing": standing,
            "rig": rig,
            "loads": loads,
            "shown_load": lit[standing.channel],
            "points": list(points),
            "point_of": json.dumps({node: name for name, node in points.items()}),
            "modes": MODES,
            "picture": picture,
            "told": told,
            "selected": build.report.channel(standing.channel),
            "supplies": self._supplies(rig, standing, kwargs.get("typed") or {}),
            "board": board,
            "time": f"{controller.kept.time:.3f}",
            "hands": [
                Hand(sense, board.reading(value), board.fed(sense.key), self._typed(sense, kwargs))
                for sense, value in board.reads()
            ],
            "waits": WAITS,
            "faults": hidden_faults(build.around, build.report) if standing.practising else [],
            **self._after(build, standing),
        }

    @staticmethod
    def _typed(sense: Sense, kwargs: dict) -> str | None:
        """What was typed for an input and refused."""
        return kwargs["typed"].get("reads") if kwargs.get("about") == sense.key else None

    @staticmethod
    def _supplies(rig: Rig, standing: Standing, typed: dict[str, str]) -> list:
        """Each rail, what it gives as its display has it, and its limit as it is or was typed."""
        found = []
        for rail in rig.rails:
            gives = rig.meter.said(rig.amps(rail.id) if rig.powered else 0.0, "A")
            set_to = rig.limits.get(rail.id)
            limit = show(set_to, "A") if set_to else ""
            found.append((rail, gives, typed["limit"] if typed.get("rail") == rail.id else limit))
        return found

    @staticmethod
    def _after(build: Build, standing: Standing) -> dict:
        """Once it is over: what it was, and which readings would have told most."""
        if not standing.over:
            return {}
        fault = named(build.around, build.report, standing.fault)
        if fault is None:
            return {"was": "no longer part of this build", "path": []}
        path = best_path(build, standing, fault)
        effort = sum(1 if t.id.startswith("load-") else 2 for t in path)
        guess = named(build.around, build.report, standing.guess)
        return {"was": fault.words, "path": path, "path_effort": effort,
                "guessed": guess.words if guess is not None else ""}  # fmt: skip


def best_path(build: Build, standing: Standing, fault: Hidden) -> list[Taken]:
    """The readings the search would have proposed, one after the other, and what they showed."""
    told = build.report.channel(fault.of)
    channel = build.document.channel(fault.of)
    if told is None or told.result is None or channel is None:
        return []
    try:
        search = search_of(build.around.channel(channel), told.result)
    except NotModelled:
        return []
    rig = Rig(build.around, build.report, fault, standing.seed)
    return follow(search, all_read(search, reader_of(rig, fault.of)))
