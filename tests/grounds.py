"""
Builds the nets are cast on: the demo's, benches that bring out what those lack, and each stage at
work on each load it suits; and everything that is said of one.
"""

from __future__ import annotations

import itertools
import json
from collections.abc import Iterator
from functools import cache

from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError
from latchcore.evaluate import evaluate_afresh
from latchcore.formats.reportfile import report_data
from latchcore.stages import STAGES
from latchcore.whole.wire_list import wire_list
from tests.core.benches import bench, edited
from tests.hostile import benches


def report_of(report) -> dict:
    """A report's data but for the version of the catalogue, which changes with every figure."""
    return {key: value for key, value in report_data(report).items() if key != "catalogue"}


def said(build: Build) -> str:
    """Everything the report says, with the working behind it."""
    report = evaluate_afresh(build, load_catalogue())
    steps = [
        [
            (s.symbol, s.result if isinstance(s.result, int | float | str) else str(s.result))
            for s in c.result.working.steps
        ]
        for c in report.channels
        if c.result
    ]
    rails = [[(s.symbol, s.result) for s in r.working.steps] for r in report.rails]
    net = [(p.ref, p.kind, p.value, sorted(p.terminals.items())) for p in report.netlist.parts]
    accepted = [(f.check, reason) for c in report.channels for f, reason in c.accepted]
    read = [i.rows for i in report.inputs]
    wires = wire_list(BuildContext(build, load_catalogue()), report)
    results = [c.result for c in report.channels if c.result]
    measures = [m for r in (*results, *report.inputs) for m in r.measures]
    limits = [(m.key, m.stop, m.fix, m.typical, m.setting) for m in measures]
    live = [r.live for r in results]
    everything = [report_of(report), steps, rails, net, accepted, read, wires, limits, live]
    return json.dumps(everything, default=str)


