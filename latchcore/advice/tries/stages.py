"""Other stages for the load, other rails."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.pieces.frame import FED, POWER
from latchcore.stages import STAGES

#: Volts adapters commonly give.
ADAPTERS = (3.3, 5.0, 6.0, 7.5, 9.0, 12.0, 13.5, 15.0, 18.0, 19.0, 24.0, 27.0, 36.0, 48.0)
#: Stages for direct current, the plainest first.
DIRECT = (
    ("nmos_low_side", "a MOSFET: {transistor}"),
    ("npn_low_side", "a bipolar transistor: {transistor}"),
    ("pmos_high_side", "a P-channel above the load: {transistor}"),
    ("coupler_nmos", "a coupler and a MOSFET: {transistor}"),
    ("solid_module", "a solid-state module: the {module}"),
    ("pv_igbt", "a photovoltaic coupler and an IGBT: {transistor}"),
)
#: Stages for alternating current; a contactor carries what no relay should.
ALTERNATING = (
    ("relay_contact", "a relay: the {relay}"),
    ("contactor", "a {contactor}"),
    ("triac_coupler", "a {triac}, fired by a coupler"),
    ("solid_relay", "a {device}"),
)
#: A load is not moved to a rail whose volts are further from its own than this share.
NEAR = 0.25


def _stages(case: Case, both: bool = False) -> Iterator[Candidate]:
    """
    Other stages for a power load; on a hazardous rail only those with a barrier between board and
    load.
    """
    context = case.context
    if context.load.kind.model not in POWER:
        return
    for kind, words in ALTERNATING if context.alternating else (*DIRECT, ALTERNATING[0]):
        if kind == case.result.kind or (context.dangerous and not STAGES[kind].traits.isolates):
            continue
        # Where one pole would leave a live one on the load, only two will do.
        two = {"breaks": "both"} if both and kind in ("relay_contact", "contactor") else {}
        yield f"Use {words}" + (", both sides broken" if two else ""), case.stage(kind, **two)


@tried
def stages(case: Case) -> Iterator[Candidate]:
    """Other stages."""
    yield from _stages(case)


@tried
def stages_both_sides(case: Case) -> Iterator[Candidate]:
    """Other stages that break both sides."""
    yield from _stages(case, both=True)


@tried
def fitting_stages(case: Case) -> Iterator[Candidate]:
    """Other stages where the present one is not made for the load."""
    if STAGES[case.result.kind].suits(case.context) is not None:
        yield from _stages(case)


@tried
def any_fitting_stage(case: Case) -> Iterator[Candidate]:
    """Stages made for loads that are no power loads: lines, pairs, knobs."""
    context = case.context
    if context.load.kind.model in POWER:
        return
    for kind, stage in STAGES.items():
        if stage.suits(context) is None:
            yield f"Use {stage.title[0].lower()}{stage.title[1:]}", case.stage(kind)


@tried
def own_supply(case: Case) -> Iterator[Candidate]:
    """An adapter of the load's own volts, for a load of low voltage."""
    context = case.context
    rated = f"{context.load.rated:g} V"
    if not context.dangerous and not context.alternating and context.load.rated <= 60:
        yield f"Add a {rated} adapter for it", case.edit("feed_load", voltage=rated)


@tried
def higher_supply(case: Case) -> Iterator[Candidate]:
    """The least common adapter that makes up for what its drivers take."""
    context, measure = case.context, case.finding.measure
    if measure is None or measure.unit != "V" or measure.fix is None or context.dangerous:
        return
    if context.rail is None or context.alternating or measure.worst <= 0:
        return
    now = context.around.rail_volts(context.rail)
    need = (now.min + measure.fix - measure.worst) * now.typ / now.min
    volts = next((v for v in ADAPTERS if now.typ < need <= v), None)
    if volts is not None:
        yield f"Add a {volts:g} V adapter for it", case.edit("feed_load", voltage=f"{volts:g} V")


@tried
def rails(case: Case) -> Iterator[Candidate]:
    """
    Other rails about as high as the load is made for; never one that is hazardous where the present
    one is not.
    """
    context, around = case.context, case.context.around
    for rail in around.build.rails:
        far = abs(around.rail_volts(rail).typ - context.load.rated) > NEAR * context.load.rated
        if rail.id == context.channel.rail or (far and context.load.kind.model in FED):
            continue
        if context.dangerous or not around.hazardous(rail):
            yield f"Feed it from {rail.name}", case.edit("set_channel_rail", rail=rail.id)
