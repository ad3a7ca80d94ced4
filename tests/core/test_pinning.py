"""
Which line goes where: assignment against a general matching, what is named as scarce, swaps, locks,
sharing, ways out.
"""

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.advice.waysout import ways_out
from latchcore.catalogue import load_catalogue
from latchcore.catalogue.boards import Board
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.whole.pinning import SHARED_OWNERS, Demand, assign, demands, larger_boards, refusal
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings

BOARDS = load_catalogue().boards
WANTS = [{"out"}, {"out", "pwm"}, {"in"}, {"in", "analogue"}, {"in", "interrupt"}]
demand_lists = st.lists(st.sampled_from(WANTS), min_size=1, max_size=45).map(
    lambda rows: [
        Demand(f"d{n}", f"load {n}", frozenset(w), None, False) for n, w in enumerate(rows)
    ]
)


def largest(board: Board, wanted: list[Demand]) -> int:
    """How many demands any assignment can serve, by a general matching algorithm."""
    graph = nx.Graph()
    graph.add_nodes_from(d.key for d in wanted)
    graph.add_edges_from(
        (d.key, ("pin", p.id)) for d in wanted for p in board.pins if refusal(d, p) is None
    )
    return len(nx.bipartite.hopcroft_karp_matching(graph, top_nodes=[d.key for d in wanted])) // 2


@settings(max_examples=150, deadline=None)
@given(board=st.sampled_from(BOARDS), wanted=demand_lists)
def test_as_many_are_served_as_any_assignment_can_serve(board, wanted):
    plan = assign(board, wanted)
    assert len(plan.pins) == largest(board, wanted)
    assert set(plan.pins) | set(plan.refused) == {d.key for d in wanted}
    assert len(set(plan.pins.values())) == len(plan.pins)
    by_key = {d.key: d for d in wanted}
    for key, pin in plan.pins.items():
        assert by_key[key].wants <= set(board.pin(pin).can) and (
            board.pin(pin).owner is None or board.pin(pin).owner in SHARED_OWNERS
        )


@settings(max_examples=150, deadline=None)
@given(board=st.sampled_from(BOARDS), wanted=demand_lists)
def test_what_is_named_as_scarce_is_scarce_by_counting(board, wanted):
    plan = assign(board, wanted)
    for scarce in plan.scarce.values():
        asking = [d for d in wanted if any(s <= d.wants for s in scarce)]
        able = [
            p
            for p in board.pins
            if (p.owner is None or p.owner in SHARED_OWNERS)
            and any(s <= set(p.can) for s in scarce)
        ]
        assert len(asking) > len(able)


@settings(max_examples=60, deadline=None)
@given(board=st.sampled_from(BOARDS), wanted=demand_lists, data=st.data())
def test_locked_lines_stay_where_they_are(board, wanted, data):
    locked = []
    for d in wanted[: data.draw(st.integers(0, 4))]:
        fit = [
            p.id
            for p in board.pins
            if refusal(d, p) is None and p.id not in {x.pin for x in locked}
        ]
        if fit:
            locked.append(Demand(d.key, d.name, d.wants, data.draw(st.sampled_from(fit)), True))
    rest = [d for d in wanted if d.key not in {x.key for x in locked}]
    plan = assign(board, locked + rest)
    assert all(plan.pins[d.key] == d.pin for d in locked)


def many(count: int, board=EIGHT_BIT, pwm: int = 0, stage="nmos_low_side") -> Build:
    """A build of small 12 V lamps without pins, the first few of them dimmed."""
    build = edited(
        Build(name="many"),
        ("set_board", {"board": board}),
        ("add_rail", {"voltage": "12 V", "rating": "20 A"}),
    )
    for n in range(count):
        build = edited(
            build,
            (
                "add_channel",
                {
                    "kind": "led_lamp",
                    "voltage": "12 V",
                    "figure": "50 mA",
                    "stage": stage,
                    "rail": "rail1",
                    "pin": "",
                    "name": f"Lamp {n + 1}",
                },
            ),
        )
        if n < pwm:
            build = edited(
                build, ("set_switching", {"channel": f"ch{build.serial}", "pwm": "400 Hz"})
            )
    return build


