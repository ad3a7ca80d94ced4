"""The words a wish may be made of: loads, boards, stages, needs, numbers and units."""

from __future__ import annotations

#: What may be wished for, by its words, the longest first; the last column is its kind where the
#: current alternates.
LOADS: tuple[tuple[str, str, str], ...] = (
    ("remote button", "button_pair", "button_pair"),
    ("push button", "button_pair", "button_pair"),
    ("button pair", "button_pair", "button_pair"),
    ("button", "button_pair", "button_pair"),
    ("remote line", "remote_line", "remote_line"),
    ("remote input", "remote_line", "remote_line"),
    ("unipolar stepper motor", "stepper_unipolar", "stepper_unipolar"),
    ("unipolar stepper", "stepper_unipolar", "stepper_unipolar"),
    ("bipolar stepper motor", "stepper_bipolar", "stepper_bipolar"),
    ("stepper motor", "stepper_bipolar", "stepper_bipolar"),
    ("stepping motor", "stepper_bipolar", "stepper_bipolar"),
    ("stepper", "stepper_bipolar", "stepper_bipolar"),
    ("latching relay", "latching_relay_two", "latching_relay_two"),
    ("bistable relay", "latching_relay_two", "latching_relay_two"),
    ("latching valve", "latching_valve", "latching_valve"),
    ("latching solenoid", "latching_valve", "latching_valve"),
    ("addressable led strip", "pixel_strip", "pixel_strip"),
    ("addressable strip", "pixel_strip", "pixel_strip"),
    ("pixel strip", "pixel_strip", "pixel_strip"),
    ("led ring", "pixel_strip", "pixel_strip"),
    ("contactor coil", "relay_coil", "ac_coil"),
    ("relay coil", "relay_coil", "ac_coil"),
    ("panel", "panel", "panel"),
    ("coil", "relay_coil", "ac_coil"),
    ("relay", "relay_coil", "ac_coil"),
    ("solenoid valve", "solenoid", "ac_coil"),
    ("solenoid", "solenoid", "ac_coil"),
    ("valve", "solenoid", "ac_coil"),
    ("door lock", "solenoid", "ac_coil"),
    ("lock", "solenoid", "ac_coil"),
    ("led strip", "led_strip", "led_lamp"),
    ("light strip", "led_strip", "led_lamp"),
    ("strip", "led_strip", "led_lamp"),
    ("led lamp", "led_lamp", "led_lamp"),
    ("led bulb", "led_lamp", "led_lamp"),
    ("indicator led", "indicator_led", "led_lamp"),
    ("indicator", "indicator_led", "led_lamp"),
    ("led", "indicator_led", "led_lamp"),
    ("filament lamp", "filament_lamp", "filament_lamp"),
    ("halogen lamp", "filament_lamp", "filament_lamp"),
    ("halogen", "filament_lamp", "filament_lamp"),
    ("light bulb", "filament_lamp", "filament_lamp"),
    ("bulb", "filament_lamp", "filament_lamp"),
    ("lamp", "filament_lamp", "filament_lamp"),
    ("light", "filament_lamp", "filament_lamp"),
    ("heating mat", "heater", "heater"),
    ("heat mat", "heater", "heater"),
    ("heater", "heater", "heater"),
    ("kettle", "heater", "kettle"),
    ("servo motor", "servo", "servo"),
    ("servo", "servo", "servo"),
    ("brush motor", "dc_motor", "brush_motor"),
    ("drill", "dc_motor", "brush_motor"),
    ("motor", "dc_motor", "induction_motor"),
    ("fan", "dc_motor", "induction_motor"),
    ("pump", "pump", "induction_motor"),
    ("compressor", "dc_motor", "compressor"),
    ("fridge", "dc_motor", "compressor"),
    ("active buzzer", "buzzer_active", "buzzer_active"),
    ("buzzer", "buzzer_active", "buzzer_active"),
    ("beeper", "buzzer_active", "buzzer_active"),
    ("piezo disc", "buzzer_piezo", "buzzer_piezo"),
    ("piezo", "buzzer_piezo", "buzzer_piezo"),
    ("passive buzzer", "buzzer_coil", "buzzer_coil"),
    ("sounder", "buzzer_coil", "buzzer_coil"),
    ("analogue input", "analogue_input", "analogue_input"),
    ("logic input", "logic_line", "logic_line"),
    ("transformer", "transformer", "transformer"),
)
#: What says of a motor that it turns both ways.
BOTH_WAYS = (
    r"(?:(?:in|by|through|via|on|with) )?(?:an? )?(?:h[- ]?bridges?|both (?:ways|directions)|"
    r"reversible|forwards? (?:and|or) (?:back(?:wards?)?|reverse))"
)
#: Rows by columns, as a panel is said.
GRID = r"(\d+) ?(?:x|×|by|rows?(?: (?:of|and|by|x))?) ?(\d+)(?: columns?)?"
#: What is made of pulse coils in rows and columns.
PANEL = (
    r"(?:(?:shutter|pulse(?: coil)?|flap)s? )?(?:panel|wall|grid|matrix)s?(?: of)?(?: (?:pulse )?"
    r"(?:coil|shutter|flap)s?)?|(?:pulse )?(?:coil|shutter|flap)s?"
)
#: What two motors move.
VEHICLE = r"(?:stage |stock )?(?:vehicles?|wagons?|carts?|buggy|buggies|rovers?|crawlers?)"
#: Boards by what they may be called, the more particular first.
BOARDS: tuple[tuple[str, str], ...] = (
    (r"large(?: 8[- ]bit)?(?: 5 ?v)? board|70[- ]line(?: \w+)* board", "board-8bit-5v-70"),
    (r"compact(?: 8[- ]bit)?(?: 5 ?v)? board|small 5 ?v board", "board-8bit-5v-14"),
    (r"(?:3\.3 ?v )?single[- ]board computer|40[- ]pin(?: header)?", "board-sbc-3v3-40"),
    (r"(?:3\.3 ?v )?(?:dual[- ]core )?stick", "board-stick-3v3-26"),
    (r"(?:3(?:\.3)? ?v )?radio board|3(?:\.3)? ?v(?: \w+)? board", "board-radio-3v3"),
    (r"8[- ]bit(?: 5 ?v)? board|5 ?v(?: 8[- ]bit)? board", "board-8bit-5v-20"),
)
#: Stages a wish may ask for by name.
STAGES: tuple[tuple[str, str], ...] = (
    (r"(?:\w+[- ])?relay (?:module|board)s?", "relay_module"),
    (r"solid[- ]state modules?", "solid_module"),
    (r"solid[- ]state (?:relay|device|switch)e?s?", "solid_relay"),
    (r"packaged (?:switching )?units?", "packaged_unit"),
    (r"(?:by|through|via|with|using) (?:an? |the )?contactor|\bcontactor\b(?! coil)", "contactor"),
    (r"(?:by|through|via|with|using) (?:an? |the )?relay\b(?! coil)", "relay_contact"),
    (r"(?:(?:by|through|via|with|using) (?:an? |the )?)?triac", "triac_coupler"),
    (r"(?:(?:by|through|via|with|using) (?:an? |the )?)?(?:mosfet|fet)", "nmos_low_side"),
    (r"(?:by|through|via|with|using) (?:an? |the )?(?:transistor|npn)", "npn_low_side"),
)
#: What a load may want of its stage.
NEEDS: tuple[tuple[str, str], ...] = (
    (r"dimm(?:ed|able|ing|er)?|dims", "dims"),
    (r"isolated|with isolation", "isolated"),
    (r"silent(?:ly)?|quiet(?:ly)?", "silent"),
    (r"air gap", "air_gap"),
)
NUMBERS = {
    word: n
    for n, words in {
        1: "one single", 2: "two pair twin", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven",
        8: "eight", 9: "nine", 10: "ten", 11: "eleven", 12: "twelve dozen", 16: "sixteen",
        24: "twenty-four", 48: "forty-eight",
    }.items()
    for word in words.split()
}  # fmt: skip
#: Units by what people write.
UNITS = {
    "volts": "V", "volt": "V", "v": "V", "kilovolts": "kV", "kv": "kV", "millivolts": "mV",
    "mv": "mV", "amps": "A", "amp": "A", "amperes": "A", "ampere": "A", "a": "A",
    "milliamps": "mA", "milliamp": "mA", "milliamperes": "mA", "ma": "mA", "watts": "W",
    "watt": "W", "w": "W", "kilowatts": "kW", "kilowatt": "kW", "kw": "kW", "milliwatts": "mW",
    "mw": "mW", "ohms": "Ω", "ohm": "Ω", "ω": "Ω", "kohm": "kΩ", "kω": "kΩ",
}  # fmt: skip
#: Words that say nothing of their own.
IDLE = frozenset(
    "a an the on off to of with from for by via through using and plus my i want need would like"
    " switch switched switching drive driven control run turn operate please it its is at in"
    " supply rail each that which some mains ac dc line voltage volts bit board".split()
)
