"""A contact in the load's circuit, recomputed from the netlist and from the records."""

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from latchcore.catalogue import load_catalogue
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import parse
from latchcore.sums.contacts import dc_curve
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, edited, result
from tests.core.test_relays import contact, found

CATALOGUE = load_catalogue()
RELAYS = sorted(k for k, p in CATALOGUE.parts.items() if getattr(p, "family", "") == "relay")


@pytest.mark.parametrize("relay", RELAYS)
@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO, COMPUTER])
def test_every_relay_that_ships_is_driven_from_every_board_on_its_own_voltage(relay, board):
    coil = CATALOGUE.parts[relay].coil
    volts = "12 V" if coil <= 12 else "24 V"
    build = contact(
        "heater", volts, "200 mA", coil=f"{coil:g} V", board=board, settings={"relay": relay}
    )
    assert not set(found(build)) & {
        "C1",
        "C2",
        "C4",
        "C6",
        "D1",
        "D2",
        "D3",
        "D4",
        "P1",
        "P6",
        "P7",
    }
    # A hundred and fifty milliamperes of coil are more than the least pin can saturate a transistor
    # for: it gets a MOSFET.
    weak = (relay, board) in (("relay-12v-vehicle-30a", COMPUTER), ("relay-5v-2pole-8a", COMPUTER))
    assert result(build).parts["transistor"].family == ("nmos" if weak else "npn")


def test_the_coils_switch_is_what_the_user_fixed_even_where_it_falls_short():
    build = contact(
        "heater",
        "12 V",
        "200 mA",
        coil="12 V",
        board=COMPUTER,
        settings={"relay": "relay-12v-vehicle-30a", "drive": "npn"},
    )
    assert found(build)["D1"] == "fix"
    fixed = contact(
        "heater",
        "12 V",
        "200 mA",
        coil="12 V",
        board=EIGHT_BIT,
        settings={"relay": "relay-12v-10a", "drive": "nmos"},
    )
    assert (
        result(fixed).parts["transistor"].family == "nmos"
        and result(fixed).netlist.part("ch2.Q1").terminals["D"] == "ch2.SW"
    )


@settings(max_examples=30, deadline=None)
@given(
    relay=st.sampled_from(RELAYS),
    board=st.sampled_from([EIGHT_BIT, RADIO]),
    ambient=st.sampled_from(["0 °C", "25 °C", "50 °C"]),
)
def test_the_coils_transistor_is_saturated_at_every_corner_recomputed_from_the_netlist(
    relay, board, ambient
):
    part = CATALOGUE.parts[relay]
    build = contact(
        "heater",
        "12 V",
        "200 mA",
        coil=f"{part.coil:g} V",
        board=board,
        settings={"relay": relay, "drive": "npn"},
        conditions={"ambient": ambient},
    )
    stage = result(build)
    assume(not stage.badness)
    q, net = stage.parts["transistor"], stage.netlist
    profile = (
        CATALOGUE.parts[build.board]
        if build.board in CATALOGUE.parts
        else CATALOGUE.boards[build.board]
    )
    base, pull = (parse(net.part(f"ch2.{ref}").value, "Ω") for ref in ("R1", "R2"))
    most = part.coil * 1.05 / part.coil_resistance.min
    drive = (profile.voh_noload_min - q.v_be.max) / (base * 1.05 + profile.droop) - q.v_be.max / (
        pull * 0.95
    )
    assert drive * min(q.gain_min) >= most * 0.99


@pytest.mark.parametrize("wrong, check", [("12 V", "C2"), ("3.3 V", "C1")])
def test_a_five_volt_coil_on_the_wrong_rail(wrong, check):
    assert found(contact(coil=wrong, settings={"relay": "relay-5v-10a"})).get(check) == "stop"


def test_the_coil_rail_is_chosen_for_the_coil_and_the_relay_for_the_load():
    build = edited(
        contact("heater", "24 V", "4 A", coil="5 V"),
        ("set_setting", {"channel": "ch2", "coil_rail": "auto", "relay": "auto"}),
    )
    stage = result(build)
    relay = stage.parts["relay"]
    feed = build.rail(stage.coil.rail)
    assert (
        relay.coil == pytest.approx(parse(feed.voltage, "V"), rel=0.12)
        and stage.contact.allowed >= stage.running
    )


@settings(max_examples=40, deadline=None)
@given(volts=st.floats(6, 60), small=st.floats(0.1, 6), factor=st.floats(1.05, 2))
def test_more_current_is_never_less_grave_for_a_contact(volts, small, factor):
    grave = {None: 0, "note": 1, "check": 1, "fix": 2, "stop": 3}

    def worst(amperes):
        listed = found(
            contact(
                "heater", f"{volts:.3g} V", f"{amperes:.3g} A", settings={"relay": "relay-5v-10a"}
            )
        )
        return max(grave[listed.get(c)] for c in ("K1", "K2", "K3"))

    assert worst(small) <= worst(small * factor)


@given(st.floats(31, 220), st.floats(1, 30))
def test_above_thirty_volts_a_contact_breaks_no_more_than_its_rating_nor_than_the_curve(
    volts, rating
):
    assert dc_curve(volts, rating) <= min(rating, 10.0)


def test_changing_contact_turns_every_state_of_the_load_round():
    no, nc = (result(contact(settings={"contact": c})) for c in ("NO", "NC"))
    assert [s.load for s in no.states] == [s.load for s in nc.states]
    assert (no.on_with, nc.on_with) == ("high", "low") and nc.netlist.part("ch2.K1").terminals[
        "NC"
    ] == nc.netlist.part("ch2.LOAD").terminals["+"]


def test_the_coils_of_a_contact_and_its_load_count_on_their_own_rails():
    rails = {r.id: r for r in evaluate(contact("heater", "12 V", "2 A")).rails}
    assert (
        rails["rail1"].all_on == pytest.approx(2.31, rel=0.01)
        and 0.02 < rails["rail3"].all_on < 0.1
    )


def test_life_falls_as_the_current_to_the_one_and_a_half():
    one, two = (
        result(contact("heater", "12 V", f"{i} A", settings={"relay": "relay-5v-10a"}))
        for i in (2, 4)
    )
    assert one.contact.life / two.contact.life == pytest.approx((two.running / one.running) ** 1.5)
