"""A demo build with one of its pages, read and posted to as a browser would."""

from __future__ import annotations

import html

from tests.web.conftest import DEMO
from workbench.actions.creating import create_from_file
from workbench.models import Build


class BuildClient:
    """
    A build put up from the demo with the address of one page; what comes back is plain text.
    """

    def __init__(self, client, page: str, name: str = "potting-bench-valve") -> None:
        self.client, self.page = client, page
        self.put_up(create_from_file((DEMO / f"{name}.json").read_bytes()))

    def put_up(self, build: Build) -> None:
        """Be about another build."""
        self.build, self.address = build, f"/builds/{build.pk}/{self.page}"

    @property
    def fresh(self) -> Build:
        """The build as it is kept now."""
        return Build.with_head().get(pk=self.build.pk)

    def get(self, **asked) -> str:
        """The page."""
        answer = self.client.get(self.address, asked)
        assert answer.status_code == 200
        return html.unescape(answer.content.decode())

    def post(self, status: int = 302, **sent) -> str:
        """What is shown once something was sent; the status it has to answer with."""
        answer = self.client.post(self.address, sent)
        assert answer.status_code == status, html.unescape(answer.content.decode())[-1200:]
        if status == 302:
            answer = self.client.get(answer["Location"])
        return html.unescape(answer.content.decode())