def pins(build: Build) -> dict[str, str | None]:
    return {c.id: c.pin for c in build.channels}


def test_dimmed_lamps_get_the_pwm_pins_and_the_others_leave_them_alone():
    build = edited(many(10, pwm=6), ("assign_pins", {"scope": "all"}))
    board = BuildContext(build, load_catalogue()).board
    dimmed = {c.pin for c in build.channels if c.pwm}
    assert len(dimmed) == 6 and all("pwm" in board.pin(p).can for p in dimmed)
    assert not set(findings(build)) & {"P3", "P5", "P10", "P11"}


def test_pins_that_pulse_at_boot_come_last_and_only_when_nothing_else_is_left():
    radio = edited(many(6, RADIO), ("assign_pins", {"scope": "all"}))
    board = BuildContext(radio, load_catalogue()).board
    assert all(
        board.pin(p).reset in ("floating", "pull_down") and not board.pin(p).start
        for p in pins(radio).values()
    )
    full = edited(many(20, RADIO), ("assign_pins", {"scope": "all"}))
    assert None not in pins(full).values() and "P11" not in findings(full)


def test_a_seventh_dimmed_lamp_is_refused_by_the_name_of_what_is_scarce():
    build, says = apply(many(8, pwm=7), "assign_pins", {"scope": "all"})
    assert sum(p is None for p in pins(build).values()) == 1
    assert "7 want PWM, and 6 lines that can are left" in says
    finding = next(f for f in advised(build).findings if f.check == "P11")
    assert finding.severity == "stop" and "PWM" in finding.sentence


def test_what_has_a_pin_keeps_it_unless_moving_it_serves_more():
    build = edited(many(2), ("place_pin", {"what": "ch2", "pin": "L3"}))
    assert pins(edited(build, ("assign_pins", {"scope": "missing"})))["ch2"] == "L3"
    # A plain lamp on each PWM pin: the dimmed one that comes later needs one of them.
    crowded = many(7, pwm=0)
    for n, pin in enumerate(["L3", "L5", "L6", "L9", "L10", "L11"]):
        crowded = edited(crowded, ("place_pin", {"what": f"ch{n + 2}", "pin": pin}))
    crowded = edited(
        crowded,
        ("set_switching", {"channel": "ch8", "pwm": "400 Hz"}),
        ("assign_pins", {"scope": "missing"}),
    )
    assert (
        crowded.channels[-1].pin in {"L3", "L5", "L6", "L9", "L10", "L11"}
        and None not in pins(crowded).values()
    )


def test_placing_on_a_held_pin_swaps_and_a_lock_stops_it():
    build = edited(
        many(2),
        ("place_pin", {"what": "ch2", "pin": "L4"}),
        ("place_pin", {"what": "ch3", "pin": "L7"}),
    )
    swapped = edited(build, ("place_pin", {"what": "ch2", "pin": "L7"}))
    assert pins(swapped) == {"ch2": "L7", "ch3": "L4"}
    locked = edited(build, ("lock_pin", {"what": "ch3"}))
    for what, pin in (("ch2", "L7"), ("ch3", "L4")):
        with pytest.raises(EditError, match="is locked"):
            apply(locked, "place_pin", {"what": what, "pin": pin})
    assert (
        pins(
            edited(
                locked,
                ("lock_pin", {"what": "ch3", "locked": "no"}),
                ("place_pin", {"what": "ch2", "pin": "L7"}),
            )
        )["ch2"]
        == "L7"
    )
    with pytest.raises(EditError, match="on no pin"):
        apply(many(1), "lock_pin", {"what": "ch2"})


