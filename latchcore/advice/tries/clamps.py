"""What catches a coil, and what lies across a load."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried


@tried
def add_clamp(case: Case) -> Iterator[Candidate]:
    """A diode, or diode and zener for a quicker release."""
    yield "Add a {clamp_diode}, band to the rail", case.setting(clamp="diode", clamp_band="rail")
    yield (
        "Add diode and zener for a quicker release",
        case.setting(clamp="diode_zener", clamp_band="rail"),
    )


@tried
def higher_zener(case: Case) -> Iterator[Candidate]:
    """The lowest zener that is soon enough leaves the switch the most room."""
    for zener in sorted(case.context.around.family("zener"), key=lambda z: z.v_z.typ):
        yield (
            "Use diode and zener: {clamp_zener}",
            case.setting(clamp="diode_zener", clamp_zener=zener.id, clamp_band="rail"),
        )


@tried
def turn_clamp(case: Case) -> Iterator[Candidate]:
    """The clamp the right way round, or another."""
    yield "Turn the diode round, band to the rail", case.setting(clamp_band="rail")
    yield "Use the {clamp_zener}", case.setting(clamp_zener="auto")
    yield "Use a plain diode instead", case.setting(clamp="diode", clamp_band="rail")


@tried
def clamp_part(case: Case) -> Iterator[Candidate]:
    """A clamp of the size that is wanted."""
    yield "Use the {clamp_diode}", case.setting(clamp_diode="auto")
    if "clamp_zener" in case.fixed:
        yield "Use the {clamp_zener}", case.setting(clamp_zener="auto")
    if case.fixed.get("clamp", "diode") != "diode":
        yield "Use a plain diode instead", case.setting(clamp="diode")


@tried
def load_clamp(case: Case) -> Iterator[Candidate]:
    """What fits the load, across it."""
    if "load_clamp" in case.fixed:
        yield (
            "Put across the load what fits it: {load_diode}{snubber}",
            case.setting(load_clamp="auto"),
        )


@tried
def snubber(case: Case) -> Iterator[Candidate]:
    """A snubber of the right class and size."""
    ways = (
        ("snubber_class", "A capacitor of class X2: {snubber}"),
        ("snubber_resistor", "Let its resistor be sized: {snubber}"),
        ("quench", "Put across the switch what fits: {snubber}"),
    )
    for key, words in ways:
        if key in case.fixed:
            yield words, case.setting(**{key: "auto"})
