"""What turns a rail on carries all of it, in current, making, fuse and life."""

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.evaluate import evaluate
from tests.core.benches import bench, edited, findings

LAMP = {"kind": "filament_lamp", "voltage": "12 V", "figure": "5 W", "stage": "nmos_low_side"}


def ahead(stage="relay_contact", lamps=3, told=True, **settings):
    """A contact between the supply and a rail of lamps; its own load is next to nothing."""
    build = edited(
        bench("heater", "12 V", "10 mA", stage=stage, settings=settings or None),
        ("add_rail", {"voltage": "12 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1"}),
        ("add_channel", {**LAMP, "rail": "rail3", "many": str(lamps)}),
    )
    return edited(build, ("set_rail", {"rail": "rail3", "switched_by": "ch2"})) if told else build


def test_the_contact_runs_at_what_all_of_the_rail_takes_and_makes_its_largest_surge():
    free, told = (evaluate(ahead(told=t)) for t in (False, True))
    assert free.channels[0].result.running < 0.02
    result, rail = told.channels[0].result, told.rails[1]
    assert result.running == pytest.approx(rail.all_on, rel=0.06)
    assert result.surge == pytest.approx(rail.worst, rel=0.06) and result.surge > 2 * rail.all_on


def test_a_contact_that_bears_its_own_load_is_stopped_ahead_of_a_rail_it_does_not_bear():
    small = min(
        (p for p in load_catalogue().parts.values() if p.family == "relay" and p.coil == 12),
        key=lambda p: p.contact_amperes,
    )
    for lamps, told in ((1, True), (30, False)):
        assert not {"K1", "K2"} & findings(ahead(lamps=lamps, told=told, relay=small.id)).keys()
    assert {"K1", "K2"} & findings(ahead(lamps=30, relay=small.id)).keys()


def test_a_rail_is_counted_once_above_the_channel_that_turns_it_on():
    told, free = evaluate(ahead()), evaluate(ahead(told=False))
    # The rail above carries what the contact carries; without it the rail below hangs there itself.
    assert told.rails[0].all_on == pytest.approx(free.rails[0].all_on, rel=0.1)


def test_what_is_stated_stands_where_it_is_more_than_the_rail_takes():
    build = edited(ahead(), ("set_load", {"channel": "ch2", "figure": "9 A"}))
    assert evaluate(build).channels[0].result.running > 9


def test_a_circle_of_rails_and_switches_is_worked_out_all_the_same():
    build = edited(
        ahead(),
        ("set_channel_rail", {"channel": "ch2", "rail": "rail3"}),
    )
    assert not [f for f in evaluate(build).all_findings if f.check == "E1"]


def test_the_surge_is_that_of_the_load_with_the_largest_step_not_of_any():
    build = edited(
        ahead(lamps=1),
        ("add_channel", {**LAMP, "figure": "30 W", "rail": "rail3", "name": "Flood"}),
        ("add_channel", {**LAMP, "kind": "heater", "rail": "rail3", "name": "Mat"}),
    )
    report = evaluate(build)
    flood = next(c.result for c in report.channels if c.name == "Flood")
    step = report.channels[0].result.surge - report.channels[0].result.running
    assert step == pytest.approx(flood.surge - flood.running, rel=0.1)
