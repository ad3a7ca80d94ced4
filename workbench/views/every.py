"""Every page of a build: those whose records stand in this folder."""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules

from workbench import views
from workbench.views.pages import BuildPage


def every_page() -> list[type[BuildPage]]:
    """All of them; a page is known once its module is read."""
    for module in iter_modules(views.__path__):
        import_module(f"{views.__name__}.{module.name}")
    return BuildPage.every
