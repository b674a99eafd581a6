"""The real thing: `lexigon demo` in a process of its own, and Debian's Chromium in front of it."""

from __future__ import annotations

import fcntl
import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
from collections.abc import Callable, Iterator, Mapping
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from lexigon.core.document.model import Job
from lexigon.core.fileformat import package

ROOT = Path(__file__).parents[2]
DATABASE = "lexigon.sqlite3"
expect.set_options(timeout=20_000)  # what comes sooner is not waited for; a busy machine may take its time
CHROMIUM = shutil.which("chromium-headless-shell") or shutil.which("chromium")
"""The same browser without a window of its own to paint, which halves what it costs; else the whole one."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if "browser" in str(item.path):
            item.add_marker(pytest.mark.browser)
            if not CHROMIUM:
                item.add_marker(pytest.mark.skip(reason="Debian's chromium is not installed"))


class Server:
    """A running demo with a data folder of its own."""

    def __init__(self, data: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.data, self.url = data, f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[str] | None = None

    def copied(self, folder: Path) -> Server:
        """Another demo that begins with what stands in this one, without the work of making it again."""
        shutil.copytree(self.data, folder, ignore=shutil.ignore_patterns("*.sqlite3*"))
        with (
            closing(sqlite3.connect(self.data / DATABASE)) as here,
            closing(sqlite3.connect(folder / DATABASE)) as there,
        ):
            here.backup(there)
        return Server(folder)

    def start(self) -> Server:
        environment = {**os.environ, "LEXIGON_DATA": str(self.data), "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"}
        environment.pop("LEXIGON_QUEUE", None)
        environment.pop("LEXIGON_CACHE", None)
        command = [sys.executable, "-m", "lexigon", "demo", "--port", str(self.port)]
        self.process = subprocess.Popen(
            command, env=environment, stdout=subprocess.PIPE, text=True, start_new_session=True
        )
        assert self.process.stdout
        for line in self.process.stdout:
            if "is ready" in line:
                return self
        raise AssertionError("the demo did not start")

    def kill(self) -> None:
        """As a power cut would: every process of the server at once."""
        assert self.process
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def stop(self) -> None:
        if self.process and self.process.poll() is None:
            self.process.terminate()
            self.process.wait(20)


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    running = prepared(tmp_path_factory).copied(tmp_path_factory.mktemp("demo") / "data").start()
    yield running
    running.stop()


def prepared(tmp_path_factory: pytest.TempPathFactory) -> Server:
    """A demo that has its jobs, stopped: made once for all processes that run tests."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID", str(os.getpid()))
    folder = tmp_path_factory.getbasetemp().parent / f"demo-{run}"
    with folder.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        first = Server(folder)
        if not folder.exists():
            first.start().stop()
    return first


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        arguments = [
            "--no-sandbox",
            "--disable-gpu",
            "--disable-background-networking",
            "--disable-sync",
            "--no-first-run",
        ]
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=arguments)
        yield browser
        browser.close()


CLICKS = """(() => {
  let last = -1e9;
  const add = () => { try { sessionStorage.setItem("clicks", String(Number(sessionStorage.getItem("clicks") || 0) + 1)); } catch { } };
  const mark = () => { last = performance.now(); };
  addEventListener("pointerdown", () => { mark(); add(); }, true);
  addEventListener("keydown", mark, true);
  addEventListener("focusin", ({ target }) => { if (target.matches("input, select") && performance.now() - last > 150) add(); }, true);
  addEventListener("change", ({ target }) => { if (target.matches("select")) add(); }, true);
})()"""  # noqa: E501
"""Counts the clicks of a window: presses of the pointer, fields that are gone into other than by a key or a click (a
test fills them without), and choices of a list. What puts the focus into a field by itself counts as well."""


def ready(window: Page, go: Callable[..., Any]) -> Callable[..., Any]:
    """A way to another page that ends when the controls there answer."""

    def gone(*args: Any, **kwargs: Any) -> Any:
        found = go(*args, **kwargs)
        if window.url.startswith("http://127.0.0.1"):
            window.wait_for_function(
                "() => document.documentElement.dataset.ready || !document.querySelector('script[type=module]')"
            )
        return found

    return gone


@pytest.fixture(scope="session")
def browsing(chromium: Browser) -> Iterator[BrowserContext]:
    """One browser for all windows, so that scripts are fetched and compiled once; each test begins with nothing
    stored."""
    context = chromium.new_context(
        viewport={"width": 1280, "height": 800},
        permissions=["clipboard-read", "clipboard-write"],
        accept_downloads=True,
    )
    # Single letters explain themselves once in a browser; see test_keys.py.
    context.add_init_script("try { localStorage.setItem('lexigon-letters-explained', '1'); } catch { }")
    context.add_init_script(CLICKS)
    yield context
    context.close()


