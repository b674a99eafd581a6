"""The cache of set lines and shaped words: equal results, every input in the key, and nothing that is trusted."""

from __future__ import annotations

import io
import os
from collections.abc import Iterator
from dataclasses import fields, replace
from datetime import datetime, timezone
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.cache import Cache, current_cache, entry_name, use_cache
from lexigon.core.document.cascade import Cascade, Setting, TypeSetting
from lexigon.core.document.model import Box, Job, ListMark, Paragraph, ParaRule, Stroke, TabStop
from lexigon.core.flow import lines_ahead
from lexigon.core.flow.workspace import Workspace
from lexigon.core.forks import Fork
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from lexigon.core.type import engine, hyphenation, line_cache, paragraph, shaping, word_cache
from lexigon.core.type.fonts import shipped
from lexigon.core.type.hyphenation import Hyphenator, compile_patterns, dictionary
from lexigon.core.type.line_cache import LineCache, pack, unpack
from lexigon.core.type.runs import Boxed, Run, look_for
from lexigon.core.type.set_line import SetLine
from lexigon.core.type.shaping import Cut, save_shaped_words
from lexigon.core.type.word_cache import SavedWords
from tests.core.helpers import poured, words


@pytest.fixture
def cache(tmp_path: Path) -> Iterator[Cache]:
    """A cache that this process uses during a test."""
    before, cache = current_cache(), Cache(tmp_path / "cache")
    use_cache(cache)
    yield cache
    use_cache(before)


def entries(cache: Cache, kind: str) -> list[Path]:
    return sorted(cache.folder.glob(f"{kind}-*.cache"))


# Entries


def test_an_entry_is_read_only_as_it_was_written(cache: Cache) -> None:
    name, content = entry_name("lines", "a job", 1.5), os.urandom(200)
    cache.write(name, content)
    (path,) = entries(cache, "lines")
    assert cache.read(name) == content
    assert Cache(cache.folder).read(name) == content, "another process reads it with the key of the folder"
    data = path.read_bytes()
    for at in range(len(data)):
        path.write_bytes(data[:at] + bytes([data[at] ^ 1]) + data[at + 1 :])
        assert cache.read(name) is None, f"byte {at} was changed"
    for length in (0, 3, 10, 36, len(data) - 1):
        path.write_bytes(data[:length])
        assert cache.read(name) is None, f"cut to {length} bytes"
    path.write_bytes(data)
    path.rename(path.with_name(entry_name("lines", "another job") + ".cache"))
    assert cache.read(entry_name("lines", "another job")) is None, "an entry with another name"
    assert cache.read(entry_name("lines", "no job")) is None


def test_an_entry_with_the_key_of_another_folder_is_a_miss(cache: Cache, tmp_path: Path) -> None:
    other = Cache(tmp_path / "other")
    for one, content in ((cache, b"ours"), (other, b"theirs")):
        one.write("lines-1", content)
    (other.folder / "lines-1.cache").replace(cache.folder / "lines-1.cache")
    assert cache.read("lines-1") is None
    assert (cache.folder / "key").stat().st_mode & 0o077 == 0, "only its owner reads the key"


def test_a_key_that_was_cut_short_is_written_anew(cache: Cache) -> None:
    cache.write("lines-1", b"content")
    (cache.folder / "key").write_bytes(b"short")
    again = Cache(cache.folder)
    assert again.read("lines-1") is None
    again.write("lines-1", b"content")
    assert Cache(cache.folder).read("lines-1") == b"content"


def test_a_cache_is_bounded_and_deletes_what_was_not_read_for_longest(tmp_path: Path) -> None:
    cache = Cache(tmp_path, most_bytes=10_000)
    for number in range(6):
        cache.write(f"lines-{number}", os.urandom(1900))
        os.utime(tmp_path / f"lines-{number}.cache", (number, number))
    cache.write("lines-7", os.urandom(1900))
    left = [path.name for path in sorted(tmp_path.glob("*.cache"))]
    assert left == ["lines-3.cache", "lines-4.cache", "lines-5.cache", "lines-7.cache"]
    cache.write("lines-8", os.urandom(9000))
    assert cache.read("lines-8") is None, "an entry of more than half the cache is not written"


