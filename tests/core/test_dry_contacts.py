"""A contact across somebody else's pair: no rail, no fuse, the coil on a rail of its own."""

import pytest

from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from tests.core.benches import RADIO, bench, edited, findings

DRY = ("relay_contact", "bridge_reed")


def across(stage, volts="5 V", figure="2 mA", kind="button_pair", *edits):
    return edited(
        Build(name="pair"),
        ("set_board", {"board": RADIO}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        (
            "add_channel",
            {"kind": kind, "voltage": volts, "figure": figure, "stage": stage, "pin": "P25"},
        ),
        ("set_channel_rail", {"channel": "ch2", "rail": ""}),
        *edits,
    )


@pytest.mark.parametrize("stage", DRY)
@pytest.mark.parametrize("kind", ["button_pair", "remote_line"])
def test_a_pair_wants_no_rail_of_its_own_and_its_contact_no_stop(stage, kind):
    build = across(stage, kind=kind)
    report = evaluate(build)
    assert report.channels[0].result is not None and not findings(build)
    result = report.channels[0].result
    # The coil is what hangs on the rail, and all that does.
    assert result.coil.rail == "rail1" and result.coil.draws > 5e-3
    assert report.rails[0].all_on == pytest.approx(result.coil.draws)
    groups = report.netlist.islands()
    assert not any({"ch2.LINE+", "0V"} <= g or {"ch2.LINE+", "rail1"} <= g for g in groups)


@pytest.mark.parametrize("stage", DRY)
def test_without_any_rail_the_coil_asks_for_one(stage):
    build = edited(across(stage), ("remove_rail", {"rail": "rail1"}))
    assert evaluate(build).channels[0].missing == ["rail"]


def test_the_coils_rail_is_chosen_apart_from_the_pair():
    two = edited(
        across("bridge_reed"),
        ("add_rail", {"voltage": "12 V", "rating": "1 A"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
    )
    result = evaluate(two).channels[0].result
    assert result.coil.rail == "rail3" and result.parts["reed"].coil == 12.0


@pytest.mark.parametrize(("figure", "verdict"), [("4.9 A", None), ("10.5 A", "stop")])
def test_the_print_on_the_contact_holds_for_the_pair(figure, verdict):
    build = across("relay_contact", "24 V", figure, "button_pair")
    build = edited(build, ("set_setting", {"channel": "ch2", "relay": "relay-5v-10a"}))
    assert findings(build).get("K1") == verdict


@pytest.mark.parametrize(("figure", "asked"), [("90 mA", True), ("130 mA", False)])
def test_a_power_contact_wants_current_to_stay_clean(figure, asked):
    build = across("relay_contact", "5.5 V", figure)
    build = edited(build, ("set_setting", {"channel": "ch2", "relay": "relay-5v-10a"}))
    assert ("K4" in findings(build)) is asked
    # Left to itself it takes one whose contact stays clean.
    assert "K4" not in findings(across("relay_contact", "5.5 V", figure))


@pytest.mark.parametrize(("source", "asks"), [("battery", True), ("foreign", False)])
def test_a_supply_of_another_device_needs_no_fuse_of_ours(source, asks):
    build = bench("led_strip", "12 V", "1 A", stage="nmos_low_side", source=source)
    build = edited(build, ("set_rail", {"rail": "rail1", "wire_area": "0.22 mm²"}))
    assert ("S7" in findings(build)) is asks
