"""The facts of a finished PDF, read from the file itself, and what our rules for PDF/X-4 and PDF/X-1a:2003 say of it.

The rules follow ISO 15930-7, ISO 15930-4 and ISO 32000-2, 14.11; no independent validator is part of Lexigon, so a
file that passes is "checked against our rules", no more.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

from lexigon.core.check.findings import findings_of
from lexigon.core.document.story_text import count_words
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.overset import overset_of
from lexigon.core.paint.coverage import PROCESS, coverage
from lexigon.core.paint.display import Display

if TYPE_CHECKING:
    import pikepdf

_INK_OPERATORS = {"k": 4, "K": 4, "g": 1, "G": 1, "rg": 3, "RG": 3}


def job_facts(composition: Composition) -> dict[str, Any]:
    """Return what a job holds: pages, boxes, words, the faces and inks its text uses, what does not fit. Points and
    fractions."""
    job, cascade, library = composition.job, composition.cascade, composition.library
    faces = set()
    for story in job.stories.values():
        for paragraph in story.paragraphs:
            for span in (None, *paragraph.spans):
                spec = cascade.type_of(paragraph, span)
                faces.add(library.face(spec.family, spec.weight, spec.italic).postscript_name)
    display = Display(composition)
    inks = {
        ink: None
        for index in range(len(job.pages))
        for mark in coverage(display.page(index).items(printed=True))
        for ink in mark.inks
    }
    order = [ink for ink in (*PROCESS, *inks) if ink in inks]
    overset = {}
    for story_id, flow in composition.flows.items():
        over = overset_of(flow)
        if over:
            overset[job.stories[story_id].name] = {"words": over.words, "lines": over.lines}
    b = job.brief
    return {
        "name": job.name,
        "kind": job.kind,
        "pages": len(job.pages),
        "unit": b.unit,
        "trim": [b.width, b.height],
        "bleed": [b.bleed.head, b.bleed.foot, b.bleed.inner, b.bleed.outer],
        "words": sum(count_words(story.paragraphs) for story in job.stories.values()),
        "stories": len(job.stories),
        "fonts": sorted(faces),
        "inks": list(dict.fromkeys(order)),
        "overset": overset,
        "findings": [finding.text for finding in findings_of(composition)],
    }


def pdf_facts(path: Path) -> dict[str, Any]:
    """Pages, boxes (points), fonts, inks, version and findings of a PDF. Raises LexigonError if it is none."""
    import pikepdf

    try:
        with pikepdf.open(path) as pdf:
            return _facts(pdf, path)
    except (pikepdf.PdfError, OSError) as error:
        raise LexigonError(f"“{path.name}” is not a PDF that can be read.") from error


def _facts(pdf: pikepdf.Pdf, path: Path) -> dict[str, Any]:
    sizes: dict[str, list[int]] = {}
    fonts: dict[str, dict[str, Any]] = {}
    inks: set[str] = set()
    for index, page in enumerate(pdf.pages, 1):
        boxes = {
            name: [float(v) for v in page.obj[f"/{name}"]]
            for name in ("MediaBox", "BleedBox", "TrimBox")
            if f"/{name}" in page.obj
        }
        sizes.setdefault(repr(boxes), []).append(index)
        resources: Any = page.obj.get("/Resources", {})
        for font in dict(resources.get("/Font", {})).values():
            name = str(font.BaseFont)[1:]
            own = {"name": name.partition("+")[2] or name, "embedded": _embedded(font), "subset": "+" in name}
            fonts.setdefault(repr(own), own)
        inks |= _inks(page, resources)
    first = pdf.pages[0].obj
    intents: Any = pdf.Root.get("/OutputIntents", [])
    return {
        "file": path.name,
        "bytes": path.stat().st_size,
        "version": pdf.pdf_version,
        "conforms": claimed(pdf) or None,
        "pages": len(pdf.pages),
        "boxes": {
            name: [float(v) for v in first[f"/{name}"]]
            for name in ("MediaBox", "BleedBox", "TrimBox")
            if f"/{name}" in first
        },
        "page_sizes": len(sizes),
        "fonts": sorted(fonts.values(), key=lambda font: font["name"]),
        "inks": sorted(inks),
        "profile": str(intents[0].OutputConditionIdentifier) if len(intents) else None,
        "bookmarks": _bookmarks(pdf),
        "findings": _all_findings(pdf),
    }


def combined_facts(parts: Sequence[dict[str, Any]], path: Path) -> dict[str, Any]:
    """Return the facts of a file that was joined from others, whose facts are ``parts``."""
    fonts = {repr(font): font for one in parts for font in one["fonts"]}
    boxes = {repr(one["boxes"]) for one in parts}
    combined: dict[str, Any] = parts[0] | {
        "file": path.name,
        "bytes": path.stat().st_size,
        "conforms": parts[0]["conforms"] if all(one["conforms"] for one in parts) else None,
        "pages": sum(one["pages"] for one in parts),
        "page_sizes": max(len(boxes), *(one["page_sizes"] for one in parts)),
        "fonts": sorted(fonts.values(), key=lambda font: str(font["name"])),
        "inks": sorted({ink for one in parts for ink in one["inks"]}),
        "bookmarks": [mark for one in parts for mark in one["bookmarks"]],
        "findings": list(dict.fromkeys(finding for one in parts for finding in one["findings"])),
    }
    return combined


def _embedded(font: Any) -> bool:
    inner = font.DescendantFonts[0] if "/DescendantFonts" in font else font
    descriptor = inner.get("/FontDescriptor", {})
    return any(key in descriptor for key in ("/FontFile", "/FontFile2", "/FontFile3"))


def _inks(content: Any, resources: Any, met: frozenset[tuple[int, int]] = frozenset()) -> set[str]:
    """The inks that painting operators name, those of drawings painted as one included; ``met`` are the forms that
    contain this one. What a placed page has in it that is no PDF is passed over."""
    import pikepdf

    from lexigon.core.picture.brokenpdf import BROKEN

    inks: set[str] = set()
    with suppress(*BROKEN):
        for instruction in pikepdf.parse_content_stream(content):
            with suppress(*BROKEN):
                inks |= _inks_of_operator(str(instruction.operator), instruction.operands, resources, met)
    return inks


def _inks_of_operator(name: str, operands: Any, resources: Any, met: frozenset[tuple[int, int]]) -> set[str]:
    if name in ("k", "K"):
        return _printing(operands)
    if name in ("g", "G"):
        return {"grey"}
    if name in ("rg", "RG"):
        return {"RGB"}
    if name == "Do":
        form = resources.XObject[str(operands[0])]
        if str(form.Subtype) == "/Form" and form.objgen not in met:
            return _inks(form, form.get("/Resources", resources), met | {form.objgen})
    elif name == "sh":
        return _inks_of_shading(resources.Shading[str(operands[0])])
    elif name in ("cs", "CS"):
        space = resources.ColorSpace.get(str(operands[0])) if "/ColorSpace" in resources else None
        if space is not None and str(space[0]) == "/Separation":
            return {"all inks (marks)" if str(space[1]) == "/All" else str(space[1])[1:]}
    return set()


def _printing(components: Iterable[Any]) -> set[str]:
    return {ink for ink, value in zip(PROCESS, components, strict=True) if float(value) > 0}


def _inks_of_shading(shading: Any) -> set[str]:
    """The inks of a shading: of one whose colours are given at its ends those that are printed there, else all of its
    space."""
    import pikepdf

    names = _inks_of_space(shading.ColorSpace)
    function = shading.get("/Function", {})
    parts = function.get("/Functions", [function]) if not isinstance(function, pikepdf.Array) else list(function)
    if not all("/C0" in part and "/C1" in part for part in parts):
        return set(names)
    ends = [end for part in parts for end in (part.C0, part.C1)]
    if any(len(end) != len(names) for end in ends):
        return set(names)
    return {name for end in ends for name, value in zip(names, end, strict=True) if float(value) > 0 or name in LIGHT}


LIGHT = ("RGB", "grey")


def _inks_of_space(space: Any) -> list[str]:
    """The inks of a colour space, one for each of its components; what has other components is one."""
    import pikepdf

    if not isinstance(space, pikepdf.Array):
        return {"/DeviceCMYK": list(PROCESS), "/DeviceGray": ["grey"]}.get(str(space), ["RGB"])
    kind = str(space[0])
    if kind == "/Separation":
        return [str(space[1])[1:]]
    if kind == "/DeviceN":
        return [str(name)[1:] for name in space[1]]
    if kind == "/ICCBased":
        return {1: ["grey"], 4: list(PROCESS)}.get(int(space[1].N), ["RGB"])
    return ["RGB"]


def _bookmarks(pdf: pikepdf.Pdf) -> list[tuple[int, str]]:
    rows: list[tuple[int, str]] = []
    with pdf.open_outline(max_depth=8) as outline:

        def walk(items: Any, level: int) -> None:
            for item in items:
                rows.append((level, item.title))
                walk(item.children, level + 1)

        walk(outline.root, 1)
    return rows


def claimed(pdf: pikepdf.Pdf) -> str:
    """The standard that a file says it keeps to, such as PDF/X-4 or PDF/A-1b; "" for none."""
    for_press = str(pdf.docinfo.get("/GTS_PDFXVersion", ""))
    if for_press or "/Metadata" not in pdf.Root:
        return for_press
    part = pdf.open_metadata().pdfa_status
    return f"PDF/A-{part.lower()}" if part else ""


UNCHECKED = "A placed page in it is damaged, so not all of the file could be checked."


def _all_findings(pdf: pikepdf.Pdf) -> list[str]:
    from lexigon.core.picture.brokenpdf import BROKEN

    messages: list[str] = []
    try:
        for one in findings(pdf):
            messages.append(one)  # those that come before what cannot be read, too
    except BROKEN:
        messages.append(UNCHECKED)
    return messages


def findings(pdf: pikepdf.Pdf) -> Iterator[str]:
    """Return the violations of PDF/X-4, PDF/X-1a:2003 or PDF/A-1b by our rules; none for a file that claims none of
    them."""
    standard = claimed(pdf)
    if standard not in ("PDF/X-4", "PDF/X-1a:2003", "PDF/A-1b"):
        return
    for_press = standard != "PDF/A-1b"
    if standard != "PDF/X-4":
        yield from _older_findings(pdf)
    if pdf.is_encrypted:
        yield "The file is encrypted."
    metadata = bytes(pdf.Root.Metadata.read_bytes()) if "/Metadata" in pdf.Root else b""
    if for_press and standard.encode() not in metadata:
        yield f"The XMP metadata does not name {standard}."
    intents = [
        i for i in pdf.Root.get("/OutputIntents", []) if str(i.S) == ("/GTS_PDFX" if for_press else "/GTS_PDFA1")
    ]
    if len(intents) != 1 or "/DestOutputProfile" not in intents[0]:
        yield "There must be one output intent with its profile."
    if for_press and str(pdf.docinfo.get("/Trapped", "")) not in ("/True", "/False"):
        yield "It does not say whether it is trapped."
    for index, page in enumerate(pdf.pages, 1):
        yield from _page_findings(index, page, for_press)


def _older_findings(pdf: pikepdf.Pdf) -> Iterator[str]:
    """Return what PDF/X-1a:2003 (ISO 15930-4) and PDF/A-1b in inks (ISO 19005-1) do not allow: transparency, light,
    newer versions."""
    import pikepdf

    if float(pdf.pdf_version) > 1.4:
        yield "It is of a newer version of PDF than 1.4."
    for obj in pdf.objects:
        if not isinstance(obj, (pikepdf.Dictionary, pikepdf.Stream)):
            continue
        group = obj.get("/Group")
        mixed = isinstance(group, pikepdf.Dictionary) and str(group.get("/S")) == "/Transparency"
        if mixed or str(obj.get("/SMask", "/None")) != "/None" or any(map(_faint, _states(obj))):
            yield "Something in it is transparent."
            return
    for obj in pdf.objects:
        if (
            isinstance(obj, pikepdf.Stream)
            and str(obj.get("/Subtype", "")) == "/Image"
            and str(obj.get("/ColorSpace")) in ("/DeviceRGB", "/CalRGB")
        ):
            yield "A picture in it is in RGB."
            return


def _states(obj: Any) -> Iterator[Any]:
    """The graphics states of an object: itself, those of its resources, or of the resources that it is."""
    if str(obj.get("/Type", "")) == "/ExtGState":
        yield obj
    for holder in (obj, obj.get("/Resources", {})):
        yield from dict(holder.get("/ExtGState", {})).values()


def _faint(state: Any) -> bool:
    mask = str(state.get("/SMask", "/None")) != "/None"
    return (
        mask
        or min(float(state.get("/ca", 1)), float(state.get("/CA", 1))) < 1
        or str(state.get("/BM", "/Normal")) not in ("/Normal", "/Compatible")
    )


def _page_findings(index: int, page: pikepdf.Page, for_press: bool) -> Iterator[str]:
    import pikepdf

    media, trim = (list(map(float, page.obj.get(key, [0, 0, 0, 0]))) for key in ("/MediaBox", "/TrimBox"))
    bleed = list(map(float, page.obj.get("/BleedBox", trim)))
    if not (_within(trim, bleed) and _within(bleed, media)) or trim[2] <= trim[0]:
        yield f"Page {index}: the boxes do not lie within each other."
    if for_press and "/Annots" in page.obj and len(page.obj.Annots):
        yield f"Page {index}: there are annotations on the printed page."
    for name, font in dict(page.obj.Resources.get("/Font", {})).items():
        if not _embedded(font):
            yield f"Page {index}: font {name[1:]} is not embedded."
    depth = text = marked = 0
    for instruction in pikepdf.parse_content_stream(page):
        name = str(instruction.operator)
        depth += {"q": 1, "Q": -1}.get(name, 0)
        text += {"BT": 1, "ET": -1}.get(name, 0)
        marked += {"BDC": 1, "BMC": 1, "EMC": -1}.get(name, 0)
        if name in ("rg", "RG"):
            yield f"Page {index}: RGB without a profile."
            break
    if depth or text or marked:
        yield f"Page {index}: q/Q, BT/ET or BDC/EMC do not match."


def _within(inner: list[float], outer: list[float]) -> bool:
    slack = 0.01
    return all(a >= b - slack for a, b in zip(inner[:2], outer[:2], strict=True)) and all(
        a <= b + slack for a, b in zip(inner[2:], outer[2:], strict=True)
    )
