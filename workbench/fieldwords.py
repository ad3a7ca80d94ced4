"""
What each field of an edit is called, what it is measured in, and what is said beside it.

One record stands under the edit and the argument it is posted as; a template names that address and
what is in the field now.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Words:
    """
    Of one field.

    Attributes
    ----------
    label : str
        Empty where the page has the words, such as the name of a rail
    unit : str
        Of a quantity, several with ``|`` between; empty for plain words
    hint : str
        Stands below it
    kind : str
        ``text`` for quantities; ``name``, ``count`` and ``note`` are plain words
    empty : str
        Words of the choice that chooses nothing; without them there is no such choice
    held : str
        Stands in the empty field
    """

    label: str = ""
    unit: str = ""
    hint: str = ""
    kind: str = "text"
    empty: str = ""
    held: str = ""


NO_WORDS = Words()
FIELDS = {
    "set_board_feed.rail": Words("Rail", empty="not stated (its own USB cable)"),
    "set_conditions.ambient": Words(
        "Highest ambient", "°C", "30 °C in the open, 50 °C in a closed box"
    ),
    "set_conditions.inside": Words(
        "Inside the closed box", "°C", "measured; on the line 50 °C counts until then"
    ),
    "set_conditions.place": Words("It stands"),
    "set_conditions.series": Words("Resistors on the shelf"),
    "set_conditions.school": Words("Base resistor by"),
    "set_conditions.prefer_stock": Words("Prefer what is in the drawer"),
    "set_conditions.region": Words("Region"),
    "set_conditions.note": Words("Note", kind="note"),
    "rename_build.name": Words("Name", kind="name"),
    "set_rail.ground": Words("Its ground"),
    "set_rail.name": Words("Name", kind="name"),
    "set_rail.voltage": Words("Voltage", "V", "12 V, 12 V ±3 %, 9.6 to 12.6 V"),
    "set_rail.source": Words("Kind of supply"),
    "set_rail.rating": Words("Rating", "A", "what its label promises"),
    "set_rail.plug": Words("Its plug"),
    "set_rail.entry": Words("It comes in by"),
    "set_rail.lives": Words("Its conductors"),
    "set_rail.fed_by": Words("Fed by another rail", empty="no, a source of its own"),
    "set_rail.converter": Words("Through", empty="a wire"),
    "set_rail.drop_out": Words("Drop-out", "V", "of a linear regulator; 2 V unless stated"),
    "set_rail.theta": Words("Junction to ambient", "K/W", "60 K/W without a heat sink"),
    "set_rail.efficiency": Words("Efficiency", "%", "85 % unless stated"),
    "set_rail.board_pin": Words("Which supply pin", empty="by its voltage"),
    "set_rail.resistance": Words("Resistance of the source", "Ω", "for the sag when a load starts"),
    "set_rail.always": Words(
        "Always feeds besides", "A", "what hangs on it without a switch: radio, sensors, a strip"
    ),
    "set_rail.short_circuit": Words(
        "A short draws", "A", "as stated for it; empty: its rating says, where it limits itself"
    ),
    "set_rail.bulk": Words("Capacitor across it", "F", "such as 1000 µF"),
    "set_rail.switched_by": Words("Turned on by", empty="always on"),
    "set_rail.joined_with": Words("Plus joined with", empty="no other rail"),
    "set_rail.capacity": Words("Capacity", "Ah", "as printed"),
    "set_rail.wanted": Words("Must last", "h"),
    "set_rail.lithium": Words("Lithium"),
    "set_rail.wire_length": Words("Length, one way", "m"),
    "set_rail.wire_area": Words("Cross-section", "mm²", "0.5 mm², or AWG 18"),
    "set_rail.laid": Words("Laid"),
    "set_rail.fuse": Words("Fuse, slow", "A"),
    "set_rail.fuse_volts": Words("Printed volts", "V", "such as 250 V"),
    "set_rail.fuse_for": Words("Printed for"),
    "set_rail.fuse_breaking": Words("Breaking capacity"),
    "set_rail.fuse_poles": Words("A fuse in"),
    "set_rail.plug_rating": Words("Its plug carries", "A", "as printed on it"),
    "set_setting.feed": Words(),
    "add_vehicle.left": Words("Left motor", empty="choose one"),
    "add_vehicle.right": Words("Right motor", empty="choose one"),
    "add_vehicle.name": Words("Name", "", "Vehicle unless given", kind="name"),
    "set_vehicle.name": Words("Name", kind="name"),
    "set_vehicle.left": Words("Left motor"),
    "set_vehicle.right": Words("Right motor"),
    "set_vehicle.time_out": Words("Stops without a command after", "s", "such as 500 ms"),
    "set_vehicle.stick_dead": Words("Dead middle of the stick", "%", "nothing unless stated"),
    "set_vehicle.motor_dead": Words("A motor begins to turn at", "%", "15 % unless measured"),
    "set_vehicle.most": Words("Largest drive", "%", "100 % unless stated"),
    "set_vehicle.ramp": Words("From rest to full drive in", "s", "at once unless stated"),
    "set_vehicle.note": Words("Note", kind="name"),
    "begin_pattern.pattern": Words("Pattern"),
    "begin_pattern.looks_at": Words("While", empty="nothing"),
    "begin_pattern.also": Words("and while", empty="nothing"),
    "begin_pattern.press": Words("Press", empty="no contact"),
    "begin_pattern.level": Words("Level", empty="no level"),
    "begin_pattern.end": Words("End switch", empty="no contact"),
    "begin_pattern.idle": Words("Idle while", empty="nothing"),
    "begin_pattern.source": Words("Source", empty="no channel"),
    "add_rule.kind": Words("It is"),
    "add_rule.looks_at": Words("While, or following", empty="nothing"),
    "add_rule.happens": Words("When", empty="nothing"),
    "give_rule.channel": Words("Channel", empty="choose one"),
    "add_bar.looks_at": Words("Off while", empty="nothing"),
    "set_condition.looks_at": Words("Looks at"),
    "set_condition_figures.at": Words("Threshold", "", "in its own scale", kind="name"),
    "set_condition_figures.hysteresis": Words("Hysteresis", "", "back by so much", kind="name"),
    "set_condition_figures.begin": Words("From", "", "such as 22:00", kind="name"),
    "set_condition_figures.end": Words("To", "", "such as 06:00", kind="name"),
    "set_condition_figures.days": Words("Days", "", "all, or mon,tue", kind="name"),
    "set_condition_figures.time": Words("For", "s"),
    "set_condition_figures.for_at_least": Words("For at least", "s", "before it counts"),
    "set_condition_figures.lasts": Words("Lasts", "s", "after it ended"),
    "join_condition.how": Words("Join"),
    "join_condition.looks_at": Words("What", empty="nothing"),
    "set_event.happens": Words("When"),
    "set_event_time.within": Words("Within", "s"),
    "set_event_time.over": Words("For", "s"),
    "set_rule.length": Words("For", "s"),
    "set_rule.again": Words("Once more in the meantime"),
    "set_rule.wait": Words("May wait", "s", "1 s unless stated"),
    "set_rule.bring": Words("Brings it to", empty="just a pulse"),
    "set_rule.time": Words("Within", "s"),
    "set_rule.to": Words("To", "%"),
    "set_rule.level": Words("Level", "%", "full unless stated"),
    "set_rule.low": Words("From", "", "in the input's scale", kind="name"),
    "set_rule.high": Words("To", "", "in the input's scale", kind="name"),
    "set_rule.level_low": Words("is", "%"),
    "set_rule.level_high": Words("to", "%"),
    "set_rule.dead_band": Words("Dead band", "", "in the input's scale", kind="name"),
    "set_manner.returns": Words("After power, reset or link"),
    "set_manner.longest_on": Words("Longest on", "s", "no limit unless stated"),
    "set_manner.least_on": Words("Least on", "s"),
    "set_manner.least_off": Words("Least off", "s", "after each power-up too"),
    "set_manner.starts": Words("Starts at most", kind="count"),
    "set_manner.starts_in": Words("in", "s", "1 h unless stated"),
    "set_manner.share": Words("On at most", "%"),
    "set_manner.share_of": Words("of any", "s"),
    "set_manner.idle": Words("Idle while", empty="never"),
    "set_manner.idle_for": Words("Off when idle for", "s"),
    "set_manner.idle_while": Words("but only while", empty="at once"),
    "set_manner.confirm": Words("Its sense input is", empty="none"),
    "set_manner.sense": Words("Sense input", empty="none"),
    "set_manner.other": Words("Other end", empty="none"),
    "set_manner.within": Words("May take", "s"),
    "set_manner.link": Words("Link lost"),
    "set_manner.link_level": Words("State without link", "%", "0 % is off"),
    "set_manner.hand": Words("Switch by hand"),
    "set_manner.hardware_limit": Words("Hardware ends it after", "s"),
    "add_interlock.gap": Words("Gap between", "s", "0 s unless stated"),
    "add_interlock.name": Words("Name", kind="name"),
    "set_interlock.gap": Words("Gap between", "s"),
    "set_interlock.name": Words("Name", kind="name"),
    "set_stagger.least": Words("", "s", "between two switch-ons"),
    "add_sequence.name": Words("Name", kind="name"),
    "add_sequence.happens": Words("Starts when", empty="nothing"),
    "set_sequence.name": Words("Name", kind="name"),
    "set_sequence.repeat": Words("Times", "", "0 until aborted", kind="count"),
    "add_phase.name": Words("Name of the phase", kind="name"),
    "set_phase.name": Words("Name", kind="name"),
    "set_phase.lasts": Words("Lasts", "s"),
    "set_phase.until": Words("or until", empty="its time is over"),
    "set_phase.until_true": Words("or until it is so that", empty="its time is over"),
    "set_phase.longest": Words("Longest", "s"),
    "set_phase.then": Words("then"),
    "set_phase_state.channel": Words("Channel", empty="choose one"),
    "set_phase_state.state": Words("is", "", "on, off, 30 %, or nothing", kind="name"),
    "set_after_abort.channel": Words("Channel", empty="choose one"),
    "set_after_abort.state": Words("is", "", "on, off, 30 %, or nothing", kind="name"),
    "add_macro.name": Words("Name", kind="name"),
    "add_macro.happens": Words("Starts when", empty="nothing"),
    "add_macro.channel": Words("First key", empty="choose one"),
    "set_macro.name": Words("Name", kind="name"),
    "set_macro.wait": Words("A press may wait", "s", "1 s unless stated"),
    "add_press.channel": Words("Key", empty="choose one"),
    "set_press.channel": Words("Key"),
    "set_press.hold": Words("Held", "s"),
    "set_press.gap": Words("Gap", "s"),
    "add_queue.name": Words("Name", kind="name"),
    "add_queue.happens": Words("Asked for when", empty="nothing"),
    "add_queue.delay": Words("Waits", "s"),
    "set_queue.name": Words("Name", kind="name"),
    "set_queue.delay": Words("Waits", "s"),
    "set_queue.length": Words("Room for", kind="count"),
    "add_named_condition.name": Words("Name", kind="name"),
    "add_named_condition.looks_at": Words("is so while", empty="nothing"),
    "rename_piece.name": Words("Name", kind="name"),
    "add_command.name": Words("Name", kind="name"),
    "set_behaviour.step": Words("One step", "s", "10 ms, or 1 ms where a pulse asks"),
    "set_behaviour.link_time_out": Words("Link lost after", "s", "never unless stated"),
    "set_behaviour.watchdog": Words("Watchdog", "s", "none unless stated"),
    "set_behaviour.access": Words("Who may command"),
    "add_chain.part": Words("Kind of package"),
    "add_chain.count": Words("Packages", "", "in a row, 1 to 16", kind="name"),
    "add_chain.name": Words("Name", "", "by its kind unless given", kind="name"),
    "set_chain.name": Words("Name", kind="name"),
    "set_chain.part": Words("Kind of package"),
    "set_chain.count": Words("Packages", "", "in a row, 1 to 16", kind="name"),
    "set_chain.rail": Words("Fed by", empty="the board's logic supply"),
    "set_chain.base": Words("Outputs count"),
    "set_chain.first": Words("The first output is"),
    "set_chain.enable": Words("What releases its outputs"),
    "set_chain.enable_pull": Words(
        "Pull at it", "", "auto (10 kΩ), none, or what is fitted", kind="name"
    ),
    "set_chain.clock": Words("Clocked at", "Hz", "by the program, such as 1 MHz"),
    "set_chain.idle": Words("The program's clock"),
    "set_chain.samples": Words("Read on its"),
    "set_chain.data_rests": Words("Data line rests"),
    "set_chain.note": Words("Note", kind="name"),
    "move_to_chain.channels": Words("Move to it", empty="a channel"),
    "set_input.name": Words("Name", kind="name"),
    "set_input.kind": Words("Kind"),
    "set_input.rest": Words("Contact"),
    "set_input.output": Words("Its output"),
    "set_input.rail": Words("Rail it senses or hangs on", empty="the board's logic supply"),
    "set_input.voltage": Words("Voltage there", "V", "the rail's unless stated; 10 to 15 V"),
    "set_input.gone_after": Words("Alarm without a reading for", "s", "none unless stated"),
    "set_input.moved_by": Words("Moved by", empty="no channel of this build"),
    "set_input.moved": Words("which way", empty="not stated"),
    "set_input.moved_by_much": Words("by how much", "", "in its own scale", kind="name"),
    "set_input.pull": Words(
        "Pull-up", "", "auto, internal, none, or ohms such as 4k7", kind="name"
    ),
    "set_input.pulled_to": Words("Pulled up to", empty="the board's logic supply"),
    "set_input.dark": Words("Resistance in the dark", "Ω", "as read in the place, such as 200 kΩ"),
    "set_input.bright": Words("Resistance in the light", "Ω", "as read there, such as 2 kΩ"),
    "set_input.holds": Words("Its output stays", "s", "after a movement, such as 3 s"),
    "set_input.warm_up": Words("Wakes up for", "s", "up to a minute unless stated"),
    "set_input.watches": Words("Conductor of", empty="not said"),
    "set_input.per_ampere": Words("Volts an ampere", "V", "such as 100 mV"),
    "set_input.part": Words("Coupler", empty="the smallest class"),
    "set_input.series": Words("In series with the pin", "Ω", "nothing unless stated"),
    "set_input.clamp": Words("Zener at the pin", "V", "none unless stated; such as 3.3 V"),
    "set_input.upper": Words("", "Ω"),
    "set_input.lower": Words("Lower resistor", "Ω", "10 kΩ unless stated"),
    "set_input.lowest": Words("Means at its left end", "", "turned fully left", kind="name"),
    "set_input.highest": Words(
        "Means at its right end", "", "lower than left turns it round", kind="name"
    ),
    "set_input.dead_end": Words("Dead end on each side", "%", "2 % unless stated"),
    "set_input.edge": Words("The program counts from"),
    "set_input.shift": Words(
        "Its zero comes later by", "s", "the transformer's own phase, as measured"
    ),
    "set_input.debounce": Words("Debounce", "s", "twice the usual bounce unless stated"),
    "set_input.sampled": Words("Looked at every", "s", "such as 10 ms"),
    "set_input.lead_length": Words("Length of its lead", "m", "half a metre unless stated"),
    "add_input.kind": Words("Kind"),
    "add_input.name": Words("Name", kind="name"),
    "add_input.voltage": Words(
        "Voltage there", "V", "for a divided voltage, an isolated input, a sensor; else empty"
    ),
    "add_input.rail": Words("Rail it senses or hangs on", empty="the board's logic supply"),
    "set_confirmation.confirmed_by": Words(empty="nothing"),
    "add_channel.kind": Words("Kind of load"),
    "add_channel.voltage": Words("Rated voltage", "V", "such as 12 V"),
    "add_channel.figure": Words(
        "Current, power or resistance", "A|W|Ω", "one is enough: 80 mA, 5 W, 72 Ω ±10 %"
    ),
    "add_channel.many": Words("How many", "", "numbered where several", kind="count", held="1"),
    "change_several.rail": Words("Rail", empty="as it is"),
    "change_several.stage": Words("Stage", empty="as it is"),
    "change_several.wire_length": Words("Length of its wire", "m"),
    "change_several.wire_area": Words("Cross-section", "mm²"),
    "change_several.fuse": Words("Slow fuse of its own", "A"),
    "add_channel.name": Words("What it is called", kind="name"),
    "set_route.interlock": Words("Kept apart by"),
    "set_route.gap": Words("Pause between", "s"),
    "add_route.name": Words("What the line is called", kind="name"),
    "add_route.interlock": Words("Kept apart by"),
    "add_route.gap": Words("Pause between", "s", "from one off to the next on"),
    "add_rail.voltage": Words("Voltage", "V", "12 V, 12 V ±3 %, 9.6 to 12.6 V"),
    "add_rail.source": Words("Kind of supply"),
    "add_rail.rating": Words("Rating", "A", "such as 2 A; may stay open"),
    "add_rail.name": Words("Name", kind="name"),
    "set_watchdog.watchdog": Words(
        "A watchdog releases the outputs of a hung program", empty="not stated"
    ),
    "set_machine.stores_high_voltage": Words("Stores high voltage inside"),
    "set_machine.remote_line.exists": Words("Has a remote line"),
    "set_machine.remote_line.supply": Words("Supply of that line"),
    "set_machine.button.exists": Words("Has a button to bridge"),
    "set_machine.button.supply": Words("Supply of the button"),
    "set_machine.button.opens": Words("Must be opened for it"),
    "set_machine.supply_side.supply": Words("It is fed from"),
    "set_machine.inside.supply": Words("Its inside is"),
    "add_machine.name": Words("What is it?", kind="name", held="Attic fan with a remote"),
    "set_wire.wire_length": Words("Length to the load", "m", "one way"),
    "set_wire.wire_area": Words("Cross-section", "mm²"),
    "set_wire.block": Words("Begins at", empty="the rail's own point"),
    "set_wire.cable": Words("Runs in", empty="wires of its own"),
    "add_block.rail": Words("On rail"),
    "add_block.kind": Words("It is"),
    "add_block.name": Words("Name", kind="name", held="Block by the door"),
    "set_block.name": Words("Name", kind="name"),
    "set_block.kind": Words("It is"),
    "set_block.behind": Words("Hangs on", empty="the rail's own point"),
    "set_block.cable": Words("Runs in", empty="wires of its own"),
    "set_block.wire_length": Words("Length to it", "m", "one way"),
    "set_block.wire_area": Words("Cross-section", "mm²"),
    "set_block.rating": Words("Printed for", "A"),
    "set_block.places": Words("Places in each pole", kind="count"),
    "add_cable.name": Words("Name", kind="name", held="Cable to the attic"),
    "add_cable.cores": Words("Cores", kind="count"),
    "set_cable.name": Words("Name", kind="name"),
    "set_cable.cores": Words("Cores", kind="count"),
    "set_cable.wire_length": Words("Length", "m", "for every wire in it that states none"),
    "set_cable.wire_area": Words("Cross-section of a core", "mm²"),
    "set_cable.laid": Words("Laid"),
    "add_metal.name": Words("What is it?", kind="name", held="Base plate"),
    "set_metal.name": Words("Name", kind="name"),
    "set_wire.through": Words("Through", "", "a plug or adapter, if any", kind="name"),
    "set_wire.fuse": Words("Slow fuse of its own", "A", "where the rail's is too large for it"),
    "set_wire.fuse_volts": Words("Printed volts", "V", "such as 250 V"),
    "set_wire.fuse_for": Words("Printed for"),
    "set_wire.fuse_breaking": Words("Breaking capacity"),
    "set_wire.fuse_poles": Words("A fuse in"),
    "set_series_switch.series_switch": Words(
        "In series with it", empty="nothing: the contact makes and breaks"
    ),
    "accept_finding.reason": Words("Reason"),
    "set_load.kind": Words("Kind"),
    "set_load.voltage": Words("Rated voltage", "V"),
    "set_load.figure": Words("Current, power or resistance", "A|W|Ω"),
    "set_load.surge": Words("Surge, if measured", "A"),
    "set_load.surge_time": Words("and lasts", "s"),
    "set_load.count": Words(
        "How many side by side", "", "the figures are those of one", kind="count"
    ),
    "set_load.protection": Words(
        "Its class", hint="a ground sign or a double square on its label", empty="not stated"
    ),
    "set_load.inductance": Words("Inductance, if measured", "H"),
    "set_load.pull_in": Words("Pull-in", "V|%"),
    "set_load.maximum": Words("Most it bears", "V|%"),
    "set_load.release": Words("Release", "V|%"),
    "set_load.longest_rated": Words("Bears being on for", "s", "empty: for good"),
    "set_load.duty_rated": Words("Bears a share of time on", "%", held="100 %"),
    "set_load.cut_off": Words("Hardware ends it after", "s", "a timer or cut-out, not the program"),
    "set_load.least_on": Words("Wants to run at least", "s", "by its data sheet; empty: nothing"),
    "set_load.rows": Words("Rows", "", "1 to 24", kind="name"),
    "set_load.columns": Words("Columns", "", "1 to 24", kind="name"),
    "set_load.act_after": Words("Acts on a pulse of", "s", "the least, by its data sheet"),
    "set_load.armature": Words("Its armature moves in", "s", "once the current is there"),
    "set_load.copper": Words("Weight of its copper", "g", "for what a stuck pulse does to it"),
    "set_load.may_warm": Words("It may warm by", "K", "empty: to 105 °C, the lowest wire class"),
    "set_load.least_off": Words("Wants to rest at least", "s"),
    "set_load.returned": Words(
        "Gives back when braked", "J", "a weight let down, a flywheel; empty: nothing"
    ),
    "set_load.least_volts": Words("Least it works at", "V", "as printed; empty: as its kind does"),
    "set_load.ignores": Words(
        "Takes no notice of", "A", "leakage it neither glows nor hums at, as printed or measured"
    ),
    "set_load.dimmable": Words("Marked as dimmable", empty="not stated"),
    "set_switching.pwm": Words("PWM", "Hz", "empty: on and off"),
    "set_switching.duty": Words("Share of time on", "%", held="100 %"),
    "set_switching.full_first": Words(
        "Full on before the pulses", "s", "of a coil held by pulses, such as 100 ms"
    ),
    "set_switching.on_share": Words(
        "In use", "%", "share of all time in which it is pulsed or on at all", held="100 %"
    ),
    "set_switching.longest_on": Words("Longest on", "s"),
    "set_switching.shortest_on": Words("Shortest on", "s", "before it is switched off again"),
    "set_switching.shortest_off": Words("Shortest off", "s", "before it is switched on again"),
    "set_use.when_dead": Words("When everything is dead it must be"),
    "set_use.years": Words(
        "Years it should last", "", "five unless said; for the life of a contact", kind="count"
    ),
    "set_use.cycles_per_day": Words("Times a day", "", "for the life of a contact", kind="count"),
    "set_use.release_within": Words("Coil lets go within", "s"),
    "set_use.irreplaceable": Words(
        "What it drives", "", "if not, first power takes no short way", empty="can be had again"
    ),
    "set_use.on_level": Words("On in the program is", empty="not said"),
    "set_pin.pin": Words("Pin", empty="no pin"),
    "set_channel_rail.rail": Words("Rail", empty="no rail"),
    "rename_channel.name": Words("Name", kind="name"),
}


def words_of(address: str) -> Words:
    """
    Of a field by its address.

    >>> words_of("add_rail.rating").unit
    'A'
    """
    return FIELDS.get(address, NO_WORDS)
