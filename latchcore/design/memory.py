"""What was computed lately, so that nothing is computed twice."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Any


class Memory:
    """
    What was computed lately, the least recently wanted forgotten first; several threads may ask it
    at once.
    """

    def __init__(self, most: int):
        self.most, self._lock = most, Lock()
        self._known: OrderedDict[Any, Any] = OrderedDict()

    def get(self, key):
        """What is known for a key, or ``None``."""
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
            return self._known.get(key)

    def __setitem__(self, key, value):
        with self._lock:
            self._known[key] = value
            while len(self._known) > self.most:
                self._known.popitem(last=False)

    def __len__(self):
        return len(self._known)

    def clear(self):
        """Forget everything."""
        with self._lock:
            self._known.clear()


def once(
    memory: Memory, build: Any, catalogue: Any, work: Callable[[], Any], more: str = ""
) -> Any:
    """
    What is worked out of a build and its catalogue, from memory where neither changed.

    Examples
    --------
    >>> from types import SimpleNamespace as Some
    >>> known, build = Memory(4), Some(model_dump_json=lambda: "{}")
    >>> [once(known, build, Some(version="1"), lambda: n) for n in (1, 2)]
    [1, 1]
    """
    key = (build.model_dump_json(), catalogue.version, more)
    found = memory.get(key)
    if found is None:
        found = work()
        memory[key] = found
    return found
