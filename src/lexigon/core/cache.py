"""Files that save work when it is repeated: whatever they hold can be computed anew.

A cache is a folder that may be deleted at any time. Its entries are signed with a key that is in the folder and that
only its owner can read (BLAKE2b with a key, RFC 7693). An entry that is damaged, cut short, renamed or written by
somebody else is no entry. Nothing here raises an error: a cache that cannot be read or written is an empty one.
"""

from __future__ import annotations

import os
import time
import zlib
from contextlib import suppress
from hashlib import blake2b
from hmac import compare_digest
from pathlib import Path

MAGIC = b"LXC1"
SIGNATURE = 32
START = len(MAGIC) + SIGNATURE
LARGEST = 64_000_000
"""Bytes of the largest entry that is read, compressed."""
MOST_BYTES = 256_000_000
"""Bytes of a whole cache. When there are more, the entries that were not read for longest are deleted."""
SUFFIX = ".cache"
FRESH = 3600
"""Seconds after which reading an entry marks it as used again."""


class Cache:
    """Signed entries in a folder, by name."""

    def __init__(self, folder: Path, most_bytes: int = MOST_BYTES) -> None:
        """``most_bytes`` limits the size of all entries together."""
        self.folder = folder
        self.most_bytes = most_bytes
        self._key: bytes | None = None

    def read(self, name: str) -> bytes | None:
        """Return the content of an entry, or None if there is none that this cache has written."""
        path = self.folder / (name + SUFFIX)
        with suppress(OSError, zlib.error, MemoryError):
            if path.stat().st_size > LARGEST:
                return None
            data = path.read_bytes()
            magic, signature, packed = data[: len(MAGIC)], data[len(MAGIC) : START], data[START:]
            if magic != MAGIC or not compare_digest(signature, self._sign(name, packed)):
                return None
            if time.time() - path.stat().st_mtime > FRESH:
                os.utime(path)
            return zlib.decompress(packed)
        return None

    def write(self, name: str, content: bytes) -> None:
        """Write an entry, whole or not at all."""
        part = self.folder / f"{name}.{os.getpid()}-{os.urandom(4).hex()}.part"
        with suppress(OSError):
            packed = zlib.compress(content, 1)
            if len(packed) > min(LARGEST, self.most_bytes // 2):
                return
            self.folder.mkdir(parents=True, exist_ok=True)
            try:
                part.write_bytes(MAGIC + self._sign(name, packed) + packed)
                part.replace(self.folder / (name + SUFFIX))
            finally:
                part.unlink(missing_ok=True)
            self._trim()

    def _sign(self, name: str, packed: bytes) -> bytes:
        return blake2b(name.encode() + b"\0" + packed, key=self._secret(), digest_size=SIGNATURE).digest()

    def _secret(self) -> bytes:
        """The key of the folder, written on first use. Raises OSError."""
        if self._key is None:
            path = self.folder / "key"
            key = path.read_bytes() if path.exists() else b""
            if len(key) != SIGNATURE:
                self.folder.mkdir(parents=True, exist_ok=True)
                part = self.folder / f"key.{os.getpid()}-{os.urandom(4).hex()}.part"
                with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as stream:
                    stream.write(os.urandom(SIGNATURE))
                try:
                    if key:  # it was cut short
                        part.replace(path)
                    else:
                        with suppress(FileExistsError):  # another process was faster
                            os.link(part, path)
                finally:
                    part.unlink(missing_ok=True)
                key = path.read_bytes()
            self._key = key
        return self._key

    def _trim(self) -> None:
        """Delete the entries that were not used for longest, down to three quarters of the limit. Raises OSError."""
        files = []
        for path in self.folder.iterdir():
            with suppress(OSError):  # another process has deleted it
                facts = path.stat()
                if path.suffix == SUFFIX or (path.suffix == ".part" and time.time() - facts.st_mtime > FRESH):
                    files.append((facts.st_mtime, facts.st_size, path))
        total = sum(size for _, size, _ in files)
        if total <= self.most_bytes:
            return
        for _, size, path in sorted(files):
            path.unlink(missing_ok=True)
            total -= size
            if total <= self.most_bytes * 3 // 4:
                break


_current: Cache | None = None


def use_cache(cache: Cache | None) -> None:
    """Have this process use a cache, or none."""
    global _current
    _current = cache


def configure_cache(default: Path) -> None:
    """Have this process use the cache in the folder that the environment names as LEXIGON_CACHE, or else in
    ``default``; none if that is “off”."""
    named = os.environ.get("LEXIGON_CACHE", "")
    use_cache(None if named == "off" else Cache(Path(named) if named else default))


def current_cache() -> Cache | None:
    """Return the cache that this process uses, if any."""
    return _current


def entry_name(kind: str, *facts: object) -> str:
    """Return a name for an entry that depends on ``facts``, which are written out by ``repr``."""
    return f"{kind}-{blake2b(repr(facts).encode('utf-8', 'surrogatepass'), digest_size=20).hexdigest()}"
