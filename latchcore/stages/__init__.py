"""One module a drive stage, all with the same small interface: ``suits`` and ``size`` (which joins the netlist)."""

from latchcore.stages import direct_pin, nmos_low_side, npn_low_side
from latchcore.stages.base import Stage

STAGES: dict[str, Stage] = {stage.kind: stage for stage in (npn_low_side, nmos_low_side, direct_pin)}


def missing_facts(context) -> list[str]:
    """What must be said before the channel's stage can be computed."""
    own = getattr(STAGES[context.channel.stage.kind], "missing", None)
    return own(context) if own else context.missing
