"""
How a contact is used: what it breaks, with what beside it, on which kind of current, relieved or
not.
"""

import pytest

from latchcore.advice.mending import advised
from latchcore.edits import apply
from latchcore.findings.routing import sequence
from latchcore.sums.suppression import snubber, varistor
from tests.core.benches import EIGHT_BIT, bench, edited, result, with_part
from tests.core.test_relays import contact, found

APART = {"relay": "relay-12v-2pole-8a"}


def on_mains(kind="heater", figure="600 W", stage="relay_contact", plug="polarised", **more):
    chosen = (APART if stage == "relay_contact" else {}) | more.pop("settings", {})
    build = contact(
        kind,
        "230 V",
        figure,
        coil="12 V",
        source="adapter",
        stage=stage,
        settings=chosen,
        board=EIGHT_BIT,
        **more,
    )
    return edited(build, ("set_rail", {"rail": "rail1", "source": "mains", "plug": plug}))


def test_on_alternating_current_the_zero_puts_the_arc_out():
    direct, alternating = (
        contact("heater", "48 V", "4 A", coil="12 V", settings={"relay": "relay-12v-10a"}),
        on_mains(figure="4 A"),
    )
    assert found(direct)["K3"] == "stop" and not {"K1", "K3"} & set(found(alternating))
    assert {m.key for m in result(alternating).measures} & {"contact_curve", "contact_volts"} == {
        "contact_volts"
    }


@pytest.mark.parametrize(
    "kind, figure, check, severity",
    [
        ("heater", "1.4 kW", None, None),
        ("heater", "1.9 kW", "K1", "stop"),
        ("filament_lamp", "60 W", None, None),
        ("filament_lamp", "300 W", "K1", "fix"),
        ("induction_motor", "100 W", None, None),
        ("induction_motor", "400 W", "K1", "fix"),
        ("transformer", "100 W", None, None),
        ("ac_coil", "30 W", None, None),
    ],
)
def test_the_share_of_each_kind_holds_on_mains_too(kind, figure, check, severity):
    listed = {k: v for k, v in found(on_mains(kind, figure)).items() if k in ("K1", "K2", "K3")}
    assert (
        listed.get(check) == severity
        if check
        else not set(listed) - {"K2"} and listed.get("K2") in (None, "check")
    )


def test_watts_are_not_volt_amperes():
    motor = result(on_mains("induction_motor", "60 W"))
    # 60 W at a power factor of 0.6: 0.43 A at 230 V, and the highest line and the load's own spread
    # on top.
    assert motor.typical == pytest.approx(
        60 / 230 / 0.6, rel=1e-6
    ) and motor.running == pytest.approx(motor.typical * 1.15 * 1.10, rel=1e-6)


def test_a_contact_printed_for_less_than_the_line_is_refused():
    assert (
        found(on_mains(settings={"relay": "relay-5v-signal", "coil_rail": "rail3"}))["K3"] == "stop"
    )
    build = with_part(on_mains(), "relay-12v-2pole-8a", contact_volts="240 V")
    assert "K3" not in found(edited(build, ("set_setting", {"channel": "ch2", "relay": "own"})))


def test_a_transistor_is_not_put_on_alternating_current():
    build = edited(
        bench("heater", "24 V", "20 W", rail="24 V ±8 %", source="ac_low", stage="nmos_low_side"),
        ("add_rail", {"voltage": "12 V"}),
    )
    assert found(build) == {"A1": "stop"}
    labels = [r.label for r in advised(build).channels[0].findings[0].remedies]
    assert any("relay" in label.lower() or "solid-state" in label.lower() for label in labels)


@pytest.mark.parametrize(
    "kind, source",
    [
        ("relay_coil", "ac_low"),
        ("dc_motor", "ac_low"),
        ("ac_coil", "adapter"),
        ("induction_motor", "adapter"),
    ],
)
def test_a_load_for_the_other_kind_of_current_is_stopped(kind, source):
    build = edited(
        bench(kind, "24 V", "10 W", rail="24 V", source=source, stage="relay_contact"),
        ("add_rail", {"voltage": "12 V"}),
    )
    assert found(build)["S8"] == "stop"


def test_a_coil_is_not_fed_with_alternating_current():
    build = bench(
        "heater",
        "24 V",
        "10 W",
        rail="24 V",
        source="ac_low",
        stage="relay_contact",
        settings={"relay": "relay-24v-10a", "coil_rail": "rail1"},
    )
    assert found(build)["S8"] == "stop"


@pytest.mark.parametrize(
    "kind, expected", [("ac_coil", "snubber"), ("induction_motor", "snubber"), ("heater", "none")]
)
def test_an_inductive_load_on_alternating_current_gets_a_snubber_and_never_a_diode(kind, expected):
    build = on_mains(kind, "40 W")
    assert (
        result(build).across.load_clamp == expected and result(build).netlist.part("ch2.D3") is None
    )
    assert (
        found(edited(build, ("set_setting", {"channel": "ch2", "load_clamp": "diode"}))).get("C5")
        == "stop"
    )
    bare = found(edited(build, ("set_setting", {"channel": "ch2", "load_clamp": "none"})))
    assert bare.get("A5") == ("fix" if expected == "snubber" else None)


def test_the_snubber_lies_across_the_load_so_that_the_open_contact_stays_a_gap():
    net = result(on_mains("ac_coil", "40 W")).netlist
    assert set(net.part("ch2.Z1").terminals.values()) == set(
        net.part("ch2.LOAD").terminals.values()
    )
    assert "class X2" in net.part("ch2.Z1").value