@pytest.mark.parametrize(
    ("pin", "why"),
    [("P34", "input only"), ("P6", "belongs to flash"), ("P99", "no pin of this board")],
)
def test_a_pin_that_cannot_serve_is_refused_with_the_reason(pin, why):
    with pytest.raises(EditError, match=why):
        apply(many(1, RADIO), "place_pin", {"what": "ch2", "pin": pin})


def test_a_swap_that_would_put_the_other_where_it_cannot_work_is_refused():
    build = edited(
        many(2, pwm=1),
        ("place_pin", {"what": "ch2", "pin": "L3"}),
        ("place_pin", {"what": "ch3", "pin": "L4"}),
    )
    with pytest.raises(EditError, match="L4 has no PWM"):
        apply(build, "place_pin", {"what": "ch3", "pin": "L3"})


def test_a_timer_that_is_asked_for_two_frequencies_is_a_stop_and_assignment_avoids_it():
    build = edited(many(2, pwm=2), ("set_switching", {"channel": "ch3", "pwm": "1 kHz"}))
    clash = edited(
        build,
        ("place_pin", {"what": "ch2", "pin": "L5"}),
        ("place_pin", {"what": "ch3", "pin": "L6"}),
    )
    finding = next(f for f in advised(clash).findings if f.check == "P10")
    assert (
        finding.severity == "stop" and "400 Hz" in finding.sentence and "1 kHz" in finding.sentence
    )
    for remedy in finding.remedies:
        assert "P10" not in findings(edited(clash, *remedy.edits))
    assert "P10" not in findings(edited(build, ("assign_pins", {"scope": "all"})))


def test_one_pin_used_twice_is_a_stop_unless_they_move_together_on_purpose():
    build = edited(
        many(2, stage="npn_low_side"),
        ("set_pin", {"channel": "ch2", "pin": "L4"}),
        ("set_pin", {"channel": "ch3", "pin": "L4"}),
    )
    assert findings(build)["P10"] == "stop"
    assert "P10" not in findings(
        edited(
            build, *next(f for f in advised(build).findings if f.check == "P10").remedies[0].edits
        )
    )
    together = edited(build, ("move_together", {"channel": "ch3", "lead": "ch2"}))
    assert "P10" not in findings(together)
    moved = edited(together, ("set_pin", {"channel": "ch2", "pin": "L7"}))
    assert pins(moved) == {"ch2": "L7", "ch3": "L7"}
    apart = edited(moved, ("move_together", {"channel": "ch3"}))
    assert pins(apart) == {"ch2": "L7", "ch3": None}
    gone = edited(together, ("remove_channel", {"channel": "ch2"}))
    assert gone.channels[0].moves_with is None and gone.channels[0].pin == "L4"
    with pytest.raises(EditError):
        apply(together, "move_together", {"channel": "ch2", "lead": "ch3"})


def test_stages_that_share_a_pin_share_what_it_may_give():
    build = edited(
        many(3, RADIO, stage="npn_low_side"), ("set_pin", {"channel": "ch2", "pin": "P25"})
    )
    for n in (3, 4):
        build = edited(build, ("move_together", {"channel": f"ch{n}", "lead": "ch2"}))
    finding = next(f for f in advised(build).findings if f.check == "P1")
    assert finding.severity == "fix" and finding.where == "pin:P25"
    fewer = edited(build, ("move_together", {"channel": "ch4"}))
    total = sum(r.result.pin_current for r in advised(fewer).channels if r.id in ("ch2", "ch3"))
    assert (total > 0.012) == ("P1" in findings(fewer))


def test_a_port_gives_no_more_than_its_group_may():
    build = many(8, stage="npn_low_side")
    for n, pin in enumerate(["L0", "L1", "L2", "L3", "L4", "L5", "L6", "L7"]):
        build = edited(build, ("set_pin", {"channel": f"ch{n + 2}", "pin": pin}))
    parts = dict(load_catalogue().raw[EIGHT_BIT]) | {"id": "own", "group_limit": "20 mA"}
    tight = build.model_copy(update={"board": "own", "parts": {"own": parts}})
    said = [f for f in advised(tight).findings if f.check == "P2"]
    assert [f.severity for f in said] == ["stop"] and "port D" in said[0].title
    assert not any("port" in f.title for f in advised(build).findings)


