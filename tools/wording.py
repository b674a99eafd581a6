"""Every string that a person can see and every docstring, with its place, and how often they contain habits of speech.

``python -m tools.wording`` lists the strings (place, kind, words; tab separated), ``--only scripts`` those of one area,
``--habits`` those with a habit alone. ``--record`` writes the counts to ``tests/wording.json``, against which a test
holds the sources: a count may fall and never rise."""

from __future__ import annotations

import argparse
import ast
import io
import json
import re
import tokenize
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cache
from html.parser import HTMLParser
from pathlib import Path

ROOT = Path(__file__).parents[1]
BENCH = ROOT / "src/lexigon/bench"
STORED = ROOT / "tests/wording.json"

HABITS: dict[str, str] = {
    "stands": r"\b(?:stands?|stood) (?:on|apart|in|at|by itself|there|where|above|below|before|behind|beside)\b",
    "told": r"\b(?:told|tells?)\b",
    "kept": r"\bkept\b|\b[Kk]eeps? (?:it|this|these|them)\b",
    "put in": r"\b[Pp]uts? (?:in|into)\b",
    "bring in": r"\b(?:[Bb]rings?|[Bb]rought)(?: \w+)? in\b",
    "take out": r"\b(?:[Tt]akes?|[Tt]aken|[Tt]ook)(?: \w+)? out\b",
    "chosen": r"\b[Cc]hosen\b",
    "otherwise": r"\blooks? otherwise\b|\botherwise than\b",
    "go on": r"\b(?:[Gg]o|[Gg]oes|[Gg]oing|went) on\b",
    "behind": r"\b[Bb]ehind\b",
    "as it lies": r"\b[Aa]s (?:it|they) (?:lies?|stands?|is read|are read)\b",
    "what matters": r"\b[Ww]hat matters\b",
    "of its own": r"\bof (?:its|their|one’s|your) own\b|\bthat it has\b",
    "alike": r"\balike\b",
    "held against": r"\bheld against\b",
    "so": r"\b(?:is|are|stays?|was|were) so\b",
    "house": r"\bways? of (?:a|the|this) house\b",
    "sign": r"\b[Ss]igns?\b(?! (?:in|up|out)\b)",
    "look": r"\b(?:a|the|its|their|this|these|local|other) looks?\b|\blooks of\b",
    "in their order": r"\bin their order\b",
    "a text": (
        r"\b(?:[Aa]|[Aa]nother|[Ee]ach|[Ee]very|[Oo]ne) text\b(?! "
        r"(?:frame|tool|file|area|editor|document|format|box)\b)|\b[Tt]exts\b"
    ),
}
"""What is to be said in other words (WORDS: tics to remove), as regular expressions."""
COMPILED = {name: re.compile(pattern) for name, pattern in HABITS.items()}
AREAS = ("templates", "scripts", "messages", "docs", "docstrings")


@dataclass(frozen=True, slots=True)
class SourceString:
    """A string with its place: the file within the project, and the line."""

    area: str
    place: str
    kind: str
    words: str


@cache
def inventory() -> tuple[SourceString, ...]:
    """Return all strings that a person can see, area by area, sorted by file. The sources are read once."""
    return tuple(_of_sources())


def _of_sources() -> Iterator[SourceString]:
    for path in sorted((BENCH / "templates").rglob("*.html")):
        yield from _of_template(path)
    for path in sorted((BENCH / "static/bench/js").rglob("*.js")):
        yield from _of_script(path)
    for path in sorted((ROOT / "src/lexigon").rglob("*.py")):
        if "migrations" not in path.parts:
            yield from _of_module(path)
            yield from _of_documentation(path)
    for path in [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))]:
        yield from _of_page(path)


def counts() -> dict[str, dict[str, int]]:
    """How often each habit occurs, by area."""
    totals: dict[str, Counter[str]] = {area: Counter() for area in AREAS}
    for one in inventory():
        for name, pattern in COMPILED.items():
            totals[one.area][name] += len(pattern.findall(one.words))
    return {area: {name: counted[name] for name in HABITS} for area, counted in totals.items()}