def test_a_folder_that_cannot_be_used_is_an_empty_cache(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("no folder")
    cache = Cache(tmp_path / "file" / "cache")
    cache.write("lines-1", b"content")
    assert cache.read("lines-1") is None
    (tmp_path / "file").unlink()
    cache.write("lines-1", b"content")
    assert cache.read("lines-1") == b"content", "it is used as soon as it can be"


# Lines


def long_job(count: int = 80, seed: int = 1) -> Job:
    return poured(count, seed).job


def pdf_of(workspace: Workspace) -> bytes:
    stream = io.BytesIO()
    write_pdf(workspace.composition, recipe("print"), stream, datetime(2026, 1, 1, tzinfo=timezone.utc))
    return stream.getvalue()


def test_a_job_from_the_cache_is_the_same_and_sets_no_line(cache: Cache, monkeypatch: pytest.MonkeyPatch) -> None:
    job = long_job()
    plain = pdf_of(Workspace(job))
    with line_cache.line_cache("job") as first:
        pdf_of(Workspace(job))
    assert first is not None
    assert first.misses > 70
    monkeypatch.setattr(paragraph, "_set_lines", lambda *_: pytest.fail("a paragraph was set anew"))
    with line_cache.line_cache("job") as second:
        assert pdf_of(Workspace(job)) == plain
    assert second is not None
    assert second.hits > 70
    assert not second.misses


def test_damaged_lines_are_set_anew(cache: Cache) -> None:
    job = long_job()
    plain = pdf_of(Workspace(job))
    with line_cache.line_cache("job") as first:
        Workspace(job)
    (path,) = entries(cache, "lines")
    path.write_bytes(path.read_bytes()[:-7] + b"garbage")
    with line_cache.line_cache("job") as lines:
        workspace = Workspace(job)
    assert first is not None
    assert lines is not None
    assert lines.misses == first.misses
    assert pdf_of(workspace) == plain
    with line_cache.line_cache("job") as again:
        Workspace(job)
    assert again is not None
    assert not again.misses, "the entry was written anew"


def test_an_entry_has_only_the_lines_that_the_job_asked_for_last(cache: Cache) -> None:
    with line_cache.line_cache("job"):
        Workspace(long_job())
    (path,) = entries(cache, "lines")
    before = path.stat().st_size
    with line_cache.line_cache("job"):
        Workspace(long_job(30, 7))
    assert path.stat().st_size < before * 0.6


SETTING = Cascade(long_job()).setting(Paragraph("p", "body"))
LOOK = look_for(shipped(), Cascade(long_job()).type_of(Paragraph("p", "body")))
TEXT = "some words of a line"
RUNS = [Run(0, len(TEXT), LOOK)]
REST: tuple[Any, ...] = (300.0, 11.0, 0, None)
OTHER: dict[str, Any] = {
    "tabs": (TabStop(20.0),),
    "rule_above": ParaRule(Stroke(1.0)),
    "rule_below": ParaRule(Stroke(1.0)),
    "box": Box(stroke=Stroke(1.0)),
    "list": ListMark("bullet"),
    "exceptions": ("ob-ser-va-tory",),
    "features": ("liga=0",),
}


def different(name: str, value: Any) -> Any:
    """Another value for a field of a style."""
    if name in OTHER:
        return OTHER[name]
    return not value if isinstance(value, bool) else f"{value}x" if isinstance(value, str) else value + 1


def changed_inputs() -> Iterator[tuple[str, tuple[Any, ...]]]:
    """Each input of a paragraph's lines with another value, all others equal."""
    yield "text", (f"{TEXT[:-1]}d", RUNS, SETTING, *REST)
    for field in fields(Setting):
        setting = replace(SETTING, **{field.name: different(field.name, getattr(SETTING, field.name))})
        yield f"paragraph {field.name}", (TEXT, RUNS, setting, *REST)
    for field in fields(TypeSetting):
        spec = replace(LOOK.spec, **{field.name: different(field.name, getattr(LOOK.spec, field.name))})
        yield f"type {field.name}", (TEXT, [Run(0, len(TEXT), replace(LOOK, spec=spec))], SETTING, *REST)
    for name in ("scale", "tracking", "size", "squeeze", "rise"):
        look = replace(LOOK, **{name: getattr(LOOK, name) + 0.25})
        yield f"run {name}", (TEXT, [Run(0, len(TEXT), look)], SETTING, *REST)
    for name, cut in other_cuts():
        yield name, (TEXT, [Run(0, len(TEXT), replace(LOOK, cut=cut))], SETTING, *REST)
    yield "where runs begin", (TEXT, [Run(0, 5, LOOK), Run(5, len(TEXT), LOOK)], SETTING, *REST)
    yield "where runs end", (TEXT, [Run(0, 6, LOOK), Run(6, len(TEXT), LOOK)], SETTING, *REST)
    for width in (10.0, 12.0):
        boxed = Run(0, len(TEXT), LOOK, box=Boxed("frame", "f1", width=width, height=9.0))
        yield f"frame of {width} pt in the line", (TEXT, [boxed], SETTING, *REST)
    yield "measure", (TEXT, RUNS, SETTING, 300.5, *REST[1:])
    yield "measures", (TEXT, RUNS, SETTING, ((0.0, 300.0),), *REST[1:])
    yield "edge of the measures", (TEXT, RUNS, SETTING, ((1.0, 300.0),), *REST[1:])
    yield "size", (TEXT, RUNS, SETTING, 300.0, 12.0, 0, None)
    yield "start", (TEXT, RUNS, SETTING, 300.0, 11.0, 5, None)
    yield "begins", (TEXT, RUNS, SETTING, 300.0, 11.0, 0, False)


def other_cuts() -> Iterator[tuple[str, Cut]]:
    other = shipped().face("EB Garamond", 700)
    yield "font", Cut(other, tuple(LOOK.cut.features.items()), LOOK.cut.language)
    yield "features", Cut(LOOK.cut.face, (("smcp", 1),), LOOK.cut.language)
    yield "language of the shaper", Cut(LOOK.cut.face, tuple(LOOK.cut.features.items()), "tr")


def test_every_input_of_a_line_is_in_its_key(cache: Cache) -> None:
    lines = LineCache(cache, "job")
    keys = {lines.key(TEXT, RUNS, SETTING, *REST): "unchanged"}
    for name, arguments in changed_inputs():
        key = lines.key(*arguments)
        assert key not in keys, f"{name} has the key of: {keys.get(key)}"
        keys[key] = name
    assert LineCache(cache, "job").key(TEXT, RUNS, SETTING, *REST) == next(iter(keys)), "and nothing else is"


def test_the_engine_and_its_libraries_are_in_the_name(cache: Cache, monkeypatch: pytest.MonkeyPatch) -> None:
    names = {LineCache(cache, "job").name, LineCache(cache, "another job").name}
    versions = {engine.engine_version()}
    for library in engine.LIBRARIES:
        monkeypatch.setattr(engine, "version", lambda name, other=library: "0" if name == other else "1")
        versions.add(engine.engine_version.__wrapped__())
    source = Path(engine.__file__).read_bytes()
    monkeypatch.setattr(Path, "read_bytes", lambda self: source + str(self).encode())
    versions.add(engine.engine_version.__wrapped__())
    assert len(versions) == 5
    for version in versions:
        monkeypatch.setattr(line_cache, "engine_version", lambda version=version: version)
        names.add(LineCache(cache, "job").name)
    assert len(names) == 6


@pytest.mark.parametrize("fault", ["", "ends", "cannot start"])
def test_other_processes_set_lines_ahead(cache: Cache, fault: str, monkeypatch: pytest.MonkeyPatch) -> None:
    def fork() -> int:
        raise OSError("no more processes")

    job = long_job(200)
    plain = pdf_of(Workspace(job))
    monkeypatch.setattr(lines_ahead, "LEAST_CHARACTERS", 2000)
    monkeypatch.setattr(lines_ahead, "processes_available", lambda: 3)
    if fault == "ends":
        monkeypatch.setattr(lines_ahead, "_serve", lambda *_: os._exit(1))
    if fault == "cannot start":
        monkeypatch.setattr(os, "fork", fork)
    here: list[int] = []
    set_lines = paragraph._set_lines
    monkeypatch.setattr(paragraph, "_set_lines", lambda *arguments: here.append(os.getpid()) or set_lines(*arguments))
    receive = Fork.receive
    monkeypatch.setattr(Fork, "receive", lambda self: receive(self, 10.0))  # as if this process were the slower one
    with line_cache.line_cache("job") as lines:
        workspace = Workspace(job)
    assert pdf_of(workspace) == plain
    assert lines is not None
    assert not lines.helpers
    with line_cache.line_cache("job") as again:
        Workspace(job)
    assert again is not None
    assert not again.misses, "lines of other processes are saved, too"
    assert len(here) < 0.7 * again.hits if not fault else len(here) >= again.hits


numbers = st.floats(allow_nan=False, width=64)
set_lines = st.builds(
    SetLine,
    *([st.integers(0, 2**32 - 1)] * 3),
    numbers,
    numbers,
    st.booleans(),
    st.booleans(),
    *([numbers] * 5),
    tabs=st.lists(numbers, max_size=3).map(tuple),
)


@given(st.dictionaries(st.binary(min_size=16, max_size=16), st.lists(set_lines, max_size=4), max_size=5))
def test_packed_lines_are_what_they_were(paragraphs: dict[bytes, list[SetLine]]) -> None:
    assert unpack(pack(paragraphs)) == paragraphs


@given(st.binary(max_size=400))
def test_unpacking_anything_is_no_error(data: bytes) -> None:
    unpack(data)


# Words and patterns


def test_saved_words_are_shaped_as_before(cache: Cache, monkeypatch: pytest.MonkeyPatch) -> None:
    face = shipped().face("EB Garamond")
    texts = [
        *{word for number in range(60) for word in words(80, number).split()},
        "e\u0301\u0323",
        "ffi",
        "𝔸b",
        "שָׁלוֹם",
    ]
    texts += [f"{text}{number}" for number, text in enumerate(texts * 4)]
    cut = Cut(face)
    shaped = {text: cut.word(text) for text in texts}
    cut.save()
    assert entries(cache, "words")
    assert any(word.offsets for word in shaped.values()), "the sample has marks with offsets"
    again = Cut(face)
    few = list(shaped)[: shaping.FEW_WORDS]
    assert [again.word(text) for text in few] == [shaped[text] for text in few], "few words are shaped, not read"
    monkeypatch.setattr(Cut, "_shape", lambda *_: pytest.fail("a word was shaped anew"))
    assert {text: again.word(text) for text in texts} == shaped
    assert {text: again.width(text) for text in texts} == {text: word.width for text, word in shaped.items()}


def test_words_of_several_processes_are_put_together(cache: Cache) -> None:
    face = shipped().face("EB Garamond")
    for first in (0, 300):
        cut = Cut(face)
        for number in range(first, first + 400):
            cut.word(f"word{number}")
        cut.save()
    saved = SavedWords(word_cache.entry_of_cut(face.sha256, {}, shaping.PLAIN))
    assert len(saved) == 701, "with the space"
    assert saved.get("word0") == Cut(face).word("word0")
    assert saved.get("word699") == Cut(face).word("word699")
    assert saved.get("word700") is None


@pytest.fixture
def compiled(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The file of compiled British English patterns, in a folder of the test."""
    monkeypatch.setattr(hyphenation, "compiled_path", lambda patterns: tmp_path / "compiled" / patterns.name)
    return tmp_path / "compiled" / "hyph_en_GB.dic"


def points(language: str = "en-GB") -> list[tuple[int, ...]]:
    sample = sorted({word.strip("“”’,.;") for number in range(40) for word in words(80, number).split()})
    patterns = Hyphenator(language)
    return [patterns.points(word) for word in sample]


@pytest.mark.parametrize("way", ["compiled", "saved"])
def test_patterns_of_hyphenation_are_built_once(
    way: str, cache: Cache, compiled: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    if way == "compiled":
        compile_patterns(["en-GB"])
        assert compiled.exists()
        use_cache(None)
    before = points()
    assert any(before)
    with monkeypatch.context() as patched:
        patched.setattr(hyphenation, "build_trie", lambda _: pytest.fail("the patterns were built anew"))
        assert points() == before
    for path in (compiled, *entries(cache, "patterns")):
        if path.exists():
            path.write_bytes(path.read_bytes()[:5000])
    assert points() == before, "damaged patterns are built anew"


def test_compiled_patterns_of_another_version_are_not_used(compiled: Path) -> None:
    compile_patterns(["en-GB"])
    compiled.write_bytes(bytes(16) + compiled.read_bytes()[16:])
    assert hyphenation._compiled(dictionary("en-GB") or Path()) is None


def test_points_that_change_the_spelling_are_left_out_of_tries(
    tmp_path: Path, compiled: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    # The notation of Hunspell's hyphenation dictionaries: “ck” becomes “k-k”.
    (tmp_path / "hyph_xx.dic").write_text("UTF-8\na1b\nc1k/k=k,1,2\n")
    monkeypatch.setattr(hyphenation, "dictionary", lambda _: tmp_path / "hyph_xx.dic")
    assert Hyphenator("xx").points("nackab") == (5,)
    compile_patterns(["xx"])
    assert Hyphenator("xx").points("nackab") == (5,)


def test_without_a_cache_nothing_is_written(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    assert current_cache() is None, "tests run without one"
    with line_cache.line_cache("job") as lines:
        Workspace(long_job())
    save_shaped_words()
    assert lines is None
    assert not list(tmp_path.rglob("*"))
