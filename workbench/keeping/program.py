"""Which program worked something out: its version and the figures that ship with it."""

from importlib.metadata import PackageNotFoundError, version

from latchcore.catalogue import load_catalogue


def _version() -> str:
    try:
        return version("zinc-latch")
    except PackageNotFoundError:
        return "unpacked"


#: What a verdict was found by; a verdict of another program is found anew.
PROGRAM = f"{_version()} {load_catalogue().version}"
