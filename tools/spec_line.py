"""Writes docs/spec-line.md from the grammar's own rules. ``python -m tools.spec_line``."""

from __future__ import annotations

from pathlib import Path

from lexigon.core.spec.grammar import RULES

TARGET = Path(__file__).parents[1] / "docs/spec-line.md"
HEAD = """# The spec line

Designers have always written type specifications by hand. The first field of the board's slip is that line: it shows
the
formatting of the selection in this notation, and takes typing. Press `/` to go to it.

```
11/15 EB Garamond italic, justified, indent 15pt, small caps
3 columns, gutter 5mm, text at middle, wrap both outline 3mm
Section heading, +1/+2
```

1. Type phrases, with commas between them or without. Capital and small letters are the same.
2. Read below what was understood. Phrases that were not understood are underlined, and nothing is changed then.
3. Press **Enter** to apply it. **Tab** completes names of fonts, styles and swatches.

- **The line is complete.** Edit it in place to change only what you edit; delete a phrase to remove that formatting. Or
  type a new line
  over it: it is applied, and the other formatting stays.
- A phrase about a part (`padding 3`, `rule above Marker red`, `column rule 2`) leaves the other parts unchanged.
- **It applies to** the selected words; without a selection to the paragraph at the caret; with frames selected to the
  frames and their
  visible paragraphs.
- Numbers without a unit are points, for frames the unit of the job. Numbers have a decimal point here, whatever your
  preferences, because
  commas separate phrases.
- **Colours**: `colour`, `fill`, `shade`, `stroke`, `border` and rules take a swatch with a tint; strokes and rules also
  take a rule style:
  `colour Marker red 60%`, `stroke 1 Black`, `rule below Hairline`, `fill none`. A swatch alone is the colour of the
  selected text, or the fill of the
  selected shapes: `Marker red 60%`.
- **Styles** are written in the same way: the *Formatting* of a style (key **S**) is a spec line.
- Former words are still read: `edge` for `stroke`, `lean` for `skew`, `mirrored` for `flipped`, `flat`, `sharp` and
  `cut` for `butt`, `mitre` and `bevel`.
"""


def page() -> str:
    """The whole page: the introduction, and every rule's example with what it does, by group."""
    groups: dict[str, list[str]] = {name: [] for name in ("Size", "Characters", "Paragraphs", "Frames", "Styles")}
    for rule in RULES:
        example = rule.example.replace("|", "\\|")
        groups[rule.group].append(f"| `{example}` | {rule.about} |")
    parts = [HEAD]
    for group, rows in groups.items():
        parts.append("\n".join([f"## {group}", "", "| written | does |", "|---|---|", *rows, ""]))
    return "\n".join(parts)


if __name__ == "__main__":
    TARGET.write_text(page(), "utf-8")
