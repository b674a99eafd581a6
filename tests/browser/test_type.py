"""Type on the board: the spec line, styles, texture, finding, carrying and pasting words, shapes and fitting."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from lexigon.core.document.model import Job, Paragraph, Span, TypeSpec
from lexigon.core.editing.intents import PourText
from lexigon.core.flow.workspace import Workspace
from tests.browser.conftest import settled
from tests.browser.helpers import MAIN, lines, poured, spec, type_at
from tests.core.helpers import book, odd_font, words


def test_the_spec_line_sets_words_paragraphs_and_frames(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("pa", "body", words(60)), Paragraph("pb", "body", words(60, 2))))
    type_at(page, 0, 0)
    expect(page.locator("#spec")).to_have_value(re.compile(r"^11/15 EB Garamond, justified, indent 15pt"))
    page.locator("#spec").fill("12/16 wobbly")
    expect(page.locator(".spec-said.bad")).to_contain_text("“wobbly”")
    assert page.locator(".spec-back u").inner_text() == "wobbly"
    page.locator("#spec").press("Enter")
    expect(page.locator("#undo")).to_be_disabled()
    page.locator("#spec").fill("12/16 cormo")
    expect(page.locator(".spec-offers li").first).to_contain_text("Cormorant Garamond")
    page.locator("#spec").press("Tab")
    expect(page.locator("#spec")).to_have_value("12/16 Cormorant Garamond")
    expect(page.locator(".spec-said")).to_contain_text("size 12 pt, leading 16 pt · Cormorant Garamond")
    page.locator("#spec").press("Enter")
    settled(page)
    first = page.locator(f'{MAIN}[data-p="pa"] text').first
    assert first.get_attribute("font-size") == "12"
    assert "cormorant" in (first.get_attribute("font-family") or "")
    assert page.locator(f'{MAIN}[data-p="pb"] text').first.get_attribute("font-size") == "11"
    type_at(page, 1, 0)
    for _ in range(9):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator(".slip")).to_contain_text("selected words")
    spec(page, "bold, colour Marker red 50%")
    settled(page)
    run = page.locator(f'{MAIN}[data-p="pb"] text').first
    assert run.text_content() == words(60, 2)[:9]
    assert "bold" in (run.get_attribute("font-family") or "")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.locator(".content").click(position={"x": 200, "y": 300}, force=True)
    spec(page, "2 columns, gutter 6mm")
    settled(page)
    assert (
        len(
            {
                round(float(x))
                for x in page.eval_on_selector_all(
                    MAIN, "(all) => all.map((g) => g.querySelector('text').getAttribute('x'))"
                )
            }
        )
        >= 2
    )


def test_every_value_has_a_field_in_the_full_groups(opened: Callable[[Job], Page]) -> None:
    """Tabs, a rule, shading and a feature set by hand in the slip; a section given back; the same fields in a style."""
    page = opened(poured(Paragraph("pa", "body", "Dunlin\t4,120.5"), Paragraph("pb", "body", words(30))))
    type_at(page, 0, 0)

    def section(title: str, within: str = ".slip") -> None:
        page.click(f"{within} .section-head:has-text('{title}')")

    section("Tabs")
    page.click(".slip >> text=Add tab stop")
    settled(page)
    page.get_by_label("Position of tab 1").fill("120")
    page.get_by_label("Position of tab 1").press("Tab")
    settled(page)
    page.get_by_label("Alignment of tab 1").select_option("decimal")
    settled(page)
    page.get_by_label("Leader of tab 1").fill(".")
    page.get_by_label("Leader of tab 1").press("Enter")
    settled(page)
    told = page.locator(".slip .section-head:has-text('Tabs') .told")
    expect(told).to_have_text("tab 120 decimal leader .")
    assert "...." in lines(page)[0].replace(" ", "")
    section("Shading and border")
    page.locator(".slip [data-path='box.fill.swatch']").select_option(label="Marker red")
    settled(page)
    expect(page.locator("#spec")).to_have_value(re.compile("shade Marker red"))
    section("Rules above")
    page.locator(".slip [data-path='rule_above.stroke.weight']").fill("2mm/4")
    page.locator(".slip [data-path='rule_above.stroke.weight']").press("Tab")
    settled(page)
    expect(page.locator(".slip [data-path='rule_above.offset']")).to_have_value("14 pt")
    expect(page.locator("#spec")).to_have_value(
        re.compile(r"rule above 1\.42 at 14 Black|rule above 1\.41732 at 14 Black")
    )
    section("OpenType features")
    chip = page.locator(".slip .chip[title=liga]")
    expect(chip).to_have_attribute("aria-pressed", "true")
    chip.click()
    settled(page)
    expect(chip).to_have_attribute("aria-pressed", "false")
    expect(page.locator("#spec")).to_have_value(re.compile("features liga=0"))
    page.locator(".slip .section-row:has-text('Tabs') .back").click()
    settled(page)
    expect(told).to_have_text("")
    expect(page.locator("#spec")).to_have_value(re.compile("shade Marker red"))

    page.keyboard.press("Escape")
    page.click("#styles-button")
    page.locator("#styles .style-row[data-id=body]").click()
    section("Keep, baseline grid", "#styles")
    page.locator("#styles [data-path=foot_lines]").fill("3")
    page.locator("#styles [data-path=foot_lines]").press("Tab")
    expect(page.locator("#styles textarea")).to_have_value(re.compile("lines 3/2"))
    assert page.evaluate("() => document.activeElement.dataset.path") == "head_lines", "Tab goes on to the next field"
    page.click("#styles [data-kind=frame]")
    page.click("#styles .make")
    page.fill("#ask input", "Boxed")
    page.click("#ask-yes")
    for title, path, value in (
        ("Columns and text", "columns", "3"),
        ("Fill", "fill.tint", "20"),
        ("Text wrap", "wrap.offsets.0", "3 mm"),
    ):
        section(title, "#styles")
        page.locator(f"#styles [data-path='{path}']").fill(value)
        page.locator(f"#styles [data-path='{path}']").press("Tab")
        if title == "Fill":
            page.locator("#styles [data-path='fill.swatch']").select_option(label="Marker red")
    page.locator("#styles [data-path='wrap.sides']").select_option("both")
    expect(page.locator("#styles textarea")).to_have_value(
        re.compile(r"3 columns.*wrap both 0\.1181 in 0 in.*fill Marker red 20 ?%")
    )
    page.click("#styles [data-kind=rule]")
    page.click("#styles .make")
    page.fill("#ask input", "Dashed")
    page.click("#ask-yes")
    section("Stroke", "#styles")
    page.locator("#styles [data-path='stroke.dash']").fill("3 2")
    page.locator("#styles [data-path='stroke.dash']").press("Enter")
    expect(page.locator("#styles .style-row svg path").first).to_have_attribute("stroke-dasharray", "3 2")

    # While the values of another style are on their way, there are no fields of the one before to type into.
    held: list[Route] = []
    page.route(re.compile("/styles/one/"), lambda route: held.append(route))
    with page.expect_request(re.compile("/styles/one/")):
        page.click("#styles [data-kind=frame]")
    expect(page.locator("#styles .style-groups [data-path]")).to_have_count(0)
    for route in held:
        route.continue_()
    expect(page.locator("#styles .style-groups [data-path]")).not_to_have_count(0)


def test_a_font_is_brought_in_and_used(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    """From the file to the words on the page, in the very font; a file that is none is refused; taken out, it is
    missed."""
    page = opened(poured(Paragraph("pa", "body", words(20))))
    type_at(page, 0, 0)
    page.click(".slip button:has-text('Fonts')")
    page.locator(".font-row").first.wait_for()
    path = odd_font(tmp_path / "Wherry Sans.ttf")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.set_input_files(
        "#fonts input[type=file]", {"name": "letter.ttf", "mimeType": "font/ttf", "buffer": b"Dear Sir"}
    )
    expect(page.locator("#toast")).to_contain_text("is broken, or no font")
    page.set_input_files("#fonts input[type=file]", path)
    row = page.locator(".font-row[data-on]")
    expect(row).to_have_attribute("data-family", "Wherry Sans", timeout=15_000)  # it is tried in a process of its own
    expect(row).to_contain_text("of this job · 1 cut")
    (
        page.keyboard.press("Enter")
        if page.evaluate("() => document.activeElement.type") == "search"
        else page.click("#fonts .use")
    )
    settled(page)
    expect(page.locator("#tf")).to_have_value("Wherry Sans")
    family = page.locator(f"{MAIN} text").first.get_attribute("font-family") or ""
    page.evaluate("() => document.fonts.ready")
    assert page.evaluate(
        "(family) => [...document.fonts].some((f) => f.family === family && f.status === 'loaded')", family
    )
    page.click(".slip button:has-text('Fonts')")
    row.locator("text=Remove").click()
    expect(page.locator("#ask")).to_contain_text("1 paragraph uses this family")
    page.click("#ask-yes")
    expect(page.locator(".font-row[data-family='Wherry Sans']")).to_have_count(0)
    page.keyboard.press("Escape")
    settled(page)
    expect(page.locator("#tf")).to_have_value("Wherry Sans")
    expect(page.locator(".slip")).to_contain_text("because Wherry Sans is missing")
    page.click("#undo")
    settled(page)
    expect(page.locator(".slip")).not_to_contain_text("because Wherry Sans is missing")


def test_the_line_is_edited_in_place(opened: Callable[[Job], Page]) -> None:
    """What is taken out of the line goes, what was left alone is not set by hand."""
    page = opened(poured(Paragraph("pa", "body", words(30)), Paragraph("pb", "body", words(30))))
    type_at(page, 0, 0)
    spec(page, "small caps, centre")
    settled(page)
    line = page.locator("#spec")
    expect(line).to_have_value(re.compile("centre"))
    line.click()
    line.press("End")
    shown = line.input_value()
    at = shown.index(", small caps")
    page.evaluate(
        "([at, end]) => document.querySelector('#spec').setSelectionRange(at, end)", [at, at + len(", small caps")]
    )
    line.press("Delete")
    expect(page.locator(".spec")).to_contain_text("no longer small caps")
    line.press("Enter")
    settled(page)
    expect(page.locator(".slip")).to_contain_text("Local formatting: centre.")


def test_a_style_is_redefined_found_and_deleted(opened: Callable[[Job], Page]) -> None:
    page = opened(
        poured(
            Paragraph("pa", "quote", words(20)),
            Paragraph("pb", "quote", words(20, 2)),
            Paragraph("pc", "body", words(30)),
        )
    )
    type_at(page, 0, 0)
    spec(page, "italic, centre")
    settled(page)
    expect(page.locator(".slip")).to_contain_text("Local formatting: italic, centre")
    page.click("text=Update style")
    settled(page)
    expect(page.locator(".slip >> text=Local formatting:")).to_be_hidden()
    assert "italic" in (page.locator(f'{MAIN}[data-p="pb"] text').first.get_attribute("font-family") or "")
    page.click(".slip button:has-text('Styles')")
    search = page.locator("#styles input[type=search]")
    search.fill("quot")
    expect(page.locator(".style-row")).to_have_count(1)
    page.locator(".style-row svg text").first.wait_for()
    page.click("#styles button:has-text('Where used')")
    expect(page.locator(".use-row")).to_have_count(2)
    page.click("#styles button:has-text('Delete')")
    page.select_option("#ask select", label="First paragraph")
    page.click("#ask-yes")
    expect(page.locator(".style-row")).to_have_count(0)
    page.keyboard.press("Escape")
    settled(page)
    type_at(page, 1, 0)
    expect(page.locator("#ps")).to_have_value("first")
    page.click("#undo")
    settled(page)
    expect(page.locator("#ps")).to_have_value("quote")


def test_texture_marks_and_a_remedy(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(width=300.0, facing=False))
    workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", words(90, n)) for n in range(8))))
    page = opened(workspace.job)
    page.click("#texture")
    page.locator(".texture .tx").first.wait_for()
    expect(page.locator("#texture-bar .figures")).to_contain_text("mean |r|")
    kinds = page.eval_on_selector_all(".texture .tx", "(all) => [...new Set(all.map((g) => g.classList[1]))]")
    assert "tx-loose" in kinds
    for _ in range(30):
        page.click("#texture-bar .next")
        page.wait_for_function(
            "() => document.querySelector('#texture-bar .remedies').textContent.includes('rephrase')"
        )
        if page.locator("#texture-bar .remedies button:not(:has-text('rephrase'))").count():
            break
    before = lines(page)
    page.locator("#texture-bar .remedies button").first.click()
    settled(page)
    assert lines(page) != before or page.locator(MAIN + " text[letter-spacing]").count()
    page.click("#texture-bar .kinds button:has-text('rivers')")
    expect(page.locator(".texture .tx-river")).to_have_count(0)
    page.click("#texture-bar .close")
    expect(page.locator(".texture .tx")).to_have_count(0)


def test_words_are_found_over_pages(opened: Callable[[Job], Page]) -> None:
    texts = [words(120, n) for n in range(30)]
    texts[25] += " The bittern booms."
    page = opened(poured(*(Paragraph(f"p{n}", "body", text) for n, text in enumerate(texts))))
    page.keyboard.press("Control+f")
    page.fill("#find-words", "bittern")
    expect(page.locator("#find-count")).to_have_text("1 found")
    page.keyboard.press("Enter")
    expect(page.locator("#find-count")).to_have_text("1 of 1")
    page.locator(".selection").first.wait_for()
    assert any("bittern" in line for line in lines(page))
    page.expected.add(400)  # type: ignore[attr-defined]
    page.fill("#find-words", "b[")
    page.check("#find-bar [data-flag=pattern]")
    expect(page.locator("#find-count")).to_contain_text("is not valid")
    page.keyboard.press("Escape")
    expect(page.locator("#find-bar")).to_be_hidden()


def test_rich_words_go_out_and_come_in_clean(opened: Callable[[Job], Page]) -> None:
    page = opened(
        poured(
            Paragraph("pa", "body", "plain and leaning words", (Span(10, 17, style="emphasis"),)),
            Paragraph("pb", "body", "second"),
        )
    )
    type_at(page, 0, 0)
    page.keyboard.press("Shift+End")
    page.keyboard.press("Control+c")
    html = page.evaluate("""async () => { for (;;) {
        const [item] = await navigator.clipboard.read();
        // It may change once more between the two questions, and what was copied before may still be there.
        const html = item?.types.includes('text/html') && await item.getType('text/html').catch(() => null);
        const said = html && await html.text();
        if (said && said.includes('leaning')) return said;
        await new Promise(requestAnimationFrame);
        } }""")
    assert "<i>leaning</i>" in html
    type_at(page, 1, 6)
    page.evaluate(
        """() => { const data = new DataTransfer();
        data.setData('text/html', '<p style="color:red;font-family:Wild">a <b>heavy</b> word<script>document.title = "bad"</script></p><h2>and a heading</h2>');
        data.setData('text/plain', 'a heavy word');
        document.getElementById('typing').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })); }"""  # noqa: E501
    )
    expect(page.locator(".content")).to_contain_text("seconda")
    settled(page)
    text = "|".join(lines(page))
    assert text == "plain and leaning words|seconda heavy word|and a heading"
    heavy = page.locator(f"{MAIN} text:has-text('heavy')").first
    assert "bold" in (heavy.get_attribute("font-family") or "")
    assert heavy.get_attribute("fill") is None
    page.keyboard.press("Control+z")
    settled(page)
    assert lines(page) == ["plain and leaning words", "second"]
    # On the board it becomes a frame of its own, a list as a list, taken back as one.
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.evaluate(
        """() => { const data = new DataTransfer();
        data.setData('text/html', '<ul><li>first <i>item</i></li><li>other</li></ul><table><tr><td>a</td><td>b</td></tr></table>');
        data.setData('text/plain', 'first item other');
        document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })); }"""  # noqa: E501
    )
    expect(page.locator(".content text").filter(has_text="•")).to_have_count(2)
    settled(page)
    page.keyboard.press("Control+z")
    expect(page.locator(".content text").filter(has_text="•")).to_have_count(0)
    settled(page)
    assert lines(page) == ["plain and leaning words", "second"]


def test_selected_words_are_carried_to_another_place(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("pa", "body", "alpha beta gamma delta"), Paragraph("pb", "body", "one two three")))
    type_at(page, 0, 6)
    for _ in range(5):
        page.keyboard.press("Shift+ArrowRight")
    box = page.locator(".selection").first.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    to = page.locator(f'{MAIN}[data-p="pb"]').bounding_box()
    assert to
    page.mouse.move(to["x"] + 60, to["y"] + to["height"] / 2, steps=5)
    page.locator(".drop-caret").wait_for(state="attached")
    page.mouse.move(to["x"] + 1, to["y"] + to["height"] / 2, steps=3)
    page.mouse.up()
    settled(page)
    assert lines(page) == ["alpha gamma delta", "beta one two three"]
    page.click("#undo")
    settled(page)
    assert lines(page) == ["alpha beta gamma delta", "one two three"]


def test_the_caret_goes_by_paragraphs_columns_and_the_whole_text(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(*(Paragraph(f"p{n}", "body", words(150, n)) for n in range(20))))
    type_at(page, 0, 5)
    page.keyboard.press("Control+ArrowDown")
    page.keyboard.type("X")
    page.keyboard.press("Control+ArrowUp")
    page.keyboard.press("Control+ArrowUp")
    page.keyboard.type("Y")
    settled(page)
    found = {line[0] for line in lines(page)}
    assert {"X", "Y"} <= found
    page.keyboard.press("Control+End")
    page.keyboard.type("END")
    settled(page)
    assert lines(page)[-1].endswith("END")
    page.keyboard.press("Control+Home")
    page.keyboard.type("BEGIN")
    settled(page)
    assert lines(page)[0].startswith("BEGIN")
    first = lines(page)[0]
    page.keyboard.press("Alt+ArrowDown")
    page.wait_for_function(
        "(first) => document.querySelector('.content .frame[data-role=main] .ln').textContent !== first", arg=first
    )
    page.locator(".marks .caret").wait_for(state="attached")
    caret, line = (page.locator(name).first.bounding_box() for name in (".marks .caret", MAIN))
    assert caret
    assert line
    assert abs(caret["y"] - line["y"]) < 4
    assert caret["x"] < line["x"] + 3, "at the head of the next column"


def test_a_novel_pasted_leaves_the_page_awake(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("pa", "body", "Here: ")))
    type_at(page, 0, 6)
    longest = page.evaluate("""async () => {
        const text = Array.from({ length: 1000 }, (_, n) => Array.from({ length: 100 }, (_, m) => 'water' + (n + m)).join(' ')).join('\\n');
        let worst = 0, last = performance.now(), on = true;
        const watch = () => { const now = performance.now(); worst = Math.max(worst, now - last); last = now; if (on) setTimeout(watch, 5); };
        setTimeout(watch, 0);
        const data = new DataTransfer();
        data.setData('text/plain', text);
        document.getElementById('typing').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
        await new Promise((done) => { const look = () => document.getElementById('page-count').textContent > 100 ? done() : setTimeout(look, 50); look(); });
        on = false;
        return worst; }""")  # noqa: E501
    settled(page)
    assert int(page.locator("#page-count").inner_text().replace(",", "")) > 200
    assert longest < 2500, "the window never stood still for long, however slow the machine"


def test_invisible_characters(opened: Callable[[Job], Page]) -> None:
    page = opened(
        poured(
            Paragraph("pa", "body", "one two\u2028three\tfour"),
            Paragraph("pb", "body", "five", type=TypeSpec(size=14.0)),
        )
    )
    page.click("#invisibles")
    signs = page.eval_on_selector_all(".signs text", "(all) => all.map((t) => t.textContent).join('')")
    assert signs == "·↵→¶¶"
    page.click("#invisibles")
    expect(page.locator(".signs text")).to_have_count(0)


def test_words_set_by_hand_become_a_character_style(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("pa", "body", "Redshank and godwit"), Paragraph("pb", "body", "Redshank again")))
    type_at(page, 0, 0)
    page.keyboard.press("Shift+Control+ArrowRight")
    spec(page, "bold, track 20")
    settled(page)
    page.click(".slip button:has-text('Save as style…')")
    page.locator("#ask input").fill("Bird name")
    page.click("#ask-yes")
    settled(page)
    expect(page.locator("#tcs option:checked")).to_have_text("Bird name")
    expect(page.locator(".slip >> text=These words have local formatting")).to_be_hidden()
    type_at(page, 1, 0)
    page.keyboard.press("Shift+Control+ArrowRight")
    spec(page, "Bird name")
    settled(page)
    run = page.locator(f'{MAIN}[data-p="pb"] text').first
    assert "bold" in (run.get_attribute("font-family") or "")
    page.click("#tools [data-tool=select]")
