"""What is printed on a fuse: volts, kind of current, breaking capacity, poles."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding, Remedy
from latchcore.document.models import Rail
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import falls_short
from latchcore.whole.rails import RailReport

#: Sources that can drive far more than their rating into a short.
UNLIMITED = ("battery", "mains", "mains_derived", "ac_low", "unregulated")


#: Voltages fuses are printed for [V].
PRINTED = (32.0, 63.0, 125.0, 250.0, 500.0)


def as_stated(rail: Rail) -> str:
    """
    A rail's fuse in the words of a shopping list; empty without one.

    Examples
    --------
    >>> as_stated(Rail(id="rail1", name="line", voltage="230 V", fuse="1.6 A", fuse_volts="250 V",
    ...     fuse_breaking="high"))
    'slow 1.6 A, 250 V, high breaking capacity'
    """
    if not rail.fuse:
        return ""
    current = {
        "alternating": "alternating current",
        "direct": "direct current",
        "both": "either current",
    }.get(rail.fuse_for, "")
    words = [
        f"slow {show(parse(rail.fuse, 'A'), 'A')}",
        " ".join(filter(None, [rail.fuse_volts, current])),
        f"{rail.fuse_breaking} breaking capacity" if rail.fuse_breaking != "unknown" else "",
    ]
    return ", ".join(filter(None, words))


def hard(around: BuildContext, rail: Rail) -> bool:
    """Whether a source drives so much into a short that the fuse's own print has to be known."""
    return rail.source in around.hard_sources or around.hazardous(rail)


def _kind(around: BuildContext, rail: Rail) -> str:
    return "alternating" if around.alternating(rail) else "direct"


def _across(around: BuildContext, rail: Rail, report: RailReport) -> float:
    """
    Volts a fuse stands in: printed mains ratings are compared with nominal mains, direct ones with
    the highest.
    """
    return report.volts.typ if around.alternating(rail) else report.volts.max


def _both(around: BuildContext, rail: Rail) -> bool:
    return (
        around.hazardous(rail)
        and around.alternating(rail)
        and (rail.lives == "two" or rail.plug == "reversible")
    )


def printed(around: BuildContext, rail: Rail, report: RailReport) -> tuple[dict[str, str], str]:
    """What must be printed on a fuse of a rail, as fields and in words."""
    kind, both, capable = _kind(around, rail), _both(around, rail), hard(around, rail)
    least = next((v for v in PRINTED if v >= _across(around, rail, report)), PRINTED[-1])
    fields = (
        {"fuse_volts": f"{least:g} V", "fuse_for": kind}
        | ({"fuse_breaking": "high"} if capable else {})
        | ({"fuse_poles": "every"} if both else {})
    )
    return fields, f"printed {least:g} V {kind} current" + (
        ", high breaking capacity" if capable else ""
    ) + (", one in every live pole" if both else "")


def _printed(around: BuildContext, rail: Rail, report: RailReport) -> Iterator[Finding]:
    """
    Volts, kind of current, breaking capacity and poles of a fuse as stated; a check while a hard
    source leaves them open.
    """
    where, across, kind, both = (
        f"rail:{rail.id}",
        _across(around, rail, report),
        _kind(around, rail),
        _both(around, rail),
    )
    fitting, words = printed(around, rail, report)
    mend = (Remedy(f"Fit one {words}, and say so", (("set_rail", {"rail": rail.id} | fitting),)),)
    wrong = []
    if rail.fuse_volts and falls_short(parse(rail.fuse_volts, "V"), across):
        wrong.append(f"it is printed {rail.fuse_volts} and stands in {show(across, 'V')}")
    if rail.fuse_for not in ("unknown", "both", kind):
        wrong.append(f"it is printed for {rail.fuse_for} current and stands in {kind}")
    if hard(around, rail) and rail.fuse_breaking == "low":
        wrong.append("its breaking capacity is low and this source drives far more into a short")
    if both and rail.fuse_poles == "one":
        wrong.append("one pole is fused where both are, or may be, live")
    if wrong:
        said = "; ".join(wrong)
        yield Finding(
            "S7",
            "stop" if rail.source in UNLIMITED or around.hazardous(rail) else "fix",
            where,
            f"The fuse of {rail.name} does not end a short",
            f"{said[0].upper()}{said[1:]}.",
            "A fuse that cannot put its own arc out goes on burning, or bursts.",
            "a short at the far end",
            remedies=mend,
            lasting=around.hazardous(rail),
        )
        return
    known = {
        "volts": rail.fuse_volts,
        "kind of current": rail.fuse_for != "unknown",
        "breaking capacity": rail.fuse_breaking != "unknown",
    } | ({"poles": rail.fuse_poles != "unknown"} if both else {})
    if hard(around, rail) and (open_ := [name for name, said in known.items() if not said]):
        yield Finding(
            "S7",
            "check",
            where,
            f"What is printed on the fuse of {rail.name}?",
            f"Not stated: {', '.join(open_)}.",
            "It must be printed for this voltage and current, and end a short of this source; a"
            " fuse from the drawer may be made for a car.",
            remedies=mend,
        )
