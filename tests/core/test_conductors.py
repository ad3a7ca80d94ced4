"""
Conductors: every terminal reached, every node one tree, and the currents walked along them come
back to their own rail by their own wires.
"""

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.metal.conductors import Link, Terminal, carried
from latchcore.stages import STAGES
from latchcore.sums import ampacity
from latchcore.whole.laying.boards import BOARD
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.laying.links import Layer
from tests.core.benches import RADIO, bench, edited
from tests.grounds import BOARDS, LOADS, grounds, stage_bench

SUITS = {
    stage: next(
        load
        for load in LOADS
        if (b := stage_bench(stage, load, BOARDS[0], "")) is not None
        and STAGES[stage].suits(BuildContext(b, load_catalogue()).channel(b.channels[0])) is None
    )
    for stage in STAGES
}


def around(build: Build) -> BuildContext:
    return BuildContext(build, load_catalogue())


def laid(build: Build):
    layer = Layer(around(build), evaluate(build))
    return layer, layer.lay()


def trees(build: Build) -> dict[str, nx.MultiGraph]:
    _, found = laid(build)
    graphs: dict[str, nx.MultiGraph] = {}
    for link in found.links:
        graphs.setdefault(link.node, nx.MultiGraph()).add_edge(link.start, link.end, link=link)
    return graphs


def holds(build: Build) -> None:
    """All that is asked of conductors, on one build."""
    layer, _ = laid(build)
    graphs = trees(build)
    for part in layer.report.netlist.parts:
        for name, node in part.terminals.items():
            own = layer.places.terminal(part, name)
            others = [e for e in layer.report.netlist.at(node) if e[0] != part.ref]
            if others:
                assert own in graphs[node], f"{own} of {node} is reached by nothing"
    for node, graph in graphs.items():
        assert nx.is_connected(graph), f"{node} is in pieces"
        assert graph.number_of_edges() == graph.number_of_nodes() - 1, f"{node} runs in a ring"
    for flows in layer.flows.values():
        for flow in flows:
            walks(layer, graphs, flow)
    protected(build)
    sums(build)


def walks(layer: Layer, graphs, flow) -> None:
    """A current passes its own parts and plain places only: no leg, pin or supply of another."""
    by_node: dict[str, list[Terminal]] = {}
    for terminal, node in flow.through.items():
        part = layer.places.parts[terminal.part]
        by_node.setdefault(node, []).append(layer.places.terminal(part, terminal.terminal))
    own = {t for ends in by_node.values() for t in ends}
    for node, ends in by_node.items():
        stops = list(ends)
        if flow.rail and node == flow.rail:
            stops.append(Terminal(f"SUPPLY.{flow.rail}", "+"))
        if flow.rail and node == layer.around.return_of(layer.rails[flow.rail]):
            source = layer.places.parts[f"SUPPLY.{flow.rail}"]
            stops.append(layer.places.terminal(source, "-"))
        for one, other in zip(stops, stops[1:], strict=False):
            for step in nx.shortest_path(graphs[node], one, other)[1:-1]:
                plain = step.part.endswith(".X") or step.part.startswith(("POINT.", "FUSE."))
                plain = plain or of_its_rail(layer, step, flow.rail)
                assert plain or step in own, f"{flow.role} of {flow.rail} crosses {step} on {node}"


def of_its_rail(layer: Layer, terminal: Terminal, rail: str | None) -> bool:
    """Whether it is a distribution point of the rail a current comes from."""
    block = layer.build.block(terminal.part.removeprefix("BLOCK."))
    return block is not None and block.rail == rail


def sums(build: Build) -> None:
    """What comes to a point leaves it: nothing is lost where wires meet."""
    wires = conductors(around(build), evaluate(build))
    for c in wires:
        if c.end.part.startswith(("POINT.", "BLOCK.")):
            behind = [d.running for d in wires if d.start == c.end and d.node == c.node]
            assert c.running == pytest.approx(sum(behind)), c.id


def protected(build: Build) -> None:
    """No wire that is proposed carries more than its cross-section, or than its fuse lets pass."""
    for c in conductors(around(build), evaluate(build)):
        if c.joint or c.cable and any(ch.wire_area for ch in build.channels):
            continue
        if any(r.wire_area for r in build.rails):
            continue
        table = around(build).wires(c.domain == "hazardous")
        if max(c.running, c.fuse or 0.0) <= max(table.values()):
            most = ampacity.ampacity(c.area, table) or 0.0
            assert most >= max(c.running, c.fuse or 0.0) * (1 - 1e-9), c


