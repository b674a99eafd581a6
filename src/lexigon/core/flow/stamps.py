"""When each page of a composed job last changed: one answer for the board, for miniatures, and for whoever looks at pages."""

from __future__ import annotations

import secrets
from collections.abc import Iterable


class Stamps:
    """A stamp for each page, by its id. As long as it stays the same the page looks the same; stamps of another composition
    are others."""

    def __init__(self) -> None:
        self._token = secrets.token_hex(4)
        self._now = self._all = 0
        self._pages: dict[str, int] = {}

    def of(self, page: str) -> str:
        """A page's stamp; of a master page's half by any other name, the stamp of all."""
        return f"{self._token}-{self._pages.get(page, self._all)}"

    def everything(self) -> None:
        """All pages may have changed."""
        self._now += 1
        self._all = self._now
        self._pages.clear()

    def these(self, pages: Iterable[str]) -> None:
        """Some pages may have changed, by their ids."""
        self._now += 1
        self._pages.update(dict.fromkeys(pages, self._now))
