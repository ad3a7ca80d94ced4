"""From what the program commands to what the load does, through pin, coil and contact."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.report import StageResult

AT_REST = "at rest"


@dataclass(frozen=True)
class Command:
    """
    One command and what follows from it.

    Attributes
    ----------
    pin : str
        ``high`` or ``low``; empty where nothing has power
    coil : str
        What it does
    closed : bool
        The contact in use
    load : str
        ``on`` or ``off``
    remark : str
        What has to be said of it
    """

    words: str
    pin: str
    coil: str
    closed: bool
    load: str
    remark: str = ""


def commands(result: StageResult) -> tuple[Command, ...]:
    """
    Stage on, stage off, and everything dead.

    Examples
    --------
    >>> [c.load for c in commands(StageResult("relay_contact", "Relay"))]
    ['on', 'off', 'off']
    """
    on = "low" if result.drive.active == "low" else "high"
    off = "high" if on == "low" else "low"
    stays = bool(result.module.stays_on)
    dead = ", if its rail lives" if result.contact.inverts else ""
    still = ("stays energised", True, ", not as meant") if stays else (AT_REST, False, "")
    return (
        _command(result, "stage on", on, "energised", True),
        _command(result, "stage off", off, *still),
        _command(result, "everything dead", "", AT_REST, False, dead),
    )


def _command(
    result: StageResult, words: str, pin: str, coil: str, energised: bool, remark: str = ""
) -> Command:
    closed = energised != result.contact.inverts
    return Command(words, pin, coil, closed, "on" if closed else "off", remark)
