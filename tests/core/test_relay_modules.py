"""Relay modules and what a contact leaves, on small benches."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.bench.module_test import STEPS, SimulatedModule, judge
from latchcore.formats.partsrecord import build_record, typed
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, result
from tests.core.test_relays import (
    CATALOGUE,
    MODULES,
    _unknown_module,
    contact,
    found,
    on_module,
    table,
    way,
)


@pytest.mark.parametrize("module", MODULES, ids=lambda m: m.id)
def test_the_guided_test_finds_every_simulated_module_out(module):
    bench_ = SimulatedModule(module)
    verdict = judge({step: bench_.answer(step) for step, *_ in STEPS})
    assert verdict.active == module.active and not verdict.open
    record = build_record(
        "module", "own", "found", typed("module", verdict.figures), "module-5v-low-plain", CATALOGUE
    )
    kept = type(module).model_validate(record)
    assert kept.coil == module.coil and kept.separate == module.separate
    assert kept.input_resistor.typ == pytest.approx(module.input_resistor.typ, rel=0.15)
    assert (kept.indicator is None) == (module.indicator is None)


@pytest.mark.parametrize(
    "low, high, active",
    [
        ("clicks", "clicks", "unknown"),
        ("nothing", "nothing", "unknown"),
        (None, "clicks", "unknown"),
        ("nothing", "clicks", "high"),
    ],
)
def test_what_the_wire_cannot_tell_is_left_open(low, high, active):
    verdict = judge({k: v for k, v in (("low", low), ("high", high)) if v})
    assert (
        verdict.active == active
        and verdict.says
        and {"Coil resistance", "Input current"} <= set(verdict.open)
    )


@settings(max_examples=40, deadline=None)
@given(
    board=st.sampled_from([EIGHT_BIT, RADIO]),
    module=st.sampled_from([m.id for m in MODULES]),
    coil=st.sampled_from(["5 V", "12 V"]),
)
def test_a_way_never_promises_what_the_findings_deny(board, module, coil):
    build = on_module(module, board=board, coil=coil)
    for w in way(build).values():
        if w.settings is None:
            continue
        used = edited(
            build,
            ("set_setting", {"channel": "ch2", **{k: v or "auto" for k, v in w.settings.items()}}),
        )
        assert w.works == (
            not any(
                s in ("stop", "fix")
                for c, s in found(used).items()
                if c in {"P1", "P5", "P6", "P7", "P8", "P9", "P12", "P13", "D1"}
            )
        )


@pytest.mark.parametrize(
    "kind, amperes",
    [
        ("resistive_heater", 10.0),
        ("filament_lamp", 1.0),
        ("transformer", 20 / 15),
        ("brush_motor", 2.0),
        ("mains_coil", 2.0),
        ("induction_motor", 2.0),
    ],
)
def test_ten_amperes_on_the_lid_and_what_they_come_to_on_mains(kind, amperes):
    europe, america = table(contact()), table(contact(conditions={"region": "north-america-120"}))
    assert europe[kind].mains == america[kind].mains == pytest.approx(amperes)
    assert europe[kind].power == pytest.approx(amperes * 230) and america[
        kind
    ].power == pytest.approx(amperes * 120)
    assert table(contact(), closed=True)[kind].mains == pytest.approx(amperes / 2)


def test_a_cheap_board_caps_its_relay_by_half_and_a_small_lamp_is_not_capped():
    assert table(contact(), "module-5v-low-plain")["resistive_heater"].mains == 5.0
    assert table(contact(), "module-5v-low-plain")["filament_lamp"].mains == pytest.approx(1.0)


def test_a_gulp_under_eight_milliseconds_wants_a_printed_rating():
    lamp = table(contact())["switch_mode_or_led_lamp"]
    assert "inrush" in lamp.note and lamp.mains == pytest.approx(1.0)


def test_what_a_contact_refuses_is_left_out():
    low = table(contact("heater", "14 V", "2 A"), "relay-12v-vehicle-30a")
    assert low["resistive_heater"].mains is None and low["resistive_heater"].direct == 30.0
    assert low["dc_motor"].mains is None and low["induction_motor"].direct is None
    assert (
        table(contact("heater", "24 V", "2 A"), "relay-12v-vehicle-30a")["resistive_heater"].direct
        is None
    )


def test_the_table_agrees_with_the_finding_on_the_channel():
    build = contact("filament_lamp", "12 V", "5 A", settings={"relay": "relay-5v-10a"})
    assert result(build).contact.allowed == pytest.approx(table(build)["filament_lamp"].direct)
    assert found(build)["K1"] == "fix"


def test_program_and_stage_are_brought_together_without_losing_how_it_is_used():
    build = on_module("module-5v-high", use={"on_level": "low", "cycles_per_day": "40"})
    p12 = next(f for f in advised(build).channels[0].findings if f.check == "P12")
    mended = edited(build, *p12.remedies[0].edits)
    assert "P12" not in found(mended) and mended.channels[0].cycles_per_day == 40


def test_an_led_between_rail_and_pin_is_on_with_the_pin_low():
    build = edited(
        bench(
            "indicator_led",
            "2 V",
            "3 mA",
            rail="5 V",
            stage="direct_pin",
            board=EIGHT_BIT,
            settings={"connection": "sink"},
        ),
        ("set_use", {"channel": "ch2", "on_level": "high"}),
    )
    assert (
        found(build).get("P12") == "stop"
        and found(edited(build, ("set_use", {"channel": "ch2", "on_level": "low"}))).get("P12")
        is None
    )


def test_an_npn_cannot_drive_an_input_that_wants_to_be_high():
    assert found(on_module("module-5v-high", settings={"drive": "npn"}))[
        "P7"
    ] == "stop" and "npn" not in way(on_module("module-5v-high"))


def test_an_npn_before_a_module_of_unknown_level_leaves_it_unknown():
    build = edited(
        _unknown_module(), ("set_setting", {"channel": "ch2", "module": "own", "drive": "npn"})
    )
    assert found(build)["P12"] == "check"


def test_the_npn_stands_at_the_modules_supply_not_at_the_loads():
    build = edited(
        bench("heater", "48 V", "100 mA", rail="48 V", stage="relay_module"),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
        (
            "set_setting",
            {
                "channel": "ch2",
                "module": "module-5v-low-plain",
                "coil_rail": "rail3",
                "drive": "npn",
            },
        ),
    )
    assert result(build).measure("shifter_blocking").worst == pytest.approx(
        5.25
    ) and "D3" not in found(build)


def test_a_high_input_is_held_down_from_outside_while_the_pin_floats_or_is_pulled_up():
    stage = result(on_module("module-5v-high"))
    pull = stage.netlist.part("ch2.R2")
    assert set(pull.terminals.values()) == {"ch2.PIN", "0V"}
    assert {s.key: s.load for s in stage.states}["floating"] == "off"
