"""
The place between pin and load in a lane: a wire, a barrier, or a barrier with a wire round it.
"""

from __future__ import annotations

from drawings.svg import Canvas


def gate(rating: str, bridged: bool) -> str:
    """
    A lane's joint, 26 wide and 56 high.

    Parameters
    ----------
    rating : str
        Class of the barrier; empty where there is none
    bridged : bool
        Whether both sides share their ground all the same
    """
    if not rating:
        c = Canvas(26, 56, "joined, no barrier", css="gate")
        c.line((0, 28), (26, 28))
        return c.svg()
    c = Canvas(
        26,
        56,
        f"{rating} barrier" + (", but the grounds are joined" if bridged else ""),
        css="gate",
    )
    c.line((6, 0), (6, 56), css="ink heavy")
    c.line((20, 0), (20, 56), css="ink heavy")
    c.text(13, 28, rating, "turned", "middle", transform="rotate(-90 13 28)", dy=4)
    if bridged:
        c.line((0, 50), (26, 50), css="bridge")
    return c.svg()
