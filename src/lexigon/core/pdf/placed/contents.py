"""Rewriting the contents of placed pages operator by operator (ISO 32000-2, 7.8.2)."""

from __future__ import annotations

from typing import Any

import pikepdf

from lexigon.core.pdf.placed.inline_images import standalone


class ContentRewriter:
    """Rewrites a content stream: each operator goes to ``operator``, which puts what takes its place.

    ``resources`` are those of the rewritten part; images within the contents become entries of theirs.
    """

    def __init__(self, resources: Any) -> None:
        self.resources = resources
        self.made: list[Any] = []

    def rewritten(self, one: Any) -> bytes:
        """The new contents of a page, form, pattern or letter. Raises Unreadable."""
        for instruction in pikepdf.parse_content_stream(one):
            operands: Any = instruction.operands
            self.operator(str(instruction.operator), operands, instruction)
        return pikepdf.unparse_content_stream(self.made)

    def operator(self, operator: str, operands: Any, instruction: Any) -> None:
        """Put what takes the place of an operator."""
        raise NotImplementedError

    def put(self, operator: str, *operands: Any) -> None:
        self.made.append(pikepdf.ContentStreamInstruction(list(operands), pikepdf.Operator(operator)))

    def name_of_inline(self, pdf: pikepdf.Pdf, instruction: Any) -> tuple[pikepdf.Name, Any]:
        """An image within the contents as an image object, and a name for it that the resources do not have yet."""
        return pikepdf.Name(f"/LexI{len(self.resources.get('/XObject', ()))}"), standalone(pdf, instruction)

    def add_image(self, name: pikepdf.Name, image: Any) -> None:
        self.resources["/XObject"] = pikepdf.Dictionary({**dict(self.resources.get("/XObject", {})), str(name): image})
