"""What may be fixed of a channel's stage, as a page asks for it."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import BuildContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import TYPED, Setting
from latchcore.document.models import Channel
from latchcore.whole.asked_settings import asked_settings

USUAL_WATTS = "0.25 W"


@dataclass(frozen=True)
class Fitted:
    """
    One setting on the page.

    Attributes
    ----------
    address : str
        Edit and field it is posted under
    typed : str
        What the user fixed; empty while it is sized
    sized : Sized or None
        What was worked out for it
    options : list of tuple or None
        (key, words) of a choice; ``None`` where something is typed
    empty : str
        Words of the choice that fixes nothing
    unit, held : str
        Unit of what is typed, and what stands in the empty field
    """

    label: str
    address: str
    typed: str
    sized: Sized | None
    options: list[tuple[str, str]] | None = None
    empty: str = ""
    unit: str = ""
    held: str = ""
    steps: bool = False
    may_omit: bool = False


def fitted(around: BuildContext, channel: Channel, result: StageResult | None) -> list[Fitted]:
    """
    Everything of a channel's stage that is worth asking about now, in the stage's order; ``around``
    is the build with the whole drawer to choose from.
    """
    rows = []
    for setting in asked_settings(channel, result, around.catalogue):
        sized = result.value(setting.key) if result else None
        typed = channel.stage.settings.get(setting.key, "")
        # A resistor the stage does without is not asked for.
        if setting.kind != "ohms" or sized or typed:
            rows.append(_row(around, channel, setting, typed, sized))
    return rows


def _row(
    around: BuildContext, channel: Channel, setting: Setting, typed: str, sized: Sized | None
) -> Fitted:
    common = (setting.label, f"set_setting.{setting.key}", typed, sized)
    if setting.kind == "part":
        parts = [(p.id, p.title) for p in _usable(around, channel, setting.family)]
        held = f"sized: {sized.text}" if sized and not sized.yours else "sized"
        return Fitted(*common, options=parts, empty=held)
    if setting.kind == "rail":
        rails = [(r.id, r.name) for r in around.build.rails]
        return Fitted(*common, options=rails, empty=setting.usual or "nearest to its coil")
    if setting.kind == "choice":
        return Fitted(*common, options=list(setting.choices))
    ohms = setting.kind == "ohms"
    return Fitted(
        *common,
        unit="Ω" if ohms else TYPED.get(setting.kind, ""),
        held=(
            USUAL_WATTS
            if setting.kind == "watts"
            else f"{sized.text} sized"
            if sized and not sized.yours
            else setting.usual or ("auto" if ohms else "not stated")
        ),
        steps=ohms,
        may_omit=setting.may_omit,
    )


def _usable(around: BuildContext, channel: Channel, family: str):
    """Parts of a family this kind of stage can use: a module by what its output is."""
    parts = around.family(family)
    if family != "module":
        return parts
    solid = channel.stage.kind == "solid_module"
    return [p for p in parts if (p.output != "contact") == solid]
