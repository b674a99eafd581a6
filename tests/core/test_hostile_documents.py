"""Manuscripts as ODT, changed within at random; and the memory of a process that meets many broken files."""

from __future__ import annotations

import io
import random
import zipfile

from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.reading import read
from lexigon.core.reclaim import reclaim, resident
from tests import hostile

OFFICE = "urn:oasis:names:tc:opendocument:xmlns:"
CONTENT = f"""<office:document-content xmlns:office="{OFFICE}office:1.0" xmlns:text="{OFFICE}text:1.0" xmlns:table="{OFFICE}table:1.0"
 xmlns:style="{OFFICE}style:1.0" xmlns:fo="{OFFICE}xsl-fo-compatible:1.0"><office:automatic-styles>
<style:style style:name="P1" style:family="paragraph" style:parent-style-name="Text_20_body"><style:paragraph-properties fo:text-align="center"/></style:style>
<style:style style:name="T1" style:family="text"><style:text-properties fo:font-style="italic"/></style:style></office:automatic-styles>
<office:body><office:text><text:h text:outline-level="1">Ebb</text:h><text:p text:style-name="P1">It <text:span text:style-name="T1">began</text:span>
with the <text:s text:c="3"/>tide<text:note text:note-class="footnote" text:id="n1"><text:note-citation>1</text:note-citation><text:note-body><text:p>A note.</text:p></text:note-body></text:note>.</text:p>
<text:list><text:list-item><text:p>Reed</text:p><text:list><text:list-item><text:p>Sedge</text:p></text:list-item></text:list></text:list-item></text:list>
<table:table><table:table-column table:number-columns-repeated="2"/><table:table-row><table:table-cell table:number-columns-spanned="2"><text:p>Hide</text:p></table:table-cell><table:covered-table-cell/></table:table-row>
<table:table-row><table:table-cell><text:p>1</text:p></table:table-cell><table:table-cell table:number-rows-spanned="1"><text:p>2</text:p></table:table-cell></table:table-row></table:table>
<text:p>The end.<text:line-break/><text:tab/>Or so.</text:p></office:text></office:body></office:document-content>"""  # noqa: E501
STYLES = f"""<office:document-styles xmlns:office="{OFFICE}office:1.0" xmlns:style="{OFFICE}style:1.0"><office:styles>
<style:style style:name="Text_20_body" style:display-name="Text body" style:family="paragraph"/></office:styles></office:document-styles>"""  # noqa: E501


def odt() -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.text")
        archive.writestr("content.xml", CONTENT)
        archive.writestr("styles.xml", STYLES)
    return target.getvalue()


def test_an_odt_changed_within_is_read_or_refused_in_words() -> None:
    whole = odt()
    texts = [p.text for p in read(whole, "a.odt").paragraphs]
    assert texts[0] == "Ebb"
    assert "The end." in texts[-1]
    refused = []
    for number in range(40 * hostile.TIMES):
        chance = random.Random(number)
        data = hostile.changed_within(whole, chance) if number % 5 else hostile.scrambled(whole, chance)
        try:
            read(data, "a.odt")
        except LexigonError as error:
            refused.append(str(error))
    assert 0 < len(refused) < 40 * hostile.TIMES
    assert all(len(words) > 10 for words in refused)


def test_memory_is_given_back() -> None:
    """Buffers that were freed, and cycles that nobody collected."""
    reclaim()
    before = resident()
    held = []
    for _ in range(50):
        cycle: dict[str, object] = {"data": bytearray(2**21)}
        cycle["self"] = cycle
        held.append(cycle)
    full = resident()
    assert full > before + 80 * 2**20
    held.clear()
    del cycle
    reclaim()
    assert resident() < before + 20 * 2**20
