"""How long a contact lasts at what it breaks, against how long it should."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.sums import contacts


def years_wanted(context: ChannelContext) -> float:
    """Years the contact should last: as wanted for this channel, else what is usual."""
    return context.channel.years or context.limits["contact_years"]


def measure(
    context: ChannelContext,
    result: StageResult,
    allowed: float | None,
    running: float,
    at_allowed: float,
) -> None:
    """
    K6 and the shortest cycle of a contact that breaks current.

    Parameters
    ----------
    allowed : float or None
        Current it may carry of this kind [A]
    running : float
        Current it breaks [A]
    at_allowed : float
        Operations it lasts at the allowed current
    """
    if allowed is None or running <= 0:
        return
    life = contacts.contact_life(running, allowed, at_allowed, result.working)
    result.contact.life = life
    many, years = context.channel.cycles_per_day, years_wanted(context)
    if life:
        result.contact.least_cycle = result.working.calc(
            "t_cycle",
            "t_wanted/N",
            "s",
            "so that it lasts as long as wanted",
            "a whole cycle, on and off",
            t_wanted=(years * 365 * 86400, "s"),
            N=(life, ""),
        )
    if life is None or not many:
        return
    days = result.working.calc(
        "t_life", "N/n_day", "", "at the highest running current", N=(life, ""), n_day=(many, "")
    )
    result.contact.life_days = days
    result.measures.append(
        Measure(
            "contact_life",
            "K6",
            "Days the contact lasts",
            "",
            days,
            "min",
            "at the highest running current",
            "t_life",
            "Every opening burns a little of the contact away.",
            fix=365.0,
            fix_name="a year",
        )
    )
