"""What the loads of the demo builds do, as the edits a builder would make."""

#: A storm at the touch of the prompt button: curtain, lamps, thunder; never fog under the house
#: lamp, whose heat would lift it.
THEATRE_SCENE = [
    ("add_sequence", {"name": "Storm", "happens": "press:in16"}),
    ("set_event", {"piece": "sq29", "path": "abort", "happens": "hold:in16"}),
    ("set_event_time", {"piece": "sq29", "path": "abort", "over": "2 s"}),
    ("set_phase", {"sequence": "sq29", "phase": "0", "name": "Dusk", "lasts": "3 s"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "0", "channel": "ch6", "state": "on"}),
    ("add_phase", {"sequence": "sq29", "name": "Curtain"}),
    (
        "set_phase",
        {
            "sequence": "sq29",
            "phase": "1",
            "until_true": "input:in14.2",
            "longest": "9 s",
            "then": "abort",
        },
    ),
    ("set_phase_state", {"sequence": "sq29", "phase": "1", "channel": "ch10", "state": "on"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "1", "channel": "ch6", "state": "on"}),
    ("add_phase", {"sequence": "sq29", "name": "Fog"}),
    ("set_phase", {"sequence": "sq29", "phase": "2", "lasts": "12 s"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "2", "channel": "ch19", "state": "on"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "2", "channel": "ch11", "state": "40 %"}),
    ("add_phase", {"sequence": "sq29", "name": "Thunder"}),
    ("set_phase", {"sequence": "sq29", "phase": "3", "lasts": "300 ms"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "3", "channel": "ch7", "state": "on"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "3", "channel": "ch11", "state": "on"}),
    ("add_phase", {"sequence": "sq29", "name": "Clearing"}),
    (
        "set_phase",
        {
            "sequence": "sq29",
            "phase": "4",
            "until_true": "input:in14",
            "longest": "9 s",
            "then": "stop",
        },
    ),
    ("set_phase_state", {"sequence": "sq29", "phase": "4", "channel": "ch10.2", "state": "on"}),
    ("set_phase_state", {"sequence": "sq29", "phase": "4", "channel": "ch3", "state": "70 %"}),
    ("set_after_abort", {"sequence": "sq29", "channel": "ch3", "state": "30 %"}),
    ("add_rule", {"channel": "ch18", "kind": "while", "looks_at": "over:in15"}),
    (
        "set_condition_figures",
        {"piece": "ru30", "path": "condition", "at": "20", "hysteresis": "5"},
    ),
    ("set_manner", {"channel": "ch18", "returns": "standing"}),
    (
        "add_interlock",
        {"channels": "ch18,ch19", "gap": "2 s", "name": "Lamp or fog"},
    ),
    ("set_manner", {"channel": "ch19", "longest_on": "60 s", "least_off": "10 s"}),
    ("set_manner", {"channel": "ch7", "longest_on": "400 ms"}),
    ("set_manner", {"channel": "ch10", "longest_on": "10 s"}),
    ("set_manner", {"channel": "ch10.2", "longest_on": "10 s"}),
    ("add_interlock", {"channels": "ch10,ch10.2", "gap": "500 ms", "name": "Curtain turns round"}),
]

#: Lamps by the time of day; the mat under a warmth, the vent over another.
VENTS_SENSED = [
    (
        "add_input",
        {
            "kind": "analogue",
            "name": "Warmth inside",
            "voltage": "0.1 to 2 V",
            "lowest": "0",
            "highest": "50",
        },
    ),
    (
        "set_input",
        {
            "what": "in7",
            "series": "4.7 kΩ",
            "moved_by": "ch3",
            "moved": "up",
            "moved_by_much": "1.5",
        },
    ),
]
VENTS_RULES = [
    ("begin_pattern", {"channel": "ch3", "pattern": "two_levels", "level": "in7"}),
    (
        "set_condition_figures",
        {"piece": "ru8", "path": "condition", "at": "16", "hysteresis": "2"},
    ),
    ("set_manner", {"channel": "ch3", "returns": "anew", "longest_on": "40 min"}),
    ("add_rule", {"channel": "ch5", "kind": "while", "looks_at": "over:in7"}),
    (
        "set_condition_figures",
        {
            "piece": "ru9",
            "path": "condition",
            "at": "27",
            "hysteresis": "3",
            "for_at_least": "30 s",
        },
    ),
    ("set_manner", {"channel": "ch5", "least_off": "2 min", "longest_on": "3 h"}),
    ("add_rule", {"channel": "ch4", "kind": "while", "looks_at": "between"}),
    (
        "set_condition_figures",
        {"piece": "ru10", "path": "condition", "begin": "06:30", "end": "20:00"},
    ),
    ("set_manner", {"channel": "ch4", "returns": "standing"}),
]
#: The same as it was first written: the mat warms what is warm already, and nothing ends it.
VENTS_FAULTS = [
    ("set_condition", {"piece": "ru8", "path": "condition", "looks_at": "over:in7"}),
    (
        "set_condition_figures",
        {"piece": "ru8", "path": "condition", "at": "16", "hysteresis": "2"},
    ),
    ("set_manner", {"channel": "ch3", "returns": "standing", "longest_on": ""}),
    ("rename_build", {"name": "Fernhouse vents, first try"}),
]

#: The mat warms while the soil is cold, says whether it draws, and has its limits.
MAT_RULES = [
    ("add_rule", {"channel": "ch5", "kind": "while", "looks_at": "rest:in3"}),
    (
        "set_condition_figures",
        {"piece": "ru6", "path": "condition", "for_at_least": "20 s"},
    ),
    (
        "set_manner",
        {
            "channel": "ch5",
            "longest_on": "30 s",
            "least_off": "45 s",
            "confirm": "same",
            "sense": "in4",
            "within": "2 s",
        },
    ),
    ("set_behaviour", {"watchdog": "2 s"}),
]