SIGNED_IN: dict[str, list[Any]] = {}
"""The cookies of the demo's designer, by the address of the server."""


@pytest.fixture
def page(browsing: BrowserContext, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A fresh window. Any script error or broken request fails the test."""
    browsing.clear_cookies()
    window = browsing.new_page()
    if "server" in request.fixturenames:
        own = request.getfixturevalue("server").url
        cleaner = browsing.new_cdp_session(window)
        cleaner.send("Storage.clearDataForOrigin", {"origin": own, "storageTypes": "local_storage,indexeddb"})
        cleaner.detach()
    window.set_default_timeout(20_000)
    problems: list[str] = []
    window.expected = set()  # type: ignore[attr-defined]
    window.on("pageerror", lambda error: problems.append(f"{error} {error.stack}"))

    def watch(response: Any) -> None:
        if response.status == 404 and re.search(r"/flatplan/\d+-[0-9a-f]+\.webp$", response.url):
            return  # a miniature asked for while the page it is of was taken back
        if response.status >= 400 and response.status not in window.expected:  # type: ignore[attr-defined]
            problems.append(f"{response.status} {response.url}")

    window.on("response", watch)
    for name in ("goto", "reload", "wait_for_url"):
        setattr(window, name, ready(window, getattr(window, name)))
    yield window
    for each in browsing.pages:
        each.close()
    assert not problems, "\n".join(problems)


@pytest.fixture
def signed_in(page: Page, server: Server) -> Page:
    """A window of the demo's designer, who has signed in before."""
    if cookies := SIGNED_IN.get(server.url):
        page.context.add_cookies(cookies)
        return page
    page.goto(server.url)
    page.click("text=Try the demo")
    page.wait_for_selector("h1:text('Shelf')")
    SIGNED_IN[server.url] = page.context.cookies()
    return page


@pytest.fixture
def demo(signed_in: Page, server: Server) -> Page:
    """Signed in as the demo's designer, on the shelf."""
    signed_in.goto(server.url)
    signed_in.wait_for_selector("h1:text('Shelf')")
    return signed_in


@pytest.fixture
def opened(signed_in: Page, server: Server) -> Callable[..., Page]:
    """Brings a job, with its files, into the demo as a file, and opens it on the board."""

    def put(job: Job, files: Mapping[str, bytes] | None = None) -> Page:
        token = next(cookie for cookie in signed_in.context.cookies() if cookie["name"] == "lexigon_csrf")["value"]
        answer = signed_in.request.post(
            f"{server.url}/open/",
            multipart={
                "file": {"name": "t.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(job, files or {})}
            },
            headers={"X-CSRFToken": token, "Referer": server.url},
            max_redirects=0,
        )
        assert answer.status == 302, answer.text()
        signed_in.goto(server.url + answer.headers["location"])
        signed_in.wait_for_selector(".content .frame", state="attached")
        signed_in.evaluate("() => document.fonts.ready")
        return signed_in

    return put


def settled(page: Page, timeout: float = 15_000) -> None:
    """Wait until everything typed is saved and painted: it says so, and says so still some frames later."""
    page.evaluate("() => { window.quietFrames = 0; }")
    page.wait_for_function(
        """() => {
          const busy = document.documentElement.dataset.busy === 'true';
          const saved = !busy && !document.documentElement.dataset.resting && document.getElementById('saved').textContent.startsWith('saved');
          window.quietFrames = saved ? window.quietFrames + 1 : 0;
          return window.quietFrames > 8;
        }""",  # noqa: E501
        timeout=timeout,
    )


def still(page: Page) -> None:
    """Wait until the window stands still: fonts are there, and nothing has been asked for or changed for some
    frames."""
    page.evaluate("""() => new Promise((resolve) => {
          let frames = 0;
          const begin = () => { frames = 0; };
          const asked = new PerformanceObserver(begin);
          const changed = new MutationObserver(begin);
          asked.observe({ type: 'resource' });
          changed.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
          const frame = () => {
            frames += 1;
            if (frames > 12) { asked.disconnect(); changed.disconnect(); resolve(); } else requestAnimationFrame(frame);
          };
          document.fonts.ready.then(() => requestAnimationFrame(frame));
        })""")


def new_book(page: Page, server: Server, text: str, **fields: str) -> str:
    """A new job with a manuscript poured in, through the interface. Returns its address."""
    page.goto(f"{server.url}/new/")
    for name, value in fields.items():
        page.fill(f"[name='{name}']", value)
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    page.set_input_files("input[type=file]", {"name": "tides.txt", "mimeType": "text/plain", "buffer": text.encode()})
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    return page.url.removesuffix("flatplan/")
