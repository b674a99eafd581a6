"""PostgreSQL and Redis from Debian's packages, each started for the tests in a folder of its own."""

from __future__ import annotations

import os
import pwd
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
    return port


def postgresql_programs() -> Path | None:
    """The newest PostgreSQL on this machine."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
    return found[-1].parent if found else None


def redis_program() -> str | None:
    return shutil.which("redis-server")


class Postgres:
    """A cluster of its own. PostgreSQL does not run as root: there it runs as Debian's user ``postgres``."""

    def __init__(self, folder: Path) -> None:
        programs = postgresql_programs()
        assert programs is not None
        self.programs, self.port, self.folder = programs, free_port(), folder / "cluster"
        folder.mkdir(parents=True, exist_ok=True)
        self.user = "postgres" if os.geteuid() == 0 else pwd.getpwuid(os.geteuid()).pw_name
        if os.geteuid() == 0:
            owner = pwd.getpwnam("postgres")
            os.chown(folder, owner.pw_uid, owner.pw_gid)
            for above in folder.parents:  # pytest makes its folders for their owner alone
                if above.stat().st_uid == 0 and above != Path("/") and not above.stat().st_mode & 0o001:
                    above.chmod(above.stat().st_mode | 0o011)
        self._run(
            "initdb",
            "--pgdata",
            str(self.folder),
            "--username",
            "lexigon",
            "--auth",
            "trust",
            "--no-sync",
            "-E",
            "UTF8",
        )
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories={folder}"
        self._run("pg_ctl", "-D", str(self.folder), "-w", "-l", str(folder / "log"), "-o", options, "start")
        self.address = f"postgresql://lexigon@127.0.0.1:{self.port}/postgres"

    def _run(self, program: str, *arguments: str) -> None:
        command = [str(self.programs / program), *arguments]
        if os.geteuid() == 0:
            command = ["runuser", "-u", "postgres", "--", *command]
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL, cwd="/")

    def stop(self) -> None:
        """Stop it at once; on a busy machine, by the signal itself where the program that sends it gives up waiting."""
        process = int((self.folder / "postmaster.pid").read_text().split()[0])
        try:
            self._run("pg_ctl", "-D", str(self.folder), "-m", "immediate", "-t", "120", "stop")
        except subprocess.CalledProcessError:
            with suppress(ProcessLookupError):
                os.kill(process, signal.SIGQUIT)


class Redis:
    def __init__(self, folder: Path) -> None:
        program = redis_program()
        assert program is not None
        folder.mkdir(parents=True, exist_ok=True)
        self.port = free_port()
        command = [program, "--port", str(self.port), "--bind", "127.0.0.1", "--dir", str(folder), "--save", ""]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        self.address = f"redis://127.0.0.1:{self.port}/0"
        until(lambda: _listens(self.port), "Redis does not answer")

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(10)


def _listens(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


def until(happened: Callable[[], object], otherwise: str, seconds: float = 90) -> None:
    """Wait for something to happen, looking often; the limit only ends a test that hangs."""
    end = time.monotonic() + seconds
    while not happened():
        if time.monotonic() > end:
            raise AssertionError(otherwise)
        time.sleep(0.05)