def short() -> tuple[Build, dict]:
    build = edited(many(22), ("assign_pins", {"scope": "all"}))
    around = BuildContext(build, load_catalogue())
    wanted = demands(build, around)
    report = advised(build)
    ways = ways_out(
        build,
        around,
        wanted,
        assign(around.board, wanted),
        {c.id: c.result.pin_current for c in report.channels},
    )
    return build, {
        w.title.split(" ", 1)[1] if w.title[0].isdigit() else w.title.split(" ")[0]: w for w in ways
    }


def test_more_lines_than_pins_is_a_stop_with_ways_out_that_work():
    build, ways = short()
    # Twenty lines, two of them the upload's: eighteen for twenty-two lamps.
    assert sum(p is None for p in pins(build).values()) == 4
    finding = next(f for f in advised(build).findings if f.check == "P11")
    assert finding.severity == "stop" and "4 lines more" in finding.title
    # Eight on a register that takes four lines: exactly the four that are short.
    assert (
        ways["latched shift register"].enough
        and "8 lines move" in ways["latched shift register"].says
        and "takes 4" in ways["latched shift register"].says
    )
    # An expander takes two: six have to move.
    assert "6 lines move" in ways["bus expander"].says
    larger = next(w for w in ways.values() if w.remedy and w.remedy.edit_name == "move_to_board")
    mended = edited(build, *larger.remedy.edits)
    assert "P11" not in findings(mended) and None not in pins(mended).values()


def test_equal_loads_may_share_a_line_when_it_can_carry_them():
    build, ways = short()
    way = ways["Let"]
    grouped = edited(build, *way.remedy.edits)
    assert sum(p is None for p in pins(grouped).values()) == 3


def test_larger_boards_keep_the_logic_voltage():
    build = many(22)
    around = BuildContext(build, load_catalogue())
    assert [b.id for b in larger_boards(BOARDS, around.board, demands(build, around))] == [
        "board-8bit-5v-70"
    ]


def test_a_sound_bench_says_nothing_of_pins():
    assert not {c for c in findings(bench()) if c[0] == "P" and c != "P14"}


def test_a_new_channel_takes_a_quiet_free_line_before_the_one_with_the_boards_own_light():
    for board in BOARDS:
        build = edited(
            Build(name="new"),
            ("set_board", {"board": board.id}),
            ("add_rail", {"voltage": "12", "rating": "2 A"}),
            ("add_channel", {"kind": "led_strip", "voltage": "12 V", "figure": "500 mA"}),
        )
        assert board.pin(build.channels[0].pin).owner is None and build.rails[0].name.startswith(
            "12 V"
        )


def test_a_load_on_the_line_begins_behind_a_contact_and_not_on_a_transistor():
    build = edited(
        Build(name="new"),
        ("set_board", {"board": RADIO}),
        ("add_rail", {"voltage": "230 V", "source": "mains"}),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("add_channel", {"kind": "filament_lamp", "voltage": "230 V", "figure": "40 W"}),
    )
    assert build.channels[0].stage.kind == "relay_contact" and "I1" not in findings(build)


@pytest.mark.parametrize(
    "module, drive, off",
    [
        ("module-5v-low-plain", "", "high"),
        ("module-5v-low-plain", "npn", "low"),
    ],
)
def test_a_module_that_is_on_with_low_wants_a_line_that_idles_high(module, drive, off):
    settings_ = {"module": module} | ({"drive": drive} if drive else {})
    build = bench(
        "heater", "12 V", "1 A", stage="relay_module", settings=settings_, board=EIGHT_BIT
    )
    around = BuildContext(build, load_catalogue())
    assert demands(build, around)[0].off == off
