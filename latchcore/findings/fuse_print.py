"""What is printed on a fuse: volts, kind of current, breaking capacity, poles."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding, Remedy
from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import falls_short

#: Sources that can drive far more than their rating into a short.
UNLIMITED = ("battery", "mains", "mains_derived", "ac_low", "unregulated")


#: Voltages fuses are printed for [V].
PRINTED = (32.0, 63.0, 125.0, 250.0, 500.0)


def hard(around: BuildContext, rail: Rail) -> bool:
    """Whether a source drives so much into a short that the fuse's own print has to be known."""
    return rail.source in around.hard_sources or around.hazardous(rail)


def _kind(around: BuildContext, rail: Rail) -> str:
    return "alternating" if around.alternating(rail) else "direct"


def _across(around: BuildContext, rail: Rail) -> float:
    """
    Volts a fuse stands in: printed mains ratings are compared with nominal mains, direct ones with
    the highest.
    """
    volts = around.rail_volts(rail)
    return volts.typ if around.alternating(rail) else volts.max


def _both(around: BuildContext, rail: Rail) -> bool:
    return (
        around.hazardous(rail)
        and around.alternating(rail)
        and (around.two_lives(rail) or around.plug_of(rail) == "reversible")
    )


def printed(around: BuildContext, rail: Rail) -> tuple[dict[str, str], str]:
    """What must be printed on a fuse of a rail, as fields and in words."""
    kind, both, capable = _kind(around, rail), _both(around, rail), hard(around, rail)
    least = next((v for v in PRINTED if v >= _across(around, rail)), PRINTED[-1])
    fields = (
        {"fuse_volts": f"{least:g} V", "fuse_for": kind}
        | ({"fuse_breaking": "high"} if capable else {})
        | ({"fuse_poles": "every"} if both else {})
    )
    return fields, f"printed {least:g} V {kind} current" + (
        ", high breaking capacity" if capable else ""
    ) + (", one in every live pole" if both else "")


def prints(around: BuildContext, rail: Rail, of: Rail | Channel) -> Iterator[Finding]:
    """
    Volts, kind of current, breaking capacity and poles of the fuse of a rail, or of a channel on
    it; a check while a hard source leaves them open.
    """
    across, kind, both = _across(around, rail), _kind(around, rail), _both(around, rail)
    fitting, words = printed(around, rail)
    if isinstance(of, Rail):
        where, edit = f"rail:{of.id}", ("set_rail", {"rail": of.id} | fitting)
    else:
        where, edit = of.id, ("set_wire", {"channel": of.id} | fitting)
    mend = (Remedy(f"Fit one {words}, and say so", (edit,)),)
    wrong = []
    if of.fuse_volts and falls_short(parse(of.fuse_volts, "V"), across):
        wrong.append(f"it is printed {of.fuse_volts} and stands in {show(across, 'V')}")
    if of.fuse_for not in ("unknown", "both", kind):
        wrong.append(f"it is printed for {of.fuse_for} current and stands in {kind}")
    if hard(around, rail) and of.fuse_breaking == "low":
        wrong.append("its breaking capacity is low and this source drives far more into a short")
    if both and of.fuse_poles == "one":
        wrong.append("one pole is fused where both are, or may be, live")
    if wrong:
        said = "; ".join(wrong)
        yield Finding(
            "S7",
            "stop" if rail.source in UNLIMITED or around.hazardous(rail) else "fix",
            where,
            f"The fuse of {of.name} does not end a short",
            f"{said[0].upper()}{said[1:]}.",
            "A fuse that cannot put its own arc out goes on burning, or bursts.",
            "a short at the far end",
            remedies=mend,
            lasting=around.hazardous(rail),
        )
        return
    known = {
        "volts": of.fuse_volts,
        "kind of current": of.fuse_for != "unknown",
        "breaking capacity": of.fuse_breaking != "unknown",
    } | ({"poles": of.fuse_poles != "unknown"} if both else {})
    if hard(around, rail) and (open_ := [name for name, said in known.items() if not said]):
        yield Finding(
            "S7",
            "check",
            where,
            f"What is printed on the fuse of {of.name}?",
            f"Not stated: {', '.join(open_)}.",
            "It must be printed for this voltage and current, and end a short of this source; a"
            " fuse from the drawer may be made for a car.",
            remedies=mend,
        )
