"""Which conductor a contact breaks, neighbours and paralleled contacts."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError, apply
from latchcore.findings.routing import opens_within
from tests.core.benches import EIGHT_BIT, bench, edited, with_part
from tests.core.test_contact_use import on_mains, reed, relieved, routing, shared
from tests.core.test_relays import contact, found


def test_a_relieved_contact_carries_its_rating_where_it_could_not_break_it():
    lamp = contact("dc_motor", "48 V", "3 A", coil="12 V", settings={"relay": "relay-12v-10a"})
    assert found(lamp)["K3"] == "stop"
    heavier = (
        "add_channel",
        {
            "kind": "dc_motor",
            "voltage": "48 V",
            "figure": "3 A",
            "stage": "coupler_nmos",
            "rail": "rail1",
        },
    )
    build = edited(lamp, heavier)
    build = edited(
        build, ("set_series_switch", {"channel": "ch2", "series_switch": build.channels[-1].id})
    )
    assert not {"K1", "K2", "K3"} & set(found(build))


def test_a_series_switch_sized_for_less_than_it_passes_is_named():
    build, _ = relieved(
        contact(
            "heater", "12 V", "7 A", coil="12 V", settings={"relay": "relay-12v-10a"}, rating="20 A"
        )
    )
    assert any(f.check == "D2" and "through it" in f.sentence for f in advised(build).findings)


@pytest.mark.parametrize(
    "other, says", [("ch2", "not in series with itself"), ("gone9", "no longer")]
)
def test_what_cannot_stand_in_series_is_refused(other, says):
    with pytest.raises(EditError, match=says):
        apply(reed(), "set_series_switch", {"channel": "ch2", "series_switch": other})
    twin, _ = apply(reed(), "copy_channel", {"channel": "ch2"})
    with pytest.raises(EditError, match="a contact too"):
        apply(twin, "set_series_switch", {"channel": "ch2", "series_switch": twin.channels[-1].id})


@pytest.mark.parametrize(
    "interlock, gap, stops",
    [
        ("program", "200 ms", 0),
        ("program", "", 1),
        ("program", "1 ms", 1),
        ("none", "200 ms", 1),
        ("wired", "", 0),
    ],
)
def test_sources_of_one_line_break_before_the_next_makes(interlock, gap, stops):
    assert len(routing(shared(interlock, gap))) == stops


def test_the_pause_wanted_is_the_slowest_release_and_its_bounce():
    build = shared("program", "1 ms")
    need = max(opens_within(c.result) for c in advised(build).channels)
    assert need > 0.005 and f"{need * 1e3:.3g}"[:3] in routing(build)[0].sentence.replace(" ", "")
    assert not routing(
        edited(build, ("set_route", {"route": build.routes[0].id, "gap": f"{need * 1.01:.6f} s"}))
    )


def test_two_closed_contacts_on_one_line_when_everything_is_dead():
    build = shared()
    both = [("set_setting", {"channel": c.id, "contact": "NC"}) for c in build.channels]
    assert "dead" in routing(edited(build, *both))[0].title


@pytest.mark.parametrize(
    "members, says",
    [("", "Nothing was chosen"), ("ch2", "at least two"), ("ch2,gone1", "no longer")],
)
def test_a_line_wants_two_sources_that_exist(members, says):
    with pytest.raises(EditError, match=says):
        apply(contact(), "add_route", {"name": "line", "members": members})


def test_a_contact_leads_to_one_line_and_a_removed_channel_leaves_it():
    build = shared()
    with pytest.raises(EditError, match="already"):
        apply(
            build,
            "add_route",
            {"name": "second", "members": ",".join(c.id for c in build.channels)},
        )
    smaller, _ = apply(build, "remove_channel", {"channel": build.channels[1].id})
    assert smaller.routes[0].members == ["ch2"] and not routing(smaller)


def test_hazardous_beside_low_voltage_on_one_module():
    build = on_mains(stage="relay_module", settings={"module": "module-12v-low"})
    assert found(build)["K10"] == "check"
    assert (
        found(
            edited(
                with_part(build, "module-12v-low", creepage=3.0),
                ("set_setting", {"channel": "ch2", "module": "own"}),
            )
        )["K10"]
        == "stop"
    )
    assert "K10" not in found(
        edited(
            with_part(build, "module-12v-low", creepage=6.0),
            ("set_setting", {"channel": "ch2", "module": "own"}),
        )
    )
    low = (
        "add_channel",
        {
            "kind": "heater",
            "voltage": "12 V",
            "figure": "1 A",
            "stage": "relay_module",
            "rail": "rail3",
        },
    )
    both = edited(build, low)
    both = edited(
        both,
        (
            "set_setting",
            {"channel": both.channels[-1].id, "module": "module-12v-low", "coil_rail": "rail3"},
        ),
    )
    beside = [f for f in advised(both).findings if f.check == "K10"]
    assert [f.severity for f in beside] == ["stop"] and "3 mm" in beside[0].sentence
    apart = edited(both, ("set_setting", {"channel": both.channels[-1].id, "board_no": "2"}))
    assert not [f for f in advised(apart).findings if f.check == "K10"]


def test_a_module_has_no_more_channels_than_it_has():
    build = contact(
        "heater",
        "12 V",
        "1 A",
        coil="5 V",
        stage="relay_module",
        settings={"module": "module-5v-high"},
        board=EIGHT_BIT,
    )
    twice = edited(build, ("copy_channel", {"channel": "ch2"}))
    assert [f.check for f in advised(twice).findings if f.check == "P11"] == ["P11"]
    other = edited(twice, ("set_setting", {"channel": twice.channels[-1].id, "board_no": "2"}))
    assert not [f for f in advised(other).findings if f.check == "P11"]


def test_every_relay_and_module_states_what_its_contact_is_called_in():
    modules = [p for p in load_catalogue().parts.values() if getattr(p, "family", "") == "module"]
    assert all(m.header and m.terminals for m in modules)


def test_the_protective_earth_is_never_broken():
    build = on_mains(settings={"breaks": "earth"})
    said = next(f for f in advised(build).channels[0].findings if f.check == "K8")
    assert said.severity == "stop" and not said.acceptable and "earth" in said.title
    mended = edited(build, *said.remedies[0].edits)
    assert not any("earth" in f.title for f in advised(mended).channels[0].findings)


def test_a_contact_in_the_earth_switches_nothing_at_low_voltage_either():
    build = edited(
        bench("heater", "12 V", "1 A", stage="relay_contact"),
        ("set_setting", {"channel": "ch2", "breaks": "earth"}),
    )
    assert found(build)["K8"] == "stop" and "K10" not in found(build)
