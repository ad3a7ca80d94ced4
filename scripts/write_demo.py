"""Writes the demo builds from the edits a builder would make; run after the document format changed."""

from pathlib import Path

from latchcore.document.edits import apply
from latchcore.document.models import Build
from latchcore.formats.buildfile import write_build

DEMO = Path(__file__).resolve().parent.parent / "demo"

THEATRE = [
    ("rename_build", {"name": "Hollyhock Marionettes"}),
    ("set_conditions", {"note": "A table-top theatre for eight string puppets. One adapter under the stage, one radio board behind the backdrop."}),
    ("set_board", {"board": "board-radio-3v3"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "5 A"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V board and coils", "rating": "2 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    ("add_channel", {"name": "Lantern strip", "kind": "led_strip", "voltage": "12 V", "figure": "1.2 A", "pin": "P25", "stage": "nmos_low_side"}),
    ("set_switching", {"channel": "ch3", "pwm": "400 Hz", "duty": "60 %"}),
    ("add_channel", {"name": "Trapdoor", "kind": "solenoid", "voltage": "12 V", "figure": "7.5 Ω", "pin": "P26", "stage": "nmos_low_side"}),
    ("set_switching", {"channel": "ch4", "duty": "5 %", "longest_on": "0.6 s"}),
    ("set_setting", {"channel": "ch4", "clamp": "none"}),
    ("add_channel", {"name": "Bell relay", "kind": "relay_coil", "voltage": "5 V", "figure": "72 Ω", "pin": "P27"}),
    ("set_setting", {"channel": "ch5", "transistor": "npn-45v-500ma"}),
    ("add_channel", {"name": "Moon lamp", "kind": "filament_lamp", "voltage": "12 V", "figure": "2 W", "pin": "P32", "stage": "nmos_low_side"}),
    ("add_channel", {"name": "Thunder shutter", "kind": "solenoid", "voltage": "12 V", "figure": "400 mA", "pin": "P14"}),
    ("add_channel", {"name": "Cue light", "kind": "indicator_led", "voltage": "2 V", "figure": "3 mA", "pin": "P33", "rail": ""}),
]
SOUND = [
    ("rename_build", {"name": "Potting bench valve"}),
    ("set_conditions", {"note": "Two channels and nothing to mend: what a settled build looks like."}),
    ("set_board", {"board": "board-8bit-5v-20"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "1.5 A"}),
    ("set_board_feed", {"rail": "rail1"}),
    ("add_channel", {"name": "Mist relay", "kind": "relay_coil", "voltage": "12 V", "figure": "400 Ω", "pin": "L4"}),
    ("add_channel", {"name": "Ready light", "kind": "indicator_led", "voltage": "2 V", "figure": "3 mA", "pin": "L7", "rail": ""}),
]
VENTS = [
    ("rename_build", {"name": "Fernhouse vents"}),
    ("set_conditions", {"note": "A damp little glasshouse: bought relay boards for the vents and the warming mat, one bare relay for the lamps.", "ambient": "35 °C"}),
    ("set_board", {"board": "board-radio-3v3"}),
    ("add_rail", {"voltage": "12 V", "name": "12 V adapter", "rating": "8 A"}),
    ("add_rail", {"voltage": "5 V ±3 %", "name": "5 V board and coils", "rating": "2 A"}),
    ("set_board_feed", {"rail": "rail2"}),
    ("add_channel", {"name": "Warming mat", "kind": "heater", "voltage": "12 V", "figure": "2 A", "pin": "P25", "rail": "rail1", "stage": "relay_module"}),
    ("set_setting", {"channel": "ch3", "module": "module-5v-low-plain", "coil_rail": "rail2"}),
    ("add_channel", {"name": "Grow lamps", "kind": "led_strip", "voltage": "12 V", "figure": "1.5 A", "pin": "P26", "rail": "rail1", "stage": "relay_contact"}),
    ("set_setting", {"channel": "ch4", "relay": "relay-5v-10a", "coil_rail": "rail2"}),
    ("add_channel", {"name": "Roof vent", "kind": "solenoid", "voltage": "12 V", "figure": "600 mA", "pin": "P27", "rail": "rail1", "stage": "relay_module"}),
    ("set_setting", {"channel": "ch5", "module": "module-5v-high", "coil_rail": "rail2"}),
    ("set_use", {"channel": "ch5", "cycles_per_day": "40"}),
]


def made(edits) -> Build:
    """A build from its edits."""
    build = Build(name="new")
    for name, args in edits:
        build, _ = apply(build, name, args)
    return build


if __name__ == "__main__":
    for file, edits in (("hollyhock-marionettes", THEATRE), ("potting-bench-valve", SOUND), ("fernhouse-vents", VENTS)):
        (DEMO / f"{file}.json").write_text(write_build(made(edits)), encoding="utf-8")
