"""What of a stage is asked, and what a contact makes of a command."""

import pytest

from latchcore.advice.reach import may_stand_in_series
from latchcore.catalogue import load_catalogue
from latchcore.evaluate import evaluate
from latchcore.whole.asked_settings import asked_settings
from latchcore.whole.contact_commands import commands
from tests.core.benches import bench, edited, result

MAINS = dict(kind="heater", voltage="230 V", figure="500 W", rail="230 V", source="mains")


def asked(build) -> set[str]:
    channel = build.channels[0]
    return {s.key for s in asked_settings(channel, result(build), load_catalogue())}


def test_a_clamp_is_asked_of_a_coil_and_of_no_lamp():
    assert "clamp" in asked(bench())
    assert not {k for k in asked(bench("filament_lamp", figure="5 W")) if k.startswith("clamp")}


@pytest.mark.parametrize("stage", ["relay_contact", "contactor"])
def test_a_stage_with_a_coil_of_its_own_is_asked_for_its_clamp_whatever_it_switches(stage):
    build = edited(bench(**MAINS, stage=stage), ("add_rail", {"voltage": "12 V", "rating": "2 A"}))
    assert "clamp" in asked(build)


def test_what_one_kind_of_clamp_needs_is_asked_of_that_kind_only():
    assert "clamp_zener" in asked(bench(settings={"clamp": "zener_across_switch"}))
    assert "clamp_zener" not in asked(bench(settings={"clamp": "diode"}))


def test_a_figure_of_a_snubber_is_asked_where_one_is_fitted():
    motor = dict(kind="induction_motor", voltage="230 V", figure="0.5 A", rail="230 V")
    without, fitted = (
        asked(bench(**motor, source="mains", stage="triac_coupler", settings={"quench": quench}))
        for quench in ("none", "snubber")
    )
    assert fitted - without == {"snubber_resistor", "snubber_capacitor", "snubber_class"}


def on_relay(contact: str, **settings):
    build = bench(**MAINS, stage="relay_contact", settings={"contact": contact, **settings})
    build = edited(build, ("add_rail", {"voltage": "12 V", "rating": "2 A"}))
    return evaluate(build).channels[0].result


@pytest.mark.parametrize(
    "contact, loads", [("NO", ["on", "off", "off"]), ("NC", ["off", "on", "on"])]
)
def test_a_closed_contact_turns_every_command_round(contact, loads):
    found = on_relay(contact)
    assert [c.load for c in commands(found)] == loads
    assert [c.pin for c in commands(found)] == ["high", "low", ""]
    assert dict((s.key, does) for s, does in found.loads)["commanded_on"] == loads[0]
    assert (", if its rail lives" in commands(found)[2].remark) == (contact == "NC")


def test_a_silent_channel_on_the_same_rail_may_break_before_a_contact_and_no_relay_may():
    build = bench("heater", figure="1 A", stage="relay_contact")
    for stage in ("nmos_low_side", "relay_contact"):
        build = edited(
            build,
            (
                "add_channel",
                dict(kind="heater", voltage="12 V", figure="1 A", stage=stage, rail="rail1"),
            ),
        )
    assert [c.stage.kind for c in may_stand_in_series(build, build.channels[0])] == [
        "nmos_low_side"
    ]


def test_a_jumper_is_asked_about_on_modules_that_have_one():
    def on(module: str) -> set[str]:
        build = bench("heater", "12 V", "1 A", stage="relay_module", settings={"module": module})
        return asked(build)

    parts = [p for p in load_catalogue().parts.values() if p.family == "module"]
    modules = [p for p in parts if p.output == "contact"]
    for part in modules:
        assert ("level" in on(part.id)) == (part.active == "jumper")
    assert {p.active == "jumper" for p in modules} == {True, False}