@pytest.mark.parametrize("stage", STAGES)
def test_each_stage_is_wired_so_that_currents_come_back_to_their_own_rail(stage):
    for board in BOARDS:
        holds(stage_bench(stage, SUITS[stage], board, ""))


@pytest.mark.parametrize("name", grounds())
def test_so_is_each_ground_of_the_nets_and_the_demo(name):
    holds(grounds()[name])


CHANNELS = st.lists(
    st.tuples(
        st.sampled_from(
            ["npn_low_side", "pmos_high_side", "relay_contact", "coupler_nmos", "nmos_low_side"]
        ),
        st.sampled_from(["rail1", "rail2", "rail3"]),
        st.sampled_from(["", "blk4", "blk5", "blk6"]),
    ),
    min_size=1,
    max_size=7,
)


@settings(max_examples=40, deadline=None)
@given(
    channels=CHANNELS,
    fed=st.sampled_from(["", "rail1", "rail2"]),
    fuse=st.booleans(),
    chained=st.booleans(),
)
def test_random_builds_of_channels_called_alike_are_wired_whole(channels, fed, fuse, chained):
    build = edited(
        Build(name="alike"),
        ("set_board", {"board": RADIO}),
        ("add_rail", {"voltage": "12 V", "rating": "20 A"}),
        ("add_rail", {"voltage": "5 V", "rating": "5 A"}),
        ("add_rail", {"voltage": "9 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1", "converter": "switching"}),
        ("add_block", {"rail": "rail1"}),
        ("add_block", {"rail": "rail1", "kind": "outlet"}),
        ("add_block", {"rail": "rail2"}),
    )
    if chained:
        build = edited(build, ("set_block", {"block": "blk5", "behind": "blk4"}))
    if fed:
        build = edited(build, ("set_board_feed", {"rail": fed}))
    if fuse:
        build = edited(build, ("set_rail", {"rail": "rail1", "fuse": "10 A"}))
    for stage, rail, point in channels:
        load = {"kind": "heater", "voltage": "5 V", "figure": "200 mA", "name": "Lamp"}
        build = edited(build, ("add_channel", {**load, "stage": stage, "rail": rail}))
        own = {"channel": build.channels[-1].id, "block": point}
        if point and build.block(point).rail == rail:
            build = edited(build, ("set_wire", own))
    holds(build)


def wires(build: Build):
    return [c for c in conductors(around(build), evaluate(build)) if not c.joint]


def test_sixteen_lamps_called_alike_each_have_their_live_and_their_neutral():
    build = edited(
        Build(name="rig"),
        ("set_board", {"board": "board-8bit-5v-70"}),
        ("add_rail", {"voltage": "5 V", "rating": "5 A"}),
        ("add_rail", {"voltage": "230 V", "source": "mains"}),
    )
    lamp = {"kind": "filament_lamp", "voltage": "230 V", "figure": "40 W", "name": "Lamp"}
    for _ in range(16):
        build = edited(build, ("add_channel", {**lamp, "stage": "relay_contact", "rail": "rail2"}))
    ends = [c.end for c in wires(build)]
    for channel in build.channels:
        assert ends.count(Terminal(f"{channel.id}.LOAD", "-")) == 1
        assert ends.count(Terminal(f"{channel.id}.LOAD", "+")) == 1
        assert ends.count(Terminal(f"{channel.id}.LOAD", "PE")) == 1


