"""What every page knows."""

SERIES = (("E12", "E12, 5 %"), ("E24", "E24, 5 %"), ("E96", "E96, 1 %"))
PLUGS = (
    ("unknown", "not known"),
    ("polarised", "fits one way only, or fixed"),
    ("reversible", "can be turned round"),
)
LIVES = (("one", "one live, one neutral"), ("two", "two lives, no neutral"))
PLACES = (("dry", "in a dry place"), ("damp", "damp, wet or outdoors"))
FUSE_FOR = (
    ("unknown", "not known"),
    ("alternating", "alternating current"),
    ("direct", "direct current"),
    ("both", "both"),
)
FUSE_BREAKING = (
    ("unknown", "not known"),
    ("high", "high: ceramic, filled"),
    ("low", "low: a glass tube"),
)
FUSE_POLES = (("unknown", "not known"), ("one", "one pole"), ("every", "every live pole"))
INTERLOCKS = (
    ("program", "the program, with a pause"),
    ("wired", "wiring: one contact stops the other"),
    ("none", "nothing"),
)
GROUNDS = (("shared", "joined with the board's"), ("own", "kept apart"))
CONVERTERS = (
    ("isolating", "an approved safety-isolating adapter"),
    ("linear", "a linear regulator"),
    ("switching", "a switching regulator"),
)
LITHIUM = (
    ("no", "it is not lithium"),
    ("protected", "protected, with cut-off and charger"),
    ("bare", "bare cells"),
)
LAID = (
    ("free", "free in air"),
    ("bundled", "bundled"),
    ("enclosed", "enclosed"),
    ("coiled", "coiled"),
)
ENTRIES = (("plug", "a lead with a plug"), ("inlet", "an inlet in the box"))
BLOCKS = (("block", "a terminal block"), ("outlet", "an outlet a load plugs into"))
CLASSES = (
    ("class_i", "I: its metal is earthed"),
    ("class_ii", "II: doubly insulated, a square in a square"),
)
SCHOOLS = (
    ("auto", "forced gain of 10, else overdrive"),
    ("forced_gain", "forced gain of 10"),
    ("overdrive", "least gain, overdrive of 3"),
)


def look(request):
    """Light or dark as chosen, else as the device says."""
    chosen = request.COOKIES.get("look")
    choices = {
        "dead_choices": (("unknown", "not said"), ("off", "off"), ("on", "on")),
        "again_choices": (("yes", "cannot be had again"),),
        "level_choices": (("high", "pin high"), ("low", "pin low")),
        "stock_choices": (
            ("no", "no, the best value"),
            ("yes", "yes, where it satisfies every corner"),
        ),
        "ground_choices": GROUNDS,
        "feed_choices": (
            ("module", "inputs on the module's rail, jumper on"),
            ("logic", "inputs on the board's logic supply, jumper off"),
        ),
        "plug_choices": PLUGS,
        "yes_no": (("yes", "yes"), ("no", "no")),
        "converter_choices": CONVERTERS,
        "lithium_choices": LITHIUM,
        "laid_choices": LAID,
        "lives_choices": LIVES,
        "entry_choices": ENTRIES,
        "block_choices": BLOCKS,
        "class_choices": CLASSES,
        "interlock_choices": INTERLOCKS,
        "place_choices": PLACES,
        "fuse_for_choices": FUSE_FOR,
        "fuse_breaking_choices": FUSE_BREAKING,
        "fuse_pole_choices": FUSE_POLES,
        "series_choices": SERIES,
        "school_choices": SCHOOLS,
    }
    return choices | {"look": chosen if chosen in ("light", "dark") else "auto"}