VERBS = frozenset(
    [
        "accept",
        "add",
        "adjust",
        "align",
        "apply",
        "begin",
        "bind",
        "bring",
        "calibrate",
        "cancel",
        "change",
        "clear",
        "clip",
        "close",
        "combine",
        "compare",
        "continue",
        "convert",
        "copy",
        "cut",
        "delete",
        "distribute",
        "divide",
        "draw",
        "duplicate",
        "edit",
        "empty",
        "end",
        "enlarge",
        "exclude",
        "export",
        "fill",
        "find",
        "finish",
        "fit",
        "flip",
        "follow",
        "forget",
        "format",
        "gather",
        "go",
        "group",
        "hide",
        "import",
        "insert",
        "intersect",
        "join",
        "learn",
        "link",
        "lock",
        "make",
        "match",
        "measure",
        "merge",
        "move",
        "number",
        "offset",
        "open",
        "override",
        "paste",
        "pick",
        "place",
        "put",
        "recolour",
        "redo",
        "reduce",
        "release",
        "remove",
        "rename",
        "reopen",
        "repeat",
        "replace",
        "reset",
        "resize",
        "restore",
        "return",
        "reverse",
        "rotate",
        "save",
        "scale",
        "select",
        "send",
        "separate",
        "set",
        "show",
        "skew",
        "smooth",
        "sort",
        "split",
        "subtract",
        "swap",
        "switch",
        "trace",
        "type",
        "undo",
        "ungroup",
        "unite",
        "unlock",
        "update",
        "zoom",
    ]
)
"""What commands and lines of the history may begin with."""
NAVIGATION = frozenset({"Next spread", "Previous spread"})
"""Commands that have the name of what they lead to."""
COMMAND = re.compile(
    r'\bword:\s*(?:"([^"]+)"|`([^`]+)`)(?:(?!\bword:)[^}])*?\bkeys: '
    r'|\bregister\(\{\s*word:\s*(?:"([^"]+)"|`([^`]+)`)|\bcommand:\s*"([^"]+)"'
)


def commands() -> list[tuple[str, str]]:
    """The commands of the command finder, each with its file; holes of templates as in the inventory."""
    labels = []
    for path in sorted((BENCH / "static/bench/js").rglob("*.js")):
        for match in COMMAND.finditer(path.read_text()):
            if "command:" in match[0] and "word:" in match[0]:
                continue  # a switch at the foot of the board, with another label in the finder
            word = next(group for group in match.groups() if group)
            labels.append((path.name, HOLE.sub("…", word)))
    return labels


def history_labels() -> list[str]:
    """The lines that intents write into the history."""
    labels = []
    for path in sorted((ROOT / "src/lexigon/core").rglob("*.py")):
        tree = ast.parse(path.read_text())
        for node in ast.walk(tree):
            if isinstance(node, ast.Assign) and any(
                isinstance(to, ast.Name) and to.id == "label" for to in node.targets
            ):
                if isinstance(node.value, ast.Constant) and isinstance(node.value.value, str):
                    labels.append(node.value.value)
            elif isinstance(node, ast.FunctionDef) and node.name == "label" and "intents" in path.parts:
                labels += [
                    one.value
                    for part in node.body
                    if not isinstance(part, ast.Expr)
                    for one in ast.walk(part)
                    if isinstance(one, ast.Constant) and isinstance(one.value, str) and one.value[:1].isupper()
                ]
    return labels


def without_verb(labels: Iterable[str]) -> list[str]:
    """Labels that do not begin with a verb."""
    return sorted(
        {
            one
            for one in labels
            if one not in NAVIGATION
            and re.split(r"[\s…]", one.lstrip("…"))[0].lower() not in VERBS
            and not one.startswith("…")
        }
    )


def _place(path: Path, line: int) -> str:
    return f"{path.relative_to(ROOT)}:{line}"


TAG = re.compile(r"\{%.*?%\}|\{#.*?#\}", re.DOTALL)
VARIABLE = re.compile(r"\{\{.*?\}\}", re.DOTALL)
READ_ALOUD = ("title", "aria-label", "placeholder", "alt")
LETTERS = re.compile(r"[A-Za-z]{2}")


