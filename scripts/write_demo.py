"""
Writes the demo builds from the edits a builder would make; run after the document format changed.
"""

from pathlib import Path

from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.formats.buildfile import write_build
from scripts.demo_behaviour import (
    MAT_RULES,
    THEATRE_SCENE,
    VENTS_FAULTS,
    VENTS_RULES,
    VENTS_SENSED,
)

DEMO = Path(__file__).resolve().parent.parent / "demo"

THEATRE = [
    ("rename_build", {"name": "Hollyhock Marionettes"}),
    (
        "set_conditions",
        {
            "note": (
                "A table-top theatre for eight string puppets. One adapter under the stage, one"
                " radio board behind the backdrop."
            )
        },
    ),
    ("set_board", {"board": "board-radio-3v3"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "5 A"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V board and coils", "rating": "2 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    (
        "add_channel",
        {
            "name": "Lantern strip",
            "kind": "led_strip",
            "voltage": "12 V",
            "figure": "1.2 A",
            "pin": "P25",
            "stage": "nmos_low_side",
        },
    ),
    ("set_switching", {"channel": "ch3", "pwm": "400 Hz", "duty": "60 %"}),
    (
        "add_channel",
        {
            "name": "Trapdoor",
            "kind": "solenoid",
            "voltage": "12 V",
            "figure": "7.5 Ω",
            "pin": "P26",
            "stage": "nmos_low_side",
        },
    ),
    ("set_switching", {"channel": "ch4", "duty": "5 %", "longest_on": "0.6 s"}),
    ("set_setting", {"channel": "ch4", "clamp": "none"}),
    (
        "add_channel",
        {
            "name": "Bell relay",
            "kind": "relay_coil",
            "voltage": "5 V",
            "figure": "72 Ω",
            "pin": "P27",
        },
    ),
    ("set_setting", {"channel": "ch5", "transistor": "npn-45v-500ma"}),
    (
        "add_channel",
        {
            "name": "Moon lamp",
            "kind": "filament_lamp",
            "voltage": "12 V",
            "figure": "2 W",
            "pin": "P32",
            "stage": "nmos_low_side",
        },
    ),
    (
        "add_channel",
        {
            "name": "Thunder shutter",
            "kind": "solenoid",
            "voltage": "12 V",
            "figure": "400 mA",
            "pin": "P14",
        },
    ),
    (
        "add_channel",
        {
            "name": "Cue light",
            "kind": "indicator_led",
            "voltage": "2 V",
            "figure": "3 mA",
            "pin": "P33",
            "rail": "",
        },
    ),
    ("add_rail", {"voltage": "24 V", "name": "24 V curtain supply", "rating": "3 A"}),
    (
        "set_rail",
        {"rail": "rail9", "resistance": "0.15 Ω", "wire_length": "3 m", "wire_area": "0.75 mm²"},
    ),
    (
        "add_channel",
        {
            "name": "Curtain motor",
            "kind": "motor_both",
            "voltage": "24 V",
            "figure": "400 mA",
            "pin": "P16",
            "rail": "rail9",
        },
    ),
    ("place_pin", {"what": "ch10.reverse", "pin": "P4"}),
    ("set_setting", {"channel": "ch10", "rest": "1 s"}),
    ("set_load", {"channel": "ch10", "surge": "1.6 A", "surge_time": "300 ms"}),
    ("set_switching", {"channel": "ch10", "duty": "5 %", "longest_on": "12 s"}),
    (
        "add_channel",
        {
            "name": "Star curtain",
            "kind": "led_strip",
            "voltage": "24 V",
            "figure": "600 mA",
            "pin": "P17",
            "stage": "nmos_low_side",
            "rail": "rail9",
        },
    ),
    ("set_switching", {"channel": "ch11", "pwm": "400 Hz", "duty": "50 %"}),
    (
        "add_channel",
        {
            "name": "Rain tray valve",
            "kind": "solenoid",
            "voltage": "24 V",
            "figure": "250 mA",
            "pin": "P18",
            "stage": "nmos_low_side",
            "rail": "rail9",
        },
    ),
    ("set_load", {"channel": "ch12", "hazards": "water"}),
    ("set_switching", {"channel": "ch12", "duty": "10 %", "longest_on": "5 s"}),
    (
        "add_channel",
        {
            "name": "Prompt light",
            "kind": "indicator_led",
            "voltage": "2 V",
            "figure": "3 mA",
            "pin": "P19",
            "rail": "",
        },
    ),
    (
        "add_input",
        {
            "name": "Curtain ends",
            "kind": "end_pair",
            "rest": "closed",
            "lead_length": "2 m",
            "sampled": "5 ms",
        },
    ),
    ("add_input", {"name": "House dimmer", "kind": "knob", "sampled": "50 ms"}),
    (
        "add_input",
        {"name": "Prompt button", "kind": "button", "lead_length": "4 m", "sampled": "10 ms"},
    ),
    ("set_confirmation", {"channel": "ch10", "confirmed_by": "in14"}),
    (
        "set_wire",
        {
            "channel": "ch3",
            "wire_length": "2.5 m",
            "wire_area": "0.75 mm²",
            "through": "two-way plug at the proscenium",
        },
    ),
    ("set_wire", {"channel": "ch10", "wire_length": "1.5 m", "wire_area": "0.5 mm²"}),
]
FUSE = {"fuse_volts": "250 V", "fuse_for": "alternating", "fuse_breaking": "high"}
DISCIPLINE = ("state_discipline", {key: "yes" for key in load_catalogue().discipline})
THEATRE += [
    ("add_rail", {"voltage": "230 V", "name": "house line", "source": "mains", "rating": "10 A"}),
    (
        "set_rail",
        {
            "rail": "rail17",
            "plug": "polarised",
            "plug_rating": "16 A",
            "fuse": "1.6 A",
            **FUSE,
            "wire_area": "0.75 mm²",
            "wire_length": "5 m",
        },
    ),
    (
        "add_channel",
        {
            "name": "House lamp",
            "kind": "filament_lamp",
            "voltage": "230 V",
            "figure": "60 W",
            "pin": "P21",
            "rail": "rail17",
            "stage": "triac_coupler",
        },
    ),
    ("set_setting", {"channel": "ch18", "control": "phase"}),
    ("set_load", {"channel": "ch18", "protection": "class_ii"}),
    (
        "add_channel",
        {
            "name": "Fog fan",
            "kind": "induction_motor",
            "voltage": "230 V",
            "figure": "40 W",
            "pin": "P22",
            "rail": "rail17",
            "stage": "relay_contact",
        },
    ),
    ("set_setting", {"channel": "ch19", "coil_rail": "rail2"}),
    (
        "set_load",
        {"channel": "ch19", "surge": "1.2 A", "surge_time": "400 ms", "protection": "class_i"},
    ),
    ("set_switching", {"channel": "ch19", "duty": "10 %", "longest_on": "60 s"}),
    ("set_guards", {"channel": "ch19", "unattended": "no", "on_return": "stays_off"}),
    (
        "add_input",
        {
            "name": "Zero of the house line",
            "kind": "zero_coupler",
            "rail": "rail17",
            "edge": "middle",
        },
    ),
    ("add_block", {"rail": "rail9", "name": "Batten"}),
    ("set_block", {"block": "blk21", "wire_length": "3 m", "wire_area": "0.75 mm²", "places": "4"}),
    ("add_cable", {"name": "Batten cable", "cores": "4"}),
    ("set_cable", {"cable": "cab22", "wire_area": "0.75 mm²", "laid": "bundled"}),
    ("set_wire", {"channel": "ch10", "block": "blk21", "cable": "cab22", "wire_area": ""}),
    ("set_wire", {"channel": "ch11", "block": "blk21", "cable": "cab22", "wire_length": "2 m"}),
    ("add_metal", {"name": "Steel frame", "ends": ""}),
    ("set_metal", {"metal": "mt23", "earthed": "yes"}),
    (
        "add_channel",
        {"name": "Cloud winch", "kind": "servo", "voltage": "5 V", "figure": "150 mA"},
    ),
    ("set_load", {"channel": "ch24", "surge": "650 mA"}),
    ("set_setting", {"channel": "ch24", "rest_pulse": "1.1 ms", "work_pulse": "1.8 ms"}),
    ("add_chain", {"part": "chain-pulse-16", "name": "Wagon driver"}),
    ("place_pin", {"what": "chain25.enable", "pin": "P15"}),
    (
        "add_channel",
        {
            "name": "Wagon left",
            "kind": "motor_both",
            "voltage": "24 V",
            "figure": "90 mA",
            "rail": "rail9",
            "pin": "",
        },
    ),
    (
        "add_channel",
        {
            "name": "Wagon right",
            "kind": "motor_both",
            "voltage": "24 V",
            "figure": "90 mA",
            "rail": "rail9",
            "pin": "",
        },
    ),
    ("move_to_chain", {"chain": "chain25", "channels": "ch26,ch27,ch13"}),
    ("set_setting", {"channel": "ch26", "rest": "0.5 s"}),
    ("set_setting", {"channel": "ch27", "rest": "0.5 s"}),
    ("add_vehicle", {"left": "ch26", "right": "ch27", "name": "Stage wagon"}),
    ("set_vehicle", {"vehicle": "veh28", "time_out": "300 ms", "most": "70 %"}),
    DISCIPLINE,
]
SEEDLINGS = [
    ("rename_build", {"name": "Seedling bench"}),
    (
        "set_conditions",
        {
            "note": (
                "A heat mat on mains under the seed trays, a thermostat in the soil, a fan: what a"
                " guarded mains build looks like when nothing is left open."
            )
        },
    ),
    ("set_board", {"board": "board-8bit-5v-20"}),
    ("set_watchdog", {"watchdog": "yes"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V board and coils", "rating": "2 A"}),
    ("set_board_feed", {"rail": "rail1"}),
    (
        "add_rail",
        {"voltage": "230 V", "name": "garden room socket", "source": "mains", "rating": "16 A"},
    ),
    (
        "set_rail",
        {
            "rail": "rail2",
            "plug": "reversible",
            "plug_rating": "16 A",
            "fuse": "0.8 A",
            **FUSE,
            "fuse_poles": "every",
            "wire_area": "0.75 mm²",
            "wire_length": "2 m",
        },
    ),
    (
        "add_input",
        {
            "name": "Soil thermostat",
            "kind": "micro_switch",
            "rest": "closed",
            "lead_length": "2 m",
            "sampled": "100 ms",
        },
    ),
    (
        "add_input",
        {
            "name": "Mat draws current",
            "kind": "sensor",
            "output": "open_collector",
            "sampled": "100 ms",
        },
    ),
    (
        "add_channel",
        {
            "name": "Heat mat",
            "kind": "heater",
            "voltage": "230 V",
            "figure": "100 W",
            "pin": "L12",
            "rail": "rail2",
            "stage": "relay_contact",
        },
    ),
    ("set_setting", {"channel": "ch5", "coil_rail": "rail1", "breaks": "both"}),
    ("set_load", {"channel": "ch5", "protection": "class_ii"}),
    ("set_switching", {"channel": "ch5", "duty": "40 %", "longest_on": "30 s"}),
    ("set_confirmation", {"channel": "ch5", "confirmed_by": "in4"}),
    (
        "set_guards",
        {
            "channel": "ch5",
            "unattended": "yes",
            "limit": "independent",
            "second_contactor": "yes",
            "on_return": "stays_off",
        },
    ),
    ("set_use", {"channel": "ch5", "cycles_per_day": "40"}),
    DISCIPLINE,
]
#: Bells of the chime, the great one last: its striker takes most.
BELLS = (
    "Ut",
    "Re",
    "Mi",
    "Fa",
    "Sol",
    "La",
    "Si",
    "Small do",
    "Quarter one",
    "Quarter two",
    "Quarter three",
)
CHIME = [
    ("rename_build", {"name": "Stairwell chime"}),
    (
        "set_conditions",
        {
            "note": (
                "A clock for a stairwell: twelve bells, one striker each, and a lit dial. A"
                " one-shot ends every stroke in hardware; the great bell still lacks its own."
            )
        },
    ),
    ("set_board", {"board": "board-8bit-5v-70"}),
    ("set_watchdog", {"watchdog": "yes"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V strikers", "rating": "10 A"}),
    ("add_rail", {"voltage": "9 V", "name": "9 V board", "rating": "1 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    (
        "set_rail",
        {
            "rail": "rail1",
            "wire_length": "1 m",
            "wire_area": "1.5 mm²",
            "resistance": "30 mΩ",
            "fuse": "10 A",
        },
    ),
]
for n, bell in enumerate((*BELLS, "Great bell")):
    great = bell == "Great bell"
    CHIME += [
        (
            "add_channel",
            {
                "name": bell,
                "kind": "solenoid",
                "voltage": "12 V",
                "figure": "12 Ω" if great else "30 Ω",
                "stage": "nmos_low_side",
                "rail": "rail1",
                "pin": f"L{24 + n}",
            },
        ),
        (
            "set_load",
            {
                "channel": f"ch{n + 3}",
                "longest_rated": "300 ms",
                "cut_off": "" if great else "200 ms",
            },
        ),
        ("set_switching", {"channel": f"ch{n + 3}", "duty": "1 %", "longest_on": "60 ms"}),
        (
            "set_wire",
            {
                "channel": f"ch{n + 3}",
                "wire_length": f"{0.6 + 0.2 * n:.1f} m",
                "wire_area": "1 mm²",
            },
        ),
    ]
CHIME += [
    (
        "add_channel",
        {
            "name": "Dial light",
            "kind": "led_strip",
            "voltage": "12 V",
            "figure": "300 mA",
            "stage": "nmos_low_side",
            "rail": "rail1",
            "pin": "L3",
        },
    ),
    ("set_switching", {"channel": "ch15", "pwm": "400 Hz", "duty": "40 %"}),
    ("add_input", {"name": "Hour reed", "kind": "reed", "lead_length": "3 m", "sampled": "2 ms"}),
    (
        "add_input",
        {"name": "Silence button", "kind": "button", "lead_length": "1 m", "sampled": "10 ms"},
    ),
    ("add_chain", {"part": "chain-register-8", "count": "2", "name": "Striker registers"}),
    ("set_chain", {"chain": "chain18", "clock": "1 MHz", "compared": "yes"}),
    (
        "move_to_chain",
        {"chain": "chain18", "channels": ",".join(f"ch{n}" for n in range(3, 15))},
    ),
]
#: A second chime that somebody built in a hurry: nothing lets go of its register, nothing ends a
#: stroke, nobody compared the edges.
LANDING = [
    ("rename_build", {"name": "Landing chime"}),
    (
        "set_conditions",
        {
            "note": (
                "Four bells on one register, built in an afternoon: its outputs always drive, only"
                " the program ends a stroke, and nobody looked which clock edge it is read on."
            )
        },
    ),
    ("set_board", {"board": "board-8bit-5v-20"}),
    ("set_watchdog", {"watchdog": "yes"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V strikers", "rating": "3 A"}),
    ("add_rail", {"voltage": "9 V", "name": "9 V board", "rating": "1 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    ("add_chain", {"part": "chain-register-8", "name": "Striker register"}),
    ("set_chain", {"chain": "chain3", "enable": "tied"}),
]
for n, bell in enumerate(("Low bell", "Second bell", "Third bell", "High bell")):
    LANDING += [
        (
            "add_channel",
            {
                "name": bell,
                "kind": "solenoid",
                "voltage": "12 V",
                "figure": "30 Ω",
                "stage": "nmos_low_side",
                "rail": "rail1",
            },
        ),
        ("set_load", {"channel": f"ch{n + 4}", "longest_rated": "300 ms"}),
        ("set_switching", {"channel": f"ch{n + 4}", "duty": "1 %", "longest_on": "60 ms"}),
    ]
LANDING += [
    ("move_to_chain", {"chain": "chain3", "channels": "ch4,ch5,ch6,ch7"}),
]
#: A board of turning discs at a boat shed, by rows and columns.
TIDES = [
    ("rename_build", {"name": "Boat shed tide board"}),
    (
        "set_conditions",
        {
            "note": (
                "Six rows of ten discs that turn by a pulse and stay: the tides of the day without"
                " a current. A valve rinses the slip, a ring of lights says which way it runs."
            )
        },
    ),
    ("set_board", {"board": "board-8bit-5v-20"}),
    ("set_watchdog", {"watchdog": "yes"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V discs", "rating": "2 A"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V ring", "rating": "3 A"}),
    ("add_rail", {"voltage": "9 V", "name": "9 V board", "rating": "1 A"}),
    ("set_board_feed", {"rail": "rail3"}),
    ("add_chain", {"part": "chain-register-8", "count": "4", "name": "Disc registers"}),
    ("set_chain", {"chain": "chain4", "clock": "500 kHz", "compared": "yes"}),
    (
        "add_channel",
        {
            "name": "Tide discs",
            "kind": "panel",
            "voltage": "9 V",
            "figure": "60 Ω",
            "rail": "rail1",
        },
    ),
    ("set_load", {"channel": "ch5", "rows": "6", "columns": "10", "cut_off": "15 ms"}),
    (
        "set_load",
        {"channel": "ch5", "inductance": "120 mH", "copper": "0.9 g", "act_after": "8 ms"},
    ),
    ("set_switching", {"channel": "ch5", "longest_on": "10 ms"}),
    ("set_setting", {"channel": "ch5", "redrawn": "60 s", "gap": "10 ms"}),
    (
        "add_channel",
        {
            "name": "Slip rinse valve",
            "kind": "latching_valve",
            "voltage": "12 V",
            "figure": "40 Ω",
            "rail": "rail1",
        },
    ),
    (
        "set_load",
        {"channel": "ch6", "act_after": "20 ms", "longest_rated": "200 ms", "cut_off": "150 ms"},
    ),
    ("set_switching", {"channel": "ch6", "longest_on": "60 ms"}),
    (
        "add_channel",
        {
            "name": "Current ring",
            "kind": "pixel_strip",
            "voltage": "5 V",
            "figure": "60 mA",
            "rail": "rail2",
        },
    ),
    ("set_load", {"channel": "ch7", "count": "36"}),
    ("set_setting", {"channel": "ch7", "limit": "50 %"}),
]
SOUND = [
    ("rename_build", {"name": "Potting bench valve"}),
    (
        "set_conditions",
        {"note": "Two channels and nothing to mend: what a settled build looks like."},
    ),
    ("set_board", {"board": "board-8bit-5v-20"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "1.5 A"}),
    ("set_board_feed", {"rail": "rail1"}),
    ("set_watchdog", {"watchdog": "yes"}),
    (
        "add_channel",
        {
            "name": "Mist relay",
            "kind": "relay_coil",
            "voltage": "12 V",
            "figure": "400 Ω",
            "pin": "L4",
        },
    ),
    (
        "add_channel",
        {
            "name": "Ready light",
            "kind": "indicator_led",
            "voltage": "2 V",
            "figure": "3 mA",
            "pin": "L7",
            "rail": "",
        },
    ),
    (
        "add_input",
        {"name": "Mist button", "kind": "button", "lead_length": "80 cm", "sampled": "10 ms"},
    ),
]
VENTS = [
    ("rename_build", {"name": "Fernhouse vents"}),
    (
        "set_conditions",
        {
            "note": (
                "A damp little glasshouse: bought relay boards for the vents and the warming mat,"
                " one bare relay for the lamps."
            ),
            "ambient": "35 °C",
            "place": "damp",
        },
    ),
    ("set_board", {"board": "board-radio-3v3"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "8 A"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V board and coils", "rating": "2 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    (
        "add_channel",
        {
            "name": "Warming mat",
            "kind": "heater",
            "voltage": "12 V",
            "figure": "2 A",
            "pin": "P25",
            "rail": "rail1",
            "stage": "relay_module",
        },
    ),
    ("set_setting", {"channel": "ch3", "module": "module-5v-low-plain", "coil_rail": "rail2"}),
    (
        "add_channel",
        {
            "name": "Grow lamps",
            "kind": "led_strip",
            "voltage": "12 V",
            "figure": "1.5 A",
            "pin": "P26",
            "rail": "rail1",
            "stage": "relay_contact",
        },
    ),
    ("set_setting", {"channel": "ch4", "relay": "relay-5v-10a", "coil_rail": "rail2"}),
    (
        "add_channel",
        {
            "name": "Roof vent",
            "kind": "solenoid",
            "voltage": "12 V",
            "figure": "600 mA",
            "pin": "P27",
            "rail": "rail1",
            "stage": "relay_module",
        },
    ),
    ("set_setting", {"channel": "ch5", "module": "module-5v-high", "coil_rail": "rail2"}),
    ("set_use", {"channel": "ch5", "cycles_per_day": "40"}),
    ("add_machine", {"name": "Old propagator"}),
    (
        "set_machine",
        {
            "machine": "m6",
            "untouched": (
                "Its lamp comes on a second after its own button is pressed, and goes off by a"
                " second press."
            ),
            "stores_high_voltage": "no",
            "button.exists": "yes",
            "button.supply": "isolated_low",
            "supply_side.exists": "yes",
            "supply_side.supply": "mains",
            "inside.exists": "yes",
            "inside.supply": "unknown",
            "inside.opens": "yes",
        },
    ),
]


def made(edits) -> Build:
    """A build from its edits."""
    build = Build(name="new")
    for name, args in edits:
        build, _ = apply(build, name, args)
    return build


if __name__ == "__main__":
    for file, edits in (
        ("hollyhock-marionettes", THEATRE + THEATRE_SCENE),
        ("potting-bench-valve", SOUND),
        ("stairwell-chime", CHIME),
        ("landing-chime", LANDING),
        ("boat-shed-tides", TIDES),
        ("seedling-bench", SEEDLINGS + MAT_RULES),
        ("fernhouse-vents", VENTS + VENTS_SENSED + VENTS_RULES),
        ("fernhouse-first-try", VENTS + VENTS_SENSED + VENTS_RULES + VENTS_FAULTS),
    ):
        (DEMO / f"{file}.json").write_text(write_build(made(edits)), encoding="utf-8")