def test_loads_of_twelve_volts_return_to_twelve_volts_though_the_coils_hang_on_five():
    build = edited(
        bench("heater", "12 V", "1 A", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
        ("set_setting", {"channel": "ch2", "load_clamp": "none"}),
    )
    back = {c.start: c.end for c in wires(build) if c.node == "0V"}
    assert back[Terminal("SUPPLY.rail1", "-")] == Terminal("ch2.LOAD", "-") or (
        Terminal("ch2.LOAD", "-") in [c.end for c in wires(build) if "rail1" in c.start.part]
    )


def test_a_step_down_converters_input_and_its_way_back_are_wired_with_what_it_takes():
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("add_rail", {"voltage": "5 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1", "converter": "switching"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    inlet = next(c for c in wires(build) if c.end == Terminal("SUPPLY.rail3", "IN"))
    back = next(c for c in wires(build) if c.end == Terminal("SUPPLY.rail3", "-"))
    taken = evaluate(build).rails[0].below["rail3"][0]
    assert inlet.running == back.running == pytest.approx(taken) and taken > 0


def test_of_two_lives_neither_is_called_or_coloured_neutral_and_both_are_fused():
    build = edited(
        bench("heater", "240 V", "500 W", rail="240 V", source="mains", stage="relay_contact"),
        ("set_conditions", {"region": "north-america-120"}),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_rail", {"rail": "rail1", "lives": "two", "fuse": "5 A"}),
        ("set_setting", {"channel": "ch2", "breaks": "both"}),
    )
    line = [c for c in wires(build) if c.domain == "hazardous" and not c.node.endswith(".PE")]
    assert {c.colour for c in line} == {"black"}
    fused = [c.end for c in line if c.end.part == "FUSE.rail1"]
    assert {t.terminal for t in fused} == {"1", "3"}


def test_a_neutral_stays_blue_behind_its_fuse_and_behind_the_pole_that_breaks_it():
    build = edited(
        bench("heater", "230 V", "500 W", rail="230 V", source="mains", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_setting", {"channel": "ch2", "breaks": "both"}),
        ("set_wire", {"channel": "ch2", "fuse": "3.15 A", "fuse_poles": "every"}),
    )
    line = [c for c in wires(build) if c.domain == "hazardous" and not c.node.endswith(".PE")]
    ends = {str(c.end): c.colour for c in line if c.end.part == "ch2.LOAD"}
    assert ends == {"ch2.LOAD.+": "brown", "ch2.LOAD.-": "blue"}
    assert {c.colour for c in line if c.node in ("rail1.N", "ch2.FUSED.N", "ch2.BACK")} == {"blue"}
    assert {c.colour for c in line if c.node in ("rail1", "ch2.FUSED", "ch2.FED")} == {"brown"}


@pytest.mark.parametrize(
    ("volts", "source", "long"), [("230 V", "mains", "SUPPLY"), ("12 V", "adapter", "FUSE")]
)
def test_the_length_of_a_lead_is_bought_once_on_either_side_of_its_fuse(volts, source, long):
    stage = "relay_contact" if source == "mains" else "nmos_low_side"
    build = edited(
        bench("heater", volts, "100 W", rail=volts, source=source, stage=stage),
        ("copy_channel", {"channel": "ch2"}),
        ("copy_channel", {"channel": "ch2"}),
        ("set_rail", {"rail": "rail1", "fuse": "10 A", "wire_length": "5 m"}),
    )
    pieces = [c for c in wires(build) if "FUSE.rail1" in (c.start.part, c.end.part)]
    lengths = {c.start.part.split(".")[0]: c.length for c in pieces}
    assert lengths == {"SUPPLY": None, "FUSE": None} | {long: 5.0}


def test_what_stands_behind_a_fuse_of_twenty_amperes_is_as_thick_as_that_fuse_asks():
    build = edited(
        bench("led_strip", "12 V", "100 mA", stage="nmos_low_side"),
        ("set_rail", {"rail": "rail1", "fuse": "20 A"}),
    )
    behind = [c for c in wires(build) if c.fuse == 20.0]
    assert behind and all(c.area >= 2.5e-6 for c in behind)
    assert {Terminal("ch2.LOAD", "+"), Terminal("ch2.LOAD", "-")} <= {c.end for c in behind}


def test_a_channels_own_fuse_counts_behind_it():
    build = edited(
        bench("led_strip", "12 V", "1 A", stage="nmos_low_side"),
        ("set_rail", {"rail": "rail1", "fuse": "20 A"}),
        ("set_wire", {"channel": "ch2", "fuse": "2 A"}),
    )
    load = [c for c in wires(build) if c.end == Terminal("ch2.LOAD", "-")]
    assert [c.fuse for c in load] == [2.0] and load[0].area < 0.5e-6


def test_a_ring_is_refused():
    a, b = Terminal("X", "1"), Terminal("Y", "1")
    with pytest.raises(ValueError, match="ring"):
        carried([Link("n", a, b), Link("n", b, a)], {})


def test_the_boards_ground_meets_each_supply_once():
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    ground = [c for c in wires(build) if c.end.part == BOARD and c.node == "0V"]
    assert sorted(c.end.terminal for c in ground) == ["gnd", "return"]