def test_snubber_and_varistor_by_the_book():
    assert (
        snubber(0.05, 24.0, 50.0).capacitance == 10e-9
        and snubber(8.0, 230.0, 50.0).capacitance == 100e-9
    )
    assert snubber(1.0, 120.0, 60.0).leakage == pytest.approx(
        120 * 2 * 3.14159265 * 60 * 100e-9, rel=1e-3
    )
    assert varistor(230 * 1.1, (250, 275)) == 275 and varistor(120 * 1.1, (130, 150)) == 150


@pytest.mark.parametrize(
    "plug, lives, breaks, severity",
    [
        ("polarised", "one", "live", None),
        ("polarised", "one", "neutral", "stop"),
        ("reversible", "one", "live", "stop"),
        ("reversible", "one", "both", None),
        ("unknown", "one", "live", "check"),
        ("unknown", "one", "both", None),
        ("polarised", "two", "live", "stop"),
        ("polarised", "two", "both", None),
    ],
)
def test_the_live_is_broken_and_where_it_is_not_known_which_one_is_both_are(
    plug, lives, breaks, severity
):
    build = edited(
        on_mains(plug=plug),
        ("set_rail", {"rail": "rail1", "lives": lives}),
        ("set_setting", {"channel": "ch2", "breaks": breaks}),
    )
    assert found(build).get("K8") == severity
    if severity == "stop":
        mend = next(f for f in advised(build).channels[0].findings if f.check == "K8").remedies[0]
        assert found(edited(build, *mend.edits)).get("K8") is None


def test_one_pole_cannot_break_both_sides():
    assert (
        found(on_mains(settings={"relay": "relay-12v-16a-apart", "breaks": "both"}))["K8"] == "stop"
    )


def test_both_sides_are_broken_by_two_poles_of_one_relay_in_the_netlist():
    net = result(on_mains(settings={"breaks": "both"})).netlist
    k1, load = net.part("ch2.K1").terminals, net.part("ch2.LOAD").terminals
    assert (
        k1["COM"] == "rail1"
        and k1["COM2"] == "rail1.N"
        and k1["NO"] == load["+"]
        and k1["NO2"] == load["-"]
    )


def test_a_relay_for_mains_is_chosen_with_the_distance_it_wants():
    stage = result(edited(on_mains(), ("set_setting", {"channel": "ch2", "relay": "auto"})))
    assert stage.parts["relay"].barrier == "reinforced"


def test_contacts_side_by_side_do_not_share():
    build = contact(
        "heater",
        "12 V",
        "12 A",
        coil="12 V",
        settings={"relay": "relay-12v-10a", "side_by_side": "two"},
        rating="20 A",
    )
    assert found(build)["K9"] == "stop"
    assert "K9" not in found(
        contact("heater", "12 V", "8 A", coil="12 V", settings={"relay": "relay-12v-10a"})
    )


def reed(figure="100 mA", volts="12 V", **more):
    return contact(
        "heater", volts, figure, coil="5 V", settings={"relay": "relay-5v-reed-500ma"}, **more
    )


def test_a_reed_is_limited_by_volts_amperes_and_both_together():
    assert "K3" not in found(reed("100 mA")) and found(reed("450 mA", "24 V"))["K3"] == "stop"
    assert found(reed("600 mA"))["K1"] == "stop"


def test_a_reed_welds_on_what_an_armature_makes():
    lamp = contact(
        "filament_lamp", "12 V", "60 mA", coil="5 V", settings={"relay": "relay-5v-reed-500ma"}
    )
    assert found(lamp)["K2"] == "fix" and "K2" not in found(
        contact("filament_lamp", "12 V", "60 mA", coil="5 V", settings={"relay": "relay-5v-10a"})
    )


def relieved(build):
    """The bench with a MOSFET channel (ch4) in series with its contact."""
    heavier = (
        "add_channel",
        {
            "kind": "heater",
            "voltage": "12 V",
            "figure": "5 A",
            "stage": "pmos_high_side",
            "rail": "rail1",
            "name": "series",
        },
    )
    build = edited(build, heavier)
    return (
        edited(
            build, ("set_series_switch", {"channel": "ch2", "series_switch": build.channels[-1].id})
        ),
        build.channels[-1].id,
    )


def test_hot_switching_is_mended_by_a_switch_that_breaks_first_and_makes_last():
    assert found(reed())["K5"] == "fix"
    build, series = relieved(reed())
    assert "K5" not in found(build)
    stage = result(build)
    assert (
        stage.contact.life == 1e7
        and stage.netlist.part("ch2.K1").terminals["COM"] == f"{series}.SW"
    )
    steps = sequence(stage, advised(build).channel(series).result)
    assert (
        [s.split()[0] for s, _ in steps] == ["switch", "let", "close", "switch"]
        and "off" in steps[0][0]
        and "on" in steps[-1][0]
    )
    assert all(wait > 0 for _, wait in steps[:-1])


def shared(interlock="program", gap="200 ms", **more):
    build, _ = apply(
        contact("heater", "12 V", "1 A", coil="12 V", settings={"relay": "relay-12v-10a"}, **more),
        "copy_channel",
        {"channel": "ch2"},
    )
    members = ",".join(c.id for c in build.channels)
    return edited(
        build,
        (
            "add_route",
            {"name": "lamp line", "members": members, "interlock": interlock, "gap": gap},
        ),
    )


def routing(build):
    return [f for f in advised(build).findings if f.check == "S9"]