class _Words(HTMLParser):
    """The words of a template: its texts, and the attributes that are shown or read aloud."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path, self.strings = path, list[SourceString]()
        self._silent = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self._silent += tag in ("script", "style")
        for name, value in attrs:
            if name in READ_ALOUD and value and LETTERS.search(value):
                self._add(name, value)

    def handle_endtag(self, tag: str) -> None:
        self._silent -= tag in ("script", "style")

    def handle_data(self, data: str) -> None:
        if not self._silent and LETTERS.search(data):
            self._add("text", data)

    def _add(self, kind: str, words: str) -> None:
        self.strings.append(
            SourceString("templates", _place(self.path, self.getpos()[0]), kind, " ".join(words.split()))
        )


def _of_template(path: Path) -> list[SourceString]:
    parser = _Words(path)
    source = TAG.sub(lambda match: re.sub(r"[^\n]", " ", match[0]), path.read_text())
    parser.feed(VARIABLE.sub("…", source))
    parser.close()
    return parser.strings


STRING = re.compile(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`')
COMMENT = re.compile(r"^\s*(?://|\*|/\*\*).*$|(?<=[;,{}()\s])//\s.*$", re.MULTILINE)
NOT_SHOWN = re.compile(
    r"(?:\bclass(?:Name|List\.\w+)?:?\s*\(?|querySelector(?:All)?\(|closest\(|matches\(|\bfrom |\bd: "
    r"|addEventListener\(|"
    r"getElementById\(|setAttribute\([^,]*,\s*|import\(|\bid: |\btype: |\bone\(|\ball\()\s*$"
)
CODE = re.compile(r"^[\w\-./:#\[\]=*>()@$,{}&?|+^~'!%]*$|^[a-z0-9\- :\[\]/.]+$|^\$\{[^}]*\}$|^\s*$|^<")
HOLE = re.compile(r"\$\{(?:[^{}]|\{[^{}]*\})*\}")


def _of_script(path: Path) -> Iterator[SourceString]:
    """Strings with words in them: a heuristic, which leaves out selectors, classes and addresses."""
    source = COMMENT.sub(lambda match: " " * len(match[0]), path.read_text())
    for match in STRING.finditer(source):
        raw = match[1] if match[1] is not None else match[2]
        words = HOLE.sub("…", raw)
        if not LETTERS.search(words) or NOT_SHOWN.search(source[max(match.start() - 60, 0) : match.start()]):
            continue
        lone = re.fullmatch(r"[A-Z][a-z]+", words) is not None
        if not lone and (
            (CODE.match(words) and " " not in words)
            or re.fullmatch(r"[a-z0-9\-\[\]:./%()]+(?: [a-z0-9\-\[\]:./%()]*[-\[:\]\d][a-z0-9\-\[\]:./%()]*)+", words)
        ):
            continue
        line = source.count("\n", 0, match.start()) + 1
        yield SourceString("scripts", _place(path, line), "string", " ".join(words.split()))


def _of_module(path: Path) -> Iterator[SourceString]:
    """Strings of a module that are sentences or labels; documentation is none."""
    tree = ast.parse(path.read_text())
    silent = {
        id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
    }
    inside: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            inside.update(id(part) for part in node.values)
            words = "".join(
                part.value if isinstance(part, ast.Constant) and isinstance(part.value, str) else "…"
                for part in node.values
            )
            yield from _message(path, node.lineno, words)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in silent | inside:
            yield from _message(path, node.lineno, node.value)


def _of_documentation(path: Path) -> Iterator[SourceString]:
    """Docstrings and comments of a module."""
    source = path.read_text()
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, str):
            words = re.sub(r"``[^`]+``", "…", " ".join(node.value.value.split()))
            yield SourceString("docstrings", _place(path, node.lineno), "docstring", words)
    for token in tokenize.generate_tokens(io.StringIO(source).readline):
        if token.type == tokenize.COMMENT:
            yield SourceString("docstrings", _place(path, token.start[0]), "comment", token.string.lstrip("# "))


SENTENCE = re.compile(r"^[A-Z“…].*[a-z].* .*|.* .*[.!?…”]$", re.DOTALL)


def _message(path: Path, line: int, words: str) -> Iterator[SourceString]:
    words = " ".join(words.split())
    plain = LETTERS.search(words) and not re.search(r"[\\<>=]{2}|\(\?|\^|^/|[a-z]\.[a-z]+$", words)
    if plain and " " in words and (SENTENCE.match(words) or re.fullmatch(r"[a-z][a-z ,’“”…-]+", words)):
        yield SourceString("messages", _place(path, line), "string", words)


def _of_page(path: Path) -> Iterator[SourceString]:
    fenced = False
    for number, line in enumerate(path.read_text().splitlines(), 1):
        fenced ^= line.lstrip().startswith("```")
        words = re.sub(r"`[^`]*`", "…", line).strip()
        if not fenced and LETTERS.search(words):
            yield SourceString("docs", _place(path, number), "line", words)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--only", choices=AREAS, help="one area")
    parser.add_argument("--habits", action="store_true", help="only strings with a habit, which is named")
    parser.add_argument("--counts", action="store_true", help="the counts")
    parser.add_argument("--record", action="store_true", help="write the counts down")
    options = parser.parse_args()
    if options.counts or options.record:
        totals = counts()
        if options.record:
            STORED.write_text(json.dumps(totals, indent=1) + "\n")
        for area, by_name in totals.items():
            print(f"{area}: {sum(by_name.values())}", {name: n for name, n in by_name.items() if n})
        return
    for one in inventory():
        habits = [name for name, pattern in COMPILED.items() if pattern.search(one.words)]
        if options.only in (None, one.area) and (habits or not options.habits):
            print(one.place, ", ".join(habits) if options.habits else one.kind, one.words, sep="\t")


if __name__ == "__main__":
    main()
