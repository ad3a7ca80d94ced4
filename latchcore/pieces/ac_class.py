"""Voltage classes on a line: of what switches it, of its driver, of the varistor across it."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.pieces.contact_join import VARISTORS
from latchcore.sums import suppression

#: Off-state voltage that is wanted: line up to [V rms], plainly, and with an inductive load or a
#: varistor [V].
CLASSES = (
    (50.0, None, None),
    (150.0, 400.0, 600.0),
    (260.0, 600.0, 800.0),
    (500.0, 1200.0, 1200.0),
)
#: A varistor clamps at about so many times its continuous rating.
CLAMPS = 2.6


def wanted_class(line: float, hard: bool) -> float:
    """
    Repetitive off-state voltage a device wants on a line [V]; twice the peak on low voltage.

    Examples
    --------
    >>> wanted_class(230, False), wanted_class(230, True), wanted_class(120, True), round(
    ...     wanted_class(24, False))
    (600.0, 800.0, 600.0, 68)
    """
    for most, plain, heavy in CLASSES:
        if line <= most:
            if plain is None or heavy is None:
                return 2 * line * 2**0.5
            return heavy if hard else plain
    return CLASSES[-1][2]


def varistor_of(context: ChannelContext) -> float | None:
    """Continuous rating of the varistor across the line [V rms], where one is fitted."""
    if context.setting("varistor") != "fitting":
        return None
    stated = context.given("varistor_rating", "V")
    return stated or suppression.varistor(context.volts.max, VARISTORS)


def varistor_measure(context: ChannelContext, result: StageResult) -> None:
    """A6: a varistor somebody chose against the highest line."""
    stated = context.given("varistor_rating", "V")
    if not stated or context.setting("varistor") != "fitting":
        return
    least = result.working.calc(
        "V_var_least",
        "k*V_line_max",
        "V",
        "highest line",
        k=(suppression.VARISTOR_MARGIN, ""),
        V_line_max=(context.volts.max, "V"),
    )
    result.working.note("V_var", "as printed", "V", stated, {}, {})
    result.measures.append(
        Measure(
            "varistor",
            "A6",
            "Continuous volts of the varistor",
            "V",
            stated,
            "min",
            "highest line",
            "V_var",
            "Under it the varistor conducts at every peak, warms and burns.",
            stop=least,
            stop_name="what the highest line asks",
        )
    )


def class_measure(context: ChannelContext, result: StageResult, v_drm: float, what: str) -> None:
    """A6: off-state voltage class of a device against the line."""
    w, line = result.working, context.volts.typ
    across_load = context.setting("load_clamp") == "varistor"
    hard = context.load.kind.inductive or context.setting("varistor") == "fitting" or across_load
    need = wanted_class(line, hard)
    if rating := varistor_of(context):
        printed = context.given("varistor_clamp", "V")
        need = max(
            need,
            w.note("V_clamp", "as printed on the varistor", "V", printed, {}, {})
            if printed
            else w.calc(
                "V_clamp",
                "k*V_var",
                "V",
                "a varistor at its surge",
                k=(CLAMPS, ""),
                V_var=(rating, "V"),
            ),
        )
    w.note(f"V_DRM_{what}", "as printed", "V", v_drm, {}, {})
    result.measures.append(
        Measure(
            f"class_{what}",
            "A6",
            f"Off-state voltage of the {what}",
            "V",
            v_drm,
            "min",
            "inductive load or varistor" if hard else "spikes on the line",
            f"V_DRM_{what}",
            "A spike over it turns it on by itself, or for ever.",
            stop=need,
            stop_name="class this line wants",
        )
    )
