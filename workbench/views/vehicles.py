"""Vehicles on two motors: what both get for a stick, and what stops them."""

from __future__ import annotations

from drawings.mix_plan import mix_plan
from latchcore.document.vehicles import MOTOR_DEAD, Vehicle
from latchcore.figures.quantity import parse
from latchcore.sums.mixing import mix
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage

#: Stick positions (speed, turn) that are told with their drives.
STICKS = ((1.0, 0.0), (0.5, 0.0), (0.5, 0.25), (1.0, 0.5), (0.0, 1.0), (-0.5, 0.25), (0.1, 0.0))


class Vehicles(BuildPage):
    """Every vehicle with its mixing."""

    page = Page("vehicles/", "vehicles", "sizes", "build/vehicles.html")

    def content(self, build: Build, **kwargs) -> dict:
        """Vehicles with their table and curve; motors that turn both ways, for new ones."""
        doc, loads = build.document, catalogue().loads
        names = {c.id: f"{c.letter} {c.name}" for c in build.report.channels}
        taken = {key for v in doc.vehicles for key in (v.left, v.right)}
        motors = [
            (c.id, names[c.id]) for c in doc.channels if loads[c.load.kind].model == "reversing"
        ]
        return {
            "vehicles": [
                (v, names.get(v.left), names.get(v.right), *_mixed(v)) for v in doc.vehicles
            ],
            "motors": motors,
            "free": [pair for pair in motors if pair[0] not in taken],
        }


def _share(text: str | None, usual: float) -> float:
    return parse(text, "%") / 100 if text else usual


def _mixed(vehicle: Vehicle) -> tuple[str, list[tuple[str, ...]]]:
    """The curve, and rows of stick and drives in per cent."""
    dead = _share(vehicle.stick_dead, 0.0)
    motor, most = _share(vehicle.motor_dead, MOTOR_DEAD), _share(vehicle.most, 1.0)
    rows = []
    for speed, turn in STICKS:
        drives = (side * most for side in mix(speed, turn, dead, motor))
        rows.append(tuple(f"{x * 100:.0f} %" for x in (speed, turn, *drives)))
    return mix_plan(vehicle.name, dead, motor, most), rows
