"""
Which settings of a stage are worth asking about as the channel stands: a way of clamping is asked
of a coil only, a snubber's figures where a snubber is fitted, a module's jumper where it has one.
"""

from __future__ import annotations

from latchcore.catalogue import Catalogue
from latchcore.design.report import StageResult
from latchcore.design.stage import Setting, Stage
from latchcore.document.models import Channel
from latchcore.stages import STAGES

#: A stage that drives one of these has a coil to clamp whatever its load is.
WITH_A_COIL = ("relay", "reed")


def asked_settings(
    channel: Channel, result: StageResult | None, catalogue: Catalogue
) -> list[Setting]:
    """
    The settings that have a bearing while the others are as they are.

    Parameters
    ----------
    channel : Channel
        As the user has it
    result : StageResult or None
        Of the channel; ``None`` while it is not known well enough to be worked out
    catalogue : Catalogue
        For what its load is

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.document.models import Channel, Load, Stage
    >>> bulb = Load(kind="filament_lamp", voltage="12 V", figure="5 W")
    >>> lamp = Channel(id="ch1", name="Lamp", load=bulb, stage=Stage(kind="npn_low_side"))
    >>> [s.key for s in asked_settings(lamp, None, load_catalogue())]
    ['transistor', 'base_resistor', 'pull_resistor', 'school', 'resistor_watts']
    """
    stage = STAGES[channel.stage.kind]
    coil = catalogue.loads[channel.load.kind].inductive or any(
        s.family in WITH_A_COIL for s in stage.settings
    )
    charged = catalogue.loads[channel.load.kind].bleed
    return [
        s
        for s in stage.settings
        if _has_a_bearing(s, stage, channel, coil, result) and (s.key != "bleed" or charged)
    ]


def _has_a_bearing(
    setting: Setting, stage: Stage, channel: Channel, coil: bool, result: StageResult | None
) -> bool:
    if setting.key.startswith(("clamp", "hold")) and not coil:
        return False
    if setting.key.startswith("snubber_"):
        return result is not None and result.value("snubber") is not None
    if setting.key == "level":
        module = result.module if result is not None else None
        return module is not None and module.part is not None and module.part.active == "jumper"
    own = getattr(stage, "asks", None)
    if own is not None and not own(setting.key, channel.stage.settings, result):
        return False
    return _follows(setting, stage, channel)


def _follows(setting: Setting, stage: Stage, channel: Channel) -> bool:
    """Whether another setting has the value this one is asked for."""
    if setting.when is None:
        return True
    key, values = setting.when
    other = next((s for s in stage.settings if s.key == key and s.choices), None)
    usual = other.choices[0][0] if other else ""
    return (channel.stage.settings.get(key) or usual) in values
