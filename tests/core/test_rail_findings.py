"""What rails are told: sag, wires, batteries, what comes back."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.whole.rails import start_plan
from tests.core.benches import bench, edited, findings
from tests.core.test_rails import hoist, lamp, mended, rail, rails


def test_a_battery_wants_a_fuse_and_a_regulated_adapter_that_cannot_hurt_its_wire_does_not():
    battery = lamp(
        rails({"voltage": "10.5 to 14.4 V", "source": "battery", "wire_area": "0.75 mm²"}),
        "2 A",
        "rail1",
    )
    assert findings(battery)["S7"] == "stop"
    assert "S7" not in findings(mended(battery, "S7"))
    held = lamp(
        rails({"voltage": "12 V", "rating": "2 A", "wire_area": "0.34 mm²"}), "1 A", "rail1"
    )
    assert "S7" not in findings(held)
    strong = lamp(
        rails({"voltage": "12 V", "rating": "10 A", "wire_area": "0.34 mm²"}), "1 A", "rail1"
    )
    assert findings(strong)["S7"] == "stop"


def test_a_block_battery_whose_own_resistance_limits_the_short_needs_no_fuse():
    build = lamp(
        rails(
            {
                "voltage": "7 to 9.6 V",
                "source": "battery",
                "resistance": "2 Ω",
                "wire_area": "0.75 mm²",
            }
        ),
        "100 mA",
        "rail1",
        "9 V",
    )
    assert "S7" not in findings(build)


def test_a_fuse_above_its_wire_or_in_the_middle_of_the_surge():
    def fused(fuse, **load):
        return lamp(
            rails({"voltage": "12 V", "rating": "30 A", "wire_area": "0.5 mm²", "fuse": fuse}),
            "2 A",
            "rail1",
            kind="dc_motor",
            **load,
        )

    assert findings(fused("10 A"))["S7"] == "fix"
    assert findings(fused("5 A", surge="12 A", surge_time="3 s"))["S7"] == "fix"
    assert findings(fused("5 A", surge="6 A", surge_time="100 ms")).get("S7") is None
    assert findings(fused("2.5 A", surge="3 A", surge_time="10 ms"))["S7"] == "note"
    assert findings(fused("2 A", surge="3 A", surge_time="10 ms"))["S7"] == "fix"


def test_battery_hours_and_bare_lithium():
    def battery(**fields):
        return lamp(
            rails(
                {
                    "voltage": "11 to 12.6 V",
                    "source": "battery",
                    "fuse": "1.6 A",
                    "capacity": "7 Ah",
                    **fields,
                }
            ),
            "1 A",
            "rail1",
        )

    report = rail(battery())
    assert report.lasts == pytest.approx(0.8 * 7 * 3600 / report.typical)
    assert findings(battery(wanted="10 h"))["S10"] == "note" and "S10" not in findings(
        battery(wanted="2 h")
    )
    assert findings(battery(lithium="bare"))["S10"] == "stop"
    assert "S10" not in findings(mended(battery(lithium="bare"), "S10"))


def test_joined_pluses_and_a_board_that_cuts_itself_off():
    two = rails(
        {"voltage": "12 V", "rating": "2 A"}, {"voltage": "5 V", "rating": "2 A"}, feed="rail2"
    )
    joined = edited(two, ("set_rail", {"rail": "rail1", "joined_with": "rail2"}))
    assert findings(joined)["S9"] == "stop" and "S9" not in findings(two)
    assert "S9" not in findings(mended(joined, "S9"))
    cut = edited(
        lamp(two, "100 mA", "rail1"), ("set_rail", {"rail": "rail2", "switched_by": "ch3"})
    )
    assert findings(cut)["S11"] == "stop"
    assert "S11" not in findings(mended(cut, "S11"))
    gone = edited(cut, ("remove_channel", {"channel": "ch3"}))
    assert gone.rail("rail2").switched_by is None and "S11" not in findings(gone)


def test_the_start_plan_keeps_the_sum_under_the_limit_and_says_when_none_does():
    build = rails({"voltage": "12 V", "rating": "10 A"})
    for _ in range(4):
        build = lamp(build, "500 mA", "rail1", kind="dc_motor", surge="3 A", surge_time="50 ms")
    report = rail(build)
    together = sum(worst for _, _, worst, _ in report.starts)
    plan = start_plan(report, 6.0)
    assert len(plan) == 4 and max(s.total for s in plan) <= 6.0 < together
    assert [s.at for s in plan] == sorted(s.at for s in plan) and plan[-1].at > 0
    assert start_plan(report, report.all_on * 0.9) is None
    assert [s.at for s in start_plan(report, together)] == [0.0] * 4


@pytest.mark.parametrize(
    ("volts", "source", "said"),
    [
        ("5 V", "adapter", None),
        ("12 V", "adapter", "too many"),
        ("3.3 V", "adapter", "too few"),
        ("12 V", "ac_low", "alternating"),
        ("5 V", "usb", None),
    ],
)
def test_the_boards_own_feed_is_looked_at(volts, source, said):
    build = rails({"voltage": volts, "source": source, "rating": "2 A"}, feed="rail1")
    titles = [f.title for f in advised(build).findings if f.check == "S8"]
    assert (said is None and not titles) or (
        said in titles[0] and advised(build).findings[0].severity == "stop"
    )
    if said:
        assert "S8" not in findings(mended(build, "S8"))


def test_a_sound_little_bench_has_nothing_to_say_about_its_rails():
    assert not {c for c in findings(bench()) if c[0] == "S"}


@settings(max_examples=40, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(["rail1", "rail2"]), st.integers(20, 900)), min_size=1, max_size=6
    ),
    st.sampled_from(["linear", "switching", ""]),
)
def test_one_more_load_never_lowers_a_sum_and_a_source_carries_what_hangs_below_it(
    loads, converter
):
    volts = {"rail1": "12 V", "rail2": "5 V"}
    build = rails(
        {"voltage": "12 V", "rating": "9 A"},
        {"voltage": "5 V", "fed_by": "rail1", "converter": converter},
    )
    before = [(r.idle, r.typical, r.all_on, r.worst) for r in advised(build).rails]
    for where, milliamperes in loads:
        build = lamp(build, f"{milliamperes} mA", where, volts[where])
        now = [(r.idle, r.typical, r.all_on, r.worst) for r in advised(build).rails]
        assert all(
            b >= a - 1e-12
            for old, new in zip(before, now, strict=True)
            for a, b in zip(old, new, strict=True)
        )
        before = now
    for idle, typical, all_on, worst in before:
        assert idle <= typical + 1e-12 and typical <= all_on + 1e-12 and all_on <= worst + 1e-12
    top, below = advised(build).rails
    watts = below.volts.typ * below.all_on
    assert top.all_on * top.volts.max >= watts * (1 - 1e-9)


def test_what_a_braked_load_gives_back_lifts_an_adapters_rail_and_a_capacitor_takes_it():
    build = hoist("1 J", bulk="1000 µF")
    said = next(f for f in advised(build).findings if f.check == "S12")
    assert said.severity == "fix" and "51.3 V" in said.sentence
    assert "S12" not in findings(mended(build, "S12"))
    assert "S12" not in findings(hoist("10 mJ", bulk="1000 µF"))
    # A battery takes back what comes.
    assert "S12" not in findings(
        edited(build, ("set_rail", {"rail": "rail1", "source": "battery", "fuse": "2 A"}))
    )
    assert "S12" not in findings(
        lamp(
            rails({"voltage": "24 V", "rating": "5 A"}), "500 mA", "rail1", "24 V", kind="dc_motor"
        )
    )


def test_what_is_lifted_is_held_against_switches_on_that_rail_and_no_relays_transistor_elsewhere():
    build = edited(
        hoist("5 J", bulk="1000 µF"),
        ("add_rail", {"name": "coils", "voltage": "12 V", "source": "adapter", "rating": "1 A"}),
    )
    one = build.channels[-1].id
    build = edited(build, ("set_load", {"channel": one, "maximum": "200 V"}))
    said = next(f for f in advised(build).findings if f.check == "S12")
    assert "the switch of" in said.sentence
    relay = edited(
        build,
        ("set_stage", {"channel": one, "stage": "relay_contact"}),
        ("set_setting", {"channel": one, "coil_rail": build.rails[-1].id}),
    )
    assert advised(relay).channel(one).result.contact.relay is not None
    assert "S12" not in findings(relay)
    # What the load itself bears holds whatever switches it.
    assert "S12" in findings(edited(relay, ("set_load", {"channel": one, "maximum": "60 V"})))
