"""Relays, modules and contacts: the craft a first day teaches."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.advice.modules import ways
from latchcore.advice.reach import reach
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.sums.contacts import contact_life, contact_share, dc_curve
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, result

CATALOGUE = load_catalogue()
MODULES = [p for p in CATALOGUE.parts.values() if getattr(p, "family", "") == "module"]


def contact(
    kind="heater",
    volts="12 V",
    figure="2 A",
    *,
    coil="5 V",
    source="adapter",
    rating="2 A",
    stage="relay_contact",
    load=None,
    use=None,
    conditions=None,
    **more,
):
    """A load on a contact; the coil's rail is rail3."""
    chosen = {"coil_rail": "rail3", **more.pop("settings", {})}
    build = edited(
        bench(
            kind, volts, figure, rail=volts, stage=stage, load=load, conditions=conditions, **more
        ),
        ("add_rail", {"voltage": coil, "rating": rating, "source": source}),
        ("set_setting", {"channel": "ch2", **chosen}),
    )
    return edited(build, ("set_use", {"channel": "ch2", **use})) if use else build


def found(build):
    return {f.check: f.severity for f in advised(build).channels[0].findings}


def on_module(module="module-5v-low-plain", board=RADIO, coil="5 V", **more):
    chosen = {"module": module, **more.pop("settings", {})}
    return contact(
        "heater",
        "12 V",
        "1 A",
        coil=coil,
        board=board,
        stage="relay_module",
        settings=chosen,
        **more,
    )


def way(build):
    context = BuildContext(build, CATALOGUE).channel(build.channels[0])
    return {w.key: w for w in ways(context)}


def test_five_volt_module_stays_on_when_a_three_volt_pin_says_off():
    build = on_module()
    assert found(build)["P8"] == "stop"
    states = {s.key: s.load for s in result(build).states}
    assert states["commanded_off"] == "on" and states["unpowered"] == "on"


def test_it_is_one_mistake_and_one_finding():
    assert list(found(on_module())) == ["P8"]


def test_the_same_module_lets_go_on_a_five_volt_board_yet_feeds_it_when_it_is_off():
    build = on_module(board=EIGHT_BIT)
    assert found(build) == {"P13": "stop"}
    assert {s.key: s.load for s in result(build).states}["commanded_off"] == "off"


def test_the_four_ways_each_with_its_numbers():
    four = way(on_module())
    assert [k for k, w in four.items() if w.works and k != "other"] == ["parallel", "npn"]
    assert "wants 2 mA" in four["fed_low"].numbers and "390" in four["parallel"].title
    assert "kept" in four["parallel"].isolation and "none" in four["npn"].isolation


@pytest.mark.parametrize("key", ["parallel", "npn"])
def test_a_way_that_is_said_to_work_does(key):
    build = on_module()
    used = edited(
        build,
        (
            "set_setting",
            {"channel": "ch2", **{k: v or "auto" for k, v in way(build)[key].settings.items()}},
        ),
    )
    assert not set(found(used)) & {"P6", "P7", "P8", "P9", "P13"} and way(used)[key].used


def test_an_indicator_in_series_eats_all_of_three_volts():
    fed = way(on_module("module-5v-low-indicator"))["fed_low"]
    assert not fed.works and "no resistor helps" in fed.numbers


def test_a_module_for_high_inputs_works_as_it_is():
    assert (
        found(on_module("module-5v-high")) == {}
        and way(on_module("module-5v-high"))["as_it_is"].works
    )


@pytest.mark.parametrize(
    "coil, source, check, severity",
    [
        ("3.3 V", "adapter", "C1", "stop"),
        ("9 V", "unregulated", "C2", "stop"),
        ("4.6 V", "adapter", "C1", "fix"),
        ("5 V", "adapter", "C1", None),
    ],
)
def test_what_the_coils_rail_really_feeds(coil, source, check, severity):
    assert found(on_module("module-5v-high", coil=coil, source=source)).get(check) == severity


def test_twelve_coils_on_one_small_source():
    build = contact(
        "heater", "12 V", "100 mA", coil="12 V", rating="1 A", settings={"relay": "relay-12v-10a"}
    )
    for index in range(11):
        more = {
            "kind": "heater",
            "voltage": "12 V",
            "figure": "100 mA",
            "rail": "rail1",
            "stage": "relay_contact",
            "pin": "auto",
        }
        build = edited(
            build,
            ("add_channel", more),
            (
                "set_setting",
                {"channel": f"ch{index + 4}", "coil_rail": "rail3", "relay": "relay-12v-10a"},
            ),
        )
    rail = next(r for r in advised(build).rails if r.id == "rail3")
    assert rail.all_on == pytest.approx(12 * 12.6 / 360) and len(rail.shares) == 12