@cache
def grounds() -> dict[str, Build]:
    """
    Builds on which a field may matter: the demo's, and benches that bring out what those lack.
    """
    hot = bench("heater", "230 V", "400 W", rail="230 V", source="mains", stage="relay_contact")
    sensed = edited(
        bench(),
        ("add_input", {"kind": "divider", "voltage": "12 V"}),
        ("add_input", {"kind": "knob"}),
        ("add_input", {"kind": "opto", "voltage": "24 V"}),
        ("add_input", {"kind": "sensor", "voltage": "5 V"}),
        ("add_input", {"kind": "reed"}),
        ("add_input", {"kind": "end_pair"}),
        ("add_input", {"kind": "serial"}),
        ("add_input", {"kind": "tachometer"}),
    )
    held = bench(
        "relay_coil",
        "12 V",
        "100 Ω",
        stage="nmos_low_side",
        switching={"pwm": "20 kHz", "duty": "70 %"},
    )
    told = edited(
        bench("dc_motor", "12 V", "1 A", stage="nmos_low_side"),
        ("copy_channel", {"channel": "ch2"}),
        ("set_load", {"channel": "ch3", "figure": "2 A"}),
        ("add_input", {"kind": "light", "dark": "200 kΩ", "bright": "2 kΩ"}),
        ("add_input", {"kind": "motion", "holds": "3 s", "sampled": "1 s"}),
        ("add_input", {"kind": "current", "watches": "ch3", "per_ampere": "100 mV"}),
        ("add_input", {"kind": "analogue", "voltage": "0.5 to 2.5 V", "rail": "rail1"}),
        ("add_input", {"kind": "sensor", "output": "open_collector"}),
    )
    zeros = edited(
        bench(
            "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="triac_coupler"
        ),
        ("add_input", {"kind": "zero_transformer", "rail": "rail1", "voltage": "9 V"}),
        ("add_input", {"kind": "zero_coupler", "rail": "rail1"}),
    )
    fed = edited(
        bench(),
        ("add_rail", {"voltage": "5 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1", "converter": "linear"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    switched = edited(fed, ("set_rail", {"rail": "rail3", "converter": "switching"}))
    cell = edited(
        bench(source="battery"),
        (
            "set_rail",
            {
                "rail": "rail1",
                "capacity": "2 Ah",
                "wire_area": "0.5 mm²",
                "wire_length": "2 m",
                "resistance": "0.2 Ω",
                "fuse": "2 A",
            },
        ),
        ("set_board_feed", {"rail": "rail1"}),
    )
    motor = bench("dc_motor", "12 V", "1 A", stage="nmos_low_side")
    route = edited(
        bench(
            "speaker" if "speaker" in load_catalogue().loads else "relay_coil",
            stage="relay_contact",
        ),
        ("copy_channel", {"channel": "ch2"}),
        ("add_route", {"name": "line", "members": "ch2,ch3"}),
    )
    compressor = bench(
        "compressor", "230 V", "120 W", rail="230 V", source="mains", stage="relay_contact"
    )
    watched = edited(
        hot,
        ("set_guards", {"channel": "ch2", "unattended": "yes"}),
        ("add_input", {"kind": "reed"}),
    )
    rests = bench("relay_coil", "12 V", "400 Ω", load={"least_on": "10 s", "least_off": "10 s"})
    lock = bench("solenoid", "12 V", "0.5 A", load={"hazards": "lock"})
    pinned = bench("relay_coil", "5 V", "20 Ω", rail="5 V", source="board_pin")
    apart = weak_barrier()
    aside = edited(
        apart,
        ("set_rail", {"rail": "rail3", "ground": "own"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
    )
    led = laid()
    cart = edited(
        bench("motor_both", "12 V", "1 A", stage="bridge_chip", rating="10 A"),
        ("copy_channel", {"channel": "ch2"}),
        ("add_vehicle", {"left": "ch2", "right": "ch3"}),
    )
    rows = edited(
        bench("relay_coil", "12 V", "400 Ω"),
        ("copy_channel", {"channel": "ch2"}),
        ("add_chain", {"part": "chain-register-8", "count": "2"}),
        ("move_to_chain", {"chain": "chain4", "channels": "ch2,ch3"}),
    )
    demo = {f"demo {build.name}": build for build in benches()}
    return {
        "plain": bench(),
        "hot": hot,
        "sensed": sensed,
        "told": told,
        "held": held,
        "zeros": zeros,
        "fed": fed,
        "switched": switched,
        "cell": cell,
        "motor": motor,
        "route": route,
        "compressor": compressor,
        "watched": watched,
        "lock": lock,
        "rests": rests,
        "pinned": pinned,
        "weak barrier": apart,
        "weak barrier aside": aside,
        "rows": rows,
        "cart": cart,
        "laid": led,
        "laid on the line": line_laid(hot),
        **demo,
    }


def laid() -> Build:
    """Two strips behind a chain of two points, in a cable, beside a metal plate."""
    return edited(
        bench("led_strip", "12 V", "2 A", stage="nmos_low_side", rating="10 A"),
        ("copy_channel", {"channel": "ch2"}),
        ("add_block", {"rail": "rail1"}),
        ("add_block", {"rail": "rail1"}),
        ("add_cable", {"name": "to the shelf"}),
        ("add_metal", {"name": "base plate"}),
        ("set_wire", {"channel": "ch2", "block": "blk5", "cable": "cab6"}),
        ("set_wire", {"channel": "ch3", "block": "blk5"}),
    )


def line_laid(hot: Build) -> Build:
    """A heater on the line behind a fuse of its own, its point and a plate nobody reaches."""
    return edited(
        hot,
        ("add_rail", {"voltage": "5 V ±3 %", "rating": "1 A"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
        ("set_wire", {"channel": "ch2", "fuse": "2.5 A"}),
        ("add_metal", {"name": "lid"}),
        (
            "set_metal",
            {"metal": "mt4", "ends": "rail1-", "touchable": "no", "earthed": "yes"},
        ),
        ("add_cable", {"name": "lead"}),
        ("add_block", {"rail": "rail1"}),
        ("set_wire", {"channel": "ch2", "block": "blk6", "cable": "cab5"}),
    )


def weak_barrier() -> Build:
    """A mains lamp behind a relay of a basic barrier, with low rails of both kinds of return."""
    raw = load_catalogue().raw
    relay = next(r for r in raw.values() if r.get("family") == "relay")
    build = bench(
        "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="relay_contact"
    )
    weak = {**relay, "id": "own", "barrier": "basic"}
    build = build.model_copy(update={"parts": {"own": weak}})
    return edited(
        build,
        ("set_setting", {"channel": "ch2", "relay": "own"}),
        ("add_rail", {"voltage": "5 V"}),
    )


LOADS = {
    "relay coil": ("relay_coil", "12 V", "400 Ω", "12 V", "adapter"),
    "solenoid": ("solenoid", "12 V", "0.4 A", "12 V", "adapter"),
    "mains lamp": ("filament_lamp", "230 V", "60 W", "230 V", "mains"),
    "mains transformer": ("transformer", "230 V", "60 W", "230 V", "mains"),
    "led lamp": ("led_lamp", "230 V", "9 W", "230 V", "mains"),
    "mains heater": ("heater", "230 V", "800 W", "230 V", "mains"),
    "mains coil": ("ac_coil", "230 V", "20 W", "230 V", "mains"),
    "mains motor": ("induction_motor", "230 V", "300 W", "230 V", "mains"),
    "motor": ("dc_motor", "12 V", "0.5 A", "12 V", "adapter"),
    "high volts": ("heater", "100 V", "1 A", "100 V", "adapter"),
    "small coil": ("relay_coil", "5 V", "70 Ω", "5 V", "adapter"),
    "led": ("indicator_led", "2 V", "10 mA", "5 V", "adapter"),
    "led array": ("led_array", "2 V", "20 mA", "12 V", "adapter"),
    "logic": ("logic_line", "5 V", "1 mA", "5 V", "adapter"),
    "pair": ("button_pair", "5 V", "1 mA", "5 V", "adapter"),
    "analogue": ("analogue_control", "10 V", "1 mA", "12 V", "adapter"),
    "sounder": ("buzzer_active", "3.3 V", "8 mA", "5 V", "adapter"),
    "piezo": ("buzzer_piezo", "5 V", "3 mA", "5 V", "adapter"),
    "analogue input": ("analogue_input", "3.3 V", "100 kΩ", "5 V", "adapter"),
    "servo": ("servo", "5 V", "200 mA", "5 V", "adapter"),
    "reversing": ("motor_both", "12 V", "0.5 A", "12 V", "adapter"),
    "two coils": ("latching_relay_two", "12 V", "180 Ω", "12 V", "adapter"),
    "coil both ways": ("latching_valve", "9 V", "30 Ω", "9 V", "adapter"),
    "stepper": ("stepper_unipolar", "12 V", "60 Ω", "12 V", "adapter"),
    "pixels": ("pixel_strip", "5 V", "60 mA", "5 V", "adapter"),
    "panel": ("panel", "12 V", "60 Ω", "12 V", "adapter"),
    "two windings": ("stepper_bipolar", "12 V", "0.4 A", "12 V", "adapter"),
    "signal": ("wide_signal", "24 V", "5 mA", "24 V", "adapter"),
}
BOARDS = ("board-radio-3v3", "board-8bit-5v-20")


#: What is made of a bench beforehand, where one channel switched now and then feels too little.
WORKS = {
    "work:pulsed": (("set_switching", {"channel": "ch2", "pwm": "2 kHz", "duty": "50 %"}),),
    "work:overdrive": (("set_conditions", {"school": "overdrive"}),),
    "work:line": (
        ("copy_channel", {"channel": "ch2"}),
        ("add_route", {"name": "line", "members": "ch2,COPY"}),
    ),
    "work:bipolar bridge": (
        ("set_setting", {"channel": "ch2", "bridge": "bridge-bipolar-46v-2a"}),
    ),
    "work:no pull": (("set_setting", {"channel": "ch2", "pull_resistor": "none"}),),
    "work:rested": (("set_setting", {"channel": "ch2", "rest": "1 s"}),),
    "work:armed": (
        (
            "set_setting",
            {
                "channel": "ch2",
                "torque": "120 mN·m",
                "force": "3 N",
                "arm": "30 mm",
                "sixty": "120 ms",
                "pause": "300 ms",
            },
        ),
    ),
    "work:steps": (
        ("set_setting", {"channel": "ch2", "step_rate": "90 Hz", "start_stop": "50 Hz"}),
    ),
    "work:series": (("set_setting", {"channel": "ch2", "series": "47 Ω"}),),
    "work:capacitor": (("set_setting", {"channel": "ch2", "bulk": "1000 µF"}),),
    "work:driver that shorts": (
        ("set_setting", {"channel": "ch2", "driver": "line-driver-8x500ma"}),
    ),
    "work:long strip": (("set_load", {"channel": "ch2", "count": "60"}),),
    "work:own ground": (("set_rail", {"rail": "rail1", "ground": "own"}),),
    "work:beside": (
        ("add_rail", {"voltage": "12 V", "rating": "2 A"}),
        ("copy_channel", {"channel": "ch2"}),
        ("set_channel_rail", {"channel": "COPY", "rail": "rail4"}),
        ("set_load", {"channel": "COPY", "voltage": "12 V"}),
    ),
}


@cache
def stage_bench(stage: str, load: str, board: str, prior: str) -> Build | None:
    """
    A stage at work on a load, its coil on a rail of its own where the load's is the mains.

    ``prior`` is what is made of it beforehand: one of :data:`WORKS`, or a setting as ``key=value``.
    """
    kind, volts, figure, rail, source = LOADS[load]
    build = bench(kind, volts, figure, rail=rail, source=source, stage=stage, board=board)
    if kind == "panel":
        build = edited(build, ("set_load", {"channel": "ch2", "rows": "2", "columns": "2"}))
    fixed = dict([prior.split("=", 1)]) if "=" in prior else {}
    if source == "mains":
        build = edited(build, ("add_rail", {"voltage": "5 V", "rating": "2 A"}))
        if any(s.key == "coil_rail" for s in STAGES[stage].settings):
            fixed = {"coil_rail": build.rails[-1].id} | fixed
    try:
        if fixed:
            build = edited(build, ("set_setting", {"channel": "ch2", **fixed}))
        for name, args in WORKS.get(prior, ()):
            copy, last = build.channels[-1].id, build.rails[-1].id
            there = {k: v.replace("COPY", copy).replace("rail4", last) for k, v in args.items()}
            build = edited(build, (name, there))
    except EditError:
        return None
    return build


def priors(stage: str, but: str = "") -> list[str]:
    """What may be fixed of a stage before: nothing, or one choice of it."""
    choices = [
        f"{s.key}={value}" for s in STAGES[stage].settings if s.key != but for value, _ in s.choices
    ]
    return ["", *WORKS, *choices]


def work_of(stage: str, but: str = "") -> Iterator[tuple[str, str, str]]:
    """Loads, boards and what is fixed before, the plainest first."""
    yield from itertools.product(LOADS, BOARDS, [""])
    yield from itertools.product(LOADS, BOARDS[:1], priors(stage, but)[1:])
