"""Barriers on a page: everything in the light, in the dark what colours can spoil."""

from axe_playwright_python.sync_playwright import Axe

#: Of a page of ten thousand elements what passes is not written down: four times as long.
_BRIEF = {"resultTypes": ["violations"], "selectors": False}
LOOKED_AT = {"light": _BRIEF, "dark": {**_BRIEF, "runOnly": ["color-contrast"]}}


def barriers(page, look="light"):
    """What bars somebody's way, as its rule and the element it was found in."""
    found = Axe().run(page, options=LOOKED_AT[look]).response["violations"]
    return [(v["id"], v["nodes"][0]["html"][:100]) for v in found]
