"""XMP metadata and the information dictionary of an output file (ISO 16684-1; ISO 15930-7, 6.7; ISO 19005-1, 6.7)."""

from __future__ import annotations

import uuid
from datetime import datetime
from html import escape
from typing import Any

from lexigon import __version__
from lexigon.core.pdf.variants import Variant
from lexigon.core.pdf.writer import Name

PRODUCER = f"Lexigon {__version__}"


def information(title: str, when: datetime, variant: Variant) -> dict[str, Any]:
    date = when.strftime("D:%Y%m%d%H%M%S+00'00'").encode("ascii")
    entries: dict[str, Any] = {
        "Title": title,
        "Creator": PRODUCER,
        "Producer": PRODUCER,
        "CreationDate": date,
        "ModDate": date,
    }
    if variant.for_press:
        entries["Trapped"] = Name("False")
        entries["GTS_PDFXVersion"] = variant.conforms
    return entries


def xmp(title: str, when: datetime, variant: Variant, identity: str) -> bytes:
    """The XMP packet; document and instance ids are made from ``identity``, so equal jobs give equal bytes."""
    stamp = when.strftime("%Y-%m-%dT%H:%M:%SZ")
    document = uuid.uuid5(uuid.NAMESPACE_OID, identity)
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n'
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        '<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"'
        ' xmlns:pdf="http://ns.adobe.com/pdf/1.3/" xmlns:xmpMM="http://ns.adobe.com/xap/1.0/mm/">'
        f'<dc:title><rdf:Alt><rdf:li xml:lang="x-default">{escape(title)}</rdf:li></rdf:Alt></dc:title>'
        f"<dc:format>application/pdf</dc:format><xmp:CreateDate>{stamp}</xmp:CreateDate>"
        f"<xmp:ModifyDate>{stamp}</xmp:ModifyDate><xmp:MetadataDate>{stamp}</xmp:MetadataDate>"
        f"<xmp:CreatorTool>{PRODUCER}</xmp:CreatorTool><pdf:Producer>{PRODUCER}</pdf:Producer>"
        + ("<pdf:Trapped>False</pdf:Trapped>" if variant.for_press else "")
        + f"<xmpMM:DocumentID>uuid:{document}</xmpMM:DocumentID><xmpMM:InstanceID>uuid:{document}</xmpMM:InstanceID>"
        "<xmpMM:RenditionClass>default</xmpMM:RenditionClass><xmpMM:VersionID>1</xmpMM:VersionID></rdf:Description>"
        + _conforming(variant)
        + "</rdf:RDF></x:xmpmeta>\n"
        + " " * 200
        + '\n<?xpacket end="w"?>'
    ).encode()


def _conforming(variant: Variant) -> str:
    """The standard that a file says it keeps to."""
    if variant.for_press:
        return (
            '<rdf:Description rdf:about="" xmlns:pdfxid="http://www.npes.org/pdfx/ns/id/" '
            f'pdfxid:GTS_PDFXVersion="{variant.conforms}"/>'
        )
    if not variant.conforms:
        return ""
    level = variant.conforms.removeprefix("PDF/A-")  # such as 1b
    return (
        '<rdf:Description rdf:about="" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/" '
        f'pdfaid:part="{level[0]}" pdfaid:conformance="{level[1:].upper()}"/>'
    )
