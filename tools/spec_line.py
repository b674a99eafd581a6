"""Writes docs/spec-line.md from the grammar's own rules. ``python -m tools.spec_line``."""

from __future__ import annotations

from pathlib import Path

from lexigon.core.spec.grammar import RULES

TARGET = Path(__file__).parents[1] / "docs/spec-line.md"
HEAD = """# The spec line

Designers have always written type specifications by hand. The first field of the board's slip is that line: it shows what
is selected in this notation and takes typing. `/` puts the cursor into it.

```
11/15 EB Garamond italic, justified, indent 15pt, small caps
3 columns, gutter 5mm, text at middle, wrap both outline 3mm
Section heading, +1/+2
```

- Phrases stand one after the other, with commas or without. The longest that fits is taken; case does not matter.
- What it understood is said below before anything is done; **Enter** does it. What it did not understand is underlined, and
  then nothing is changed.
- All of a setting is in the line. **Edited in place** it changes only what you edited: what you take out is plain again, what you
  leave alone is not set by hand. **Typed anew** over all of it, it does what it says and leaves the rest.
- A phrase about a part (`padding 3`, `rule above Marker red`, `column rule 2`) leaves the other parts as they are.
- Names of font families, of paragraph, character and frame styles, and of swatches are completed: **Tab** or **Enter** takes
  the name offered.
- It applies to the selected words; with none selected to the paragraphs the caret stands in; with frames selected to their
  visible paragraphs and to the frames, however many.
- Numbers without a unit are points; in frames they are the job's unit. `colour`, `fill`, `shade`, `edge`, `border` and the rules take a
  swatch's name and a tint, or the lines a rule style: `colour Marker red 60%`, `edge 1 Black`, `rule below Hairline`, `fill none`. The name of a swatch
  alone is the colour of the selected text, or where only shapes are selected their fill: `Marker red 60%`.
- A style is written the same way: the *Setting* of a style (key **S**) is a spec line, and only what you change of it becomes
  the style's own; what you take out goes back to what it is based on.
"""


def page() -> str:
    """The whole page: the introduction, and every rule's example with what it does, by group."""
    groups: dict[str, list[str]] = {name: [] for name in ("Size", "Characters", "Paragraphs", "Frames", "Styles")}
    for rule in RULES:
        shown = rule.shown.replace("|", "\\|")
        groups[rule.group].append(f"| `{shown}` | {rule.about} |")
    parts = [HEAD]
    for group, rows in groups.items():
        parts.append("\n".join([f"## {group}", "", "| written | does |", "|---|---|", *rows, ""]))
    return "\n".join(parts)


if __name__ == "__main__":
    TARGET.write_text(page(), "utf-8")