CONTACTS = {
    "10 A contact on a 6 A lamp: share": (
        lambda: contact("filament_lamp", "12 V", "6 A", settings={"relay": "relay-5v-10a"}),
        "K1",
        "fix",
    ),
    "10 A contact on a 6 A lamp: welds": (
        lambda: contact("filament_lamp", "12 V", "6 A", settings={"relay": "relay-5v-10a"}),
        "K2",
        "fix",
    ),
    "half an ampere of lamp does not weld it": (
        lambda: contact("filament_lamp", "12 V", "500 mA", settings={"relay": "relay-5v-10a"}),
        "K2",
        None,
    ),
    "10 A contact on a half-ampere lamp": (
        lambda: contact("filament_lamp", "12 V", "500 mA", settings={"relay": "relay-5v-10a"}),
        "K1",
        None,
    ),
    "48 V motor beyond the DC curve": (
        lambda: contact("dc_motor", "48 V", "3 A", settings={"relay": "relay-5v-10a"}),
        "K3",
        "stop",
    ),
    "48 V motor: within the curve, over its share": (
        lambda: contact("dc_motor", "48 V", "500 mA", settings={"relay": "relay-5v-10a"}),
        "K1",
        "fix",
    ),
    "12 A through a 10 A contact": (
        lambda: contact("heater", "12 V", "12 A", settings={"relay": "relay-5v-10a"}),
        "K1",
        "stop",
    ),
    "a motor's stall welds and it moves: stop": (
        lambda: contact("dc_motor", "12 V", "4 A", settings={"relay": "relay-5v-10a"}),
        "K2",
        "stop",
    ),
    "5 mA signal on a power contact": (
        lambda: contact(
            "heater", "12 V", "5 mA", settings={"relay": "relay-5v-10a"}, load={"hazards": ""}
        ),
        "K4",
        "check",
    ),
    "5 mA signal on gold": (
        lambda: contact(
            "heater", "12 V", "5 mA", settings={"relay": "relay-5v-signal"}, load={"hazards": ""}
        ),
        "K4",
        None,
    ),
    "LED lamp: nobody states the inrush": (
        lambda: contact("led_lamp", "12 V", "4 W", settings={"relay": "relay-5v-10a"}),
        "K2",
        "check",
    ),
    "vehicle relay at 24 V": (
        lambda: contact(
            "heater", "24 V", "2 A", coil="12 V", settings={"relay": "relay-12v-vehicle-30a"}
        ),
        "K3",
        "stop",
    ),
    "vehicle relay at 14 V": (
        lambda: contact(
            "heater", "14 V", "2 A", coil="12 V", settings={"relay": "relay-12v-vehicle-30a"}
        ),
        "K3",
        None,
    ),
    "NC where off is wanted when dead: heat": (
        lambda: contact(settings={"relay": "relay-5v-10a", "contact": "NC"}),
        "K7",
        "stop",
    ),
    "NC where off is wanted when dead: lamp": (
        lambda: contact(
            "filament_lamp", "12 V", "500 mA", settings={"relay": "relay-5v-10a", "contact": "NC"}
        ),
        "K7",
        "fix",
    ),
    "NC where on is wanted when dead": (
        lambda: contact(
            "filament_lamp",
            "12 V",
            "500 mA",
            settings={"relay": "relay-5v-10a", "contact": "NC"},
            use={"when_dead": "on"},
        ),
        "K7",
        None,
    ),
    "NC on a relay that only makes": (
        lambda: contact(
            "heater",
            "12 V",
            "2 A",
            coil="12 V",
            settings={"relay": "relay-12v-vehicle-30a", "contact": "NC"},
            use={"when_dead": "on"},
        ),
        "K7",
        "stop",
    ),
    "a contact that wears out within the year": (
        lambda: contact(
            "heater",
            "12 V",
            "7 A",
            settings={"relay": "relay-5v-10a"},
            use={"cycles_per_day": "1000"},
        ),
        "K6",
        "fix",
    ),
    "a contact that lasts some years": (
        lambda: contact(
            "heater",
            "12 V",
            "7 A",
            settings={"relay": "relay-5v-10a"},
            use={"cycles_per_day": "100"},
        ),
        "K6",
        "note",
    ),
    "a contact that lasts": (
        lambda: contact(
            "heater",
            "12 V",
            "2 A",
            settings={"relay": "relay-5v-10a"},
            use={"cycles_per_day": "10"},
        ),
        "K6",
        None,
    ),
    "no clamp at the load": (
        lambda: contact("solenoid", "12 V", "1 A", settings={"load_clamp": "none"}),
        "C4",
        "stop",
    ),
    "clamp at the load": (lambda: contact("solenoid", "12 V", "1 A"), "C4", None),
    "no clamp at the relay's own coil": (lambda: contact(settings={"clamp": "none"}), "C4", "stop"),
    "PWM on a contact": (lambda: contact(switching={"pwm": "50 Hz"}), "D9", "stop"),
    "unknown trigger level": (
        lambda: edited(_unknown_module(), ("set_setting", {"channel": "ch2", "module": "own"})),
        "P12",
        "check",
    ),
    "the program says low, the module high": (
        lambda: on_module("module-5v-high", use={"on_level": "low"}),
        "P12",
        "stop",
    ),
    "both say high": (lambda: on_module("module-5v-high", use={"on_level": "high"}), "P12", None),
    "both say low": (lambda: on_module(board=EIGHT_BIT, use={"on_level": "low"}), "P12", None),
    "an NPN between turns it round": (
        lambda: on_module(settings={"drive": "npn"}, use={"on_level": "low"}),
        "P12",
        "stop",
    ),
    "behind NC the load is on with the coil off": (
        lambda: contact(
            "filament_lamp",
            "12 V",
            "500 mA",
            settings={"relay": "relay-5v-10a", "contact": "NC"},
            use={"when_dead": "on", "on_level": "high"},
        ),
        "P12",
        "stop",
    ),
    "known trigger level": (lambda: on_module("module-5v-high"), "P12", None),
}


