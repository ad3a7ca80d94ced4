"""What is kept: builds with their revisions, the drawer, runs of the plan, the log."""

from workbench.models.builds import (
    Build,
    DrawerStep,
    PartPhoto,
    PartUse,
    Revision,
    StockPart,
    TakenProgram,
    Tick,
    Unreadable,
    Verdict,
)
from workbench.models.log import LogEntry, LogPhoto, MachineCount, OwnCheck
from workbench.models.runs import KeypadMap, Run, RunEntry, SimulatedBench

__all__ = [
    "Build",
    "DrawerStep",
    "KeypadMap",
    "LogEntry",
    "LogPhoto",
    "MachineCount",
    "OwnCheck",
    "PartPhoto",
    "PartUse",
    "Revision",
    "Run",
    "RunEntry",
    "SimulatedBench",
    "StockPart",
    "TakenProgram",
    "Tick",
    "Unreadable",
    "Verdict",
]
