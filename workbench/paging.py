"""Long lists by pages: which page was asked for, what is on it, where the others are."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urlencode

from django.core.paginator import Page, Paginator
from django.http import HttpRequest

from latchcore.figures.typed import whole

PER_PAGE = 30
#: A search is a few words, not a document.
MOST_SEARCH = 60


@dataclass(frozen=True)
class Listing:
    """One page of a list with the search it was made by."""

    page: Page
    search: str
    name: str = "page"

    def link(self, number: int) -> str:
        """The query of another page of the same search."""
        return urlencode({k: v for k, v in (("q", self.search), (self.name, number)) if v})

    @property
    def previous(self) -> str:
        """The query of the page before, or nothing."""
        return self.link(self.page.previous_page_number()) if self.page.has_previous() else ""

    @property
    def following(self) -> str:
        """The query of the page after, or nothing."""
        return self.link(self.page.next_page_number()) if self.page.has_next() else ""


def search_of(request: HttpRequest) -> str:
    """What is looked for, cut to what a search can be."""
    return request.GET.get("q", "").strip()[:MOST_SEARCH].replace("\x00", "")


def listed(request: HttpRequest, rows, name: str = "page", per_page: int = PER_PAGE) -> Listing:
    """
    The page of a list that was asked for; a page that is none is the nearest there is.

    Parameters
    ----------
    rows : queryset or list
        Newest first already
    name : str
        The query argument that names the page, for places with two lists
    """
    pages = Paginator(rows, per_page)
    return Listing(
        pages.get_page(whole(request.GET.get(name, "1"), 1, 10**9) or 1), search_of(request), name
    )