def _unknown_module():
    raw = dict(CATALOGUE.raw["module-5v-low-plain"]) | {
        "id": "own",
        "title": "unlabelled",
        "active": "unknown",
    }
    build = on_module(board=EIGHT_BIT)
    return build.model_copy(update={"parts": {"own": raw}})


@pytest.mark.parametrize("name", CONTACTS)
def test_contacts(name):
    build, check, severity = CONTACTS[name]
    assert found(build()).get(check) == severity


@pytest.mark.parametrize("check", ["K1", "K2", "K3", "K4", "K6", "K7", "C4", "P12"])
def test_each_is_tried_both_ways(check):
    tried = [severity for _, c, severity in CONTACTS.values() if c == check]
    assert any(tried) and None in tried


def test_a_sound_relay_has_no_finding():
    assert found(contact()) == {} and found(contact("solenoid", "12 V", "1 A")) == {}


def test_the_contact_is_in_the_loads_circuit_and_the_coil_in_the_boards():
    net = result(contact()).netlist
    k1 = net.part("ch2.K1")
    assert (
        k1.terminals["COM"] == "rail1"
        and net.part("ch2.LOAD").terminals["+"] == k1.terminals["NO"]
        and k1.terminals["1"] == "rail3"
    )
    assert net.part("ch2.D1").terminals["K"] == "rail3"


def test_a_relay_isolates_a_rail_that_is_kept_apart():
    build = edited(contact(), ("set_rail", {"rail": "rail1", "ground": "own"}))
    assert "I3" not in found(build)
    assert not advised(build).channels[0].result.netlist.joined("ch2.PIN", "ch2.LOAD")


@given(st.floats(1, 219), st.floats(0.5, 40))
def test_the_dc_curve_never_rises_with_the_voltage(volts, rating):
    low, high = dc_curve(volts, rating), dc_curve(min(volts * 1.1, 220), rating)
    assert high <= low * (1 + 1e-9) and dc_curve(221, rating) is None


@given(
    st.floats(0.05, 30),
    st.sampled_from(["resistive_heater", "filament_lamp", "dc_motor", "dc_coil_clamped"]),
    st.booleans(),
    st.booleans(),
)
def test_an_allowed_current_is_allowed(rating, kind, closed, cheap):
    duty = CATALOGUE.contacts[kind]
    given_ = dict(
        rating=rating,
        share=duty["share"],
        surge_ratio=duty["surge"],
        surge_lasts=duty["lasts"],
        closed=closed,
        cheap_board=cheap,
    )
    allowed = contact_share(running=rating, **given_).allowed
    again = contact_share(running=allowed, **given_)
    assert allowed <= again.steady * (1 + 1e-9) and again.verdict == "ok"
    assert (
        contact_life(allowed, allowed, 5e4) == pytest.approx(5e4)
        and contact_life(allowed * 1.01, allowed, 5e4) is None
    )


def table(build, relay="relay-5v-10a", closed=False):
    context = BuildContext(build, CATALOGUE).channel(build.channels[0])
    return {r.kind: r for r in reach(context, CATALOGUE.parts[relay], closed)}


@pytest.mark.parametrize(
    ("module", "feed", "verdict"),
    [
        ("module-12v-level-jumper", "logic", "stop"),
        ("module-12v-level-jumper", "module", None),
        ("module-12v-low", "logic", None),
    ],
)
def test_inputs_that_share_the_coils_supply_cannot_be_fed_apart(module, feed, verdict):
    build = edited(on_module(), ("set_setting", {"channel": "ch2", "module": module, "feed": feed}))
    said = [f for f in evaluate(build).channels[0].findings if f.cause == "feed"]
    assert [f.severity for f in said] == ([verdict] if verdict else [])
    apart = [w for w in way(build).values() if w.settings and w.settings["feed"] == "logic"]
    assert bool(apart) is (module == "module-12v-low")
