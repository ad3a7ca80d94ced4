"""Two motors that move one thing: speed and turn mixed into both."""

from __future__ import annotations

from pydantic import Field

from latchcore.document.texts import DutyText, Id, Model, Name, Note, SecondsText

#: A motor nobody measured begins to turn at this share of full drive.
MOTOR_DEAD = 0.15


class Vehicle(Model):
    """
    A vehicle on two motors, a wheel or track each.

    ``stick_dead`` is the middle of the stick that counts as nothing, ``motor_dead`` the drive at
    which a motor begins to turn, ``most`` the largest drive the program gives, ``time_out`` after
    which both stop where no command comes, ``ramp`` the time from rest to full drive.
    """

    id: Id
    name: Name = Field(default="Vehicle")
    left: Id
    right: Id
    stick_dead: DutyText | None = None
    motor_dead: DutyText | None = None
    most: DutyText | None = None
    time_out: SecondsText | None = None
    ramp: SecondsText | None = None
    note: Note = ""
