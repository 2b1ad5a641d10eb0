"""Start everything, print one address, and stop all of it cleanly. Standard library only."""

from __future__ import annotations

import argparse
import contextlib
import ctypes
import hashlib
import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
from cluster import HOME, ROOT, Trouble, alone, free_port, installation, is_free, kept, main

PYTHON = str(HOME / "venv" / "bin" / "python")
WEB_SOURCES = (
    "src",
    "index.html",
    "public",
    "package-lock.json",
    "vite.config.ts",
    "tsconfig.json",
)


def build_web() -> None:
    """Build the web app when its sources changed."""
    digest = hashlib.sha256()
    for name in WEB_SOURCES:
        top = ROOT / "web" / name
        files = sorted(p for p in top.rglob("*") if p.is_file()) if top.is_dir() else [top]
        for path in files:
            if path.is_file():
                digest.update(str(path.relative_to(ROOT)).encode() + path.read_bytes())
    mark = HOME / "web.sha256"
    built = (ROOT / "web" / "dist" / "index.html").is_file()
    if built and mark.is_file() and mark.read_text() == digest.hexdigest():
        return
    done = subprocess.run(
        ["npm", "run", "--silent", "build"], cwd=ROOT / "web", capture_output=True, text=True
    )
    if done.returncode:
        raise Trouble(f"The web app does not build:\n{done.stdout}{done.stderr}")
    mark.write_text(digest.hexdigest())


STAND_INS = (
    "level", "tension", "temperature", "protractor", "pressure", "barometer", "multimeter",
    "ammeter", "detector", "scale-a", "scale-b", "scale-c", "hand",
)  # fmt: skip


def settings(url: str, ports: dict[str, int]) -> dict[str, str]:
    """The environment of the server; `ports` of the stand-ins by name."""
    addresses = [f"TCPIP0::127.0.0.1::{p}::SOCKET" for n, p in ports.items() if n != "hand"]
    return os.environ | {
        "DATABASE_URL": url,
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
        "ASHLANE_DEMO": os.environ.get("ASHLANE_DEMO", "1"),
        "ASHLANE_INSTALLATION": installation(),
        "ASHLANE_CONN_MAX_AGE": "60",
        "ASHLANE_SECURITY_LOG": os.environ.get("ASHLANE_SECURITY_LOG")
        or str(HOME / "security.log"),
        "ASHLANE_INSTRUMENTS": ",".join(addresses),
        "ASHLANE_HAND": f"127.0.0.1:{ports['hand']}",
        "ASHLANE_SECRET_KEY": os.environ.get("ASHLANE_SECRET_KEY") or secret(),
        "PYTHONPATH": str(ROOT),
        "PYTHONUNBUFFERED": "1",
        "OPENBLAS_NUM_THREADS": "1",
    }


def secret() -> str:
    """This installation's own secret, made once."""
    path = HOME / "secret"
    if not path.is_file():
        path.write_text(os.urandom(32).hex())
        path.chmod(0o600)
    return path.read_text()


def _with_parent() -> None:
    """The child ends when its parent does, however that ends."""
    os.setsid()
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


class Parts:
    """The stand-ins and the server, each a process of its own; `address` to open."""

    MOST_ENDINGS = 5

    def __init__(self, url: str, port: int, workers: int = 2) -> None:
        self.address = f"http://127.0.0.1:{port}/"
        ports = {name: free_port() for name in STAND_INS}
        self.env = settings(url, ports)
        gunicorn = [PYTHON, "-m", "gunicorn", "server.config.wsgi", "-b", f"127.0.0.1:{port}"]
        self.commands = {
            "The stand-in instruments": [
                *(PYTHON, "-m", "instruments.standins"),
                *(f"--{n}={p}" for n, p in ports.items()),
            ],
            "The server": [*gunicorn, "-w", str(workers), "-c", "python:server.config.gunicorn"],
        }
        self.endings: list[float] = []
        self.children = {name: self._child(name) for name in self.commands}

    def _child(self, name: str) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            self.commands[name], cwd=ROOT, env=self.env, preexec_fn=_with_parent
        )

    def wait(self) -> None:
        """Until the server answers."""
        # It makes the database ready first: an upgrade of many aircraft takes its time.
        for _ in range(12000):
            if any(c.poll() is not None for c in self.children.values()):
                raise Trouble("A part of it ended at once: see above.")
            try:
                with urllib.request.urlopen(f"{self.address}api/ready", timeout=1) as answer:
                    if answer.status == 200:
                        return
            except OSError:
                time.sleep(0.05)
        raise Trouble("The server does not answer after ten minutes: see above.")

    def keep(self) -> None:
        """Start again what has ended; gives up where something ends again and again."""
        for name, child in self.children.items():
            if child.poll() is None:
                continue
            self.ended(name)
            _end(child)
            self.children[name] = self._child(name)

    def ended(self, name: str) -> None:
        """A part ended by itself: say so, and give up where that happens again and again."""
        now = time.monotonic()
        self.endings = [*(t for t in self.endings if now - t < 60.0), now]
        if len(self.endings) > self.MOST_ENDINGS:
            raise Trouble(f"{name} ended {self.MOST_ENDINGS} times in a minute: see above.")
        print(f"{name} ended by itself and is started again.", flush=True)

    def stop(self) -> None:
        """End all of it, and what it started."""
        for child in self.children.values():
            with contextlib.suppress(ProcessLookupError):
                os.killpg(child.pid, signal.SIGTERM)
        for child in self.children.values():
            try:
                child.wait(timeout=8)
            except subprocess.TimeoutExpired:
                _end(child)


def _end(child: subprocess.Popen[bytes]) -> None:
    """Nothing of a process's group is left."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGKILL)
    child.wait()


@contextlib.contextmanager
def running(url: str, port: int, workers: int = 2) -> Iterator[str]:
    """The stand-ins and the server, running; the address to open."""
    parts = Parts(url, port, workers)
    try:
        parts.wait()
        yield parts.address
    finally:
        parts.stop()


def start() -> None:
    """bin/start."""
    parser = argparse.ArgumentParser(prog="bin/start", description=__doc__)
    parser.add_argument("--fresh", action="store_true", help="begin anew; asks first")
    asked = parser.parse_args()
    begun = time.monotonic()
    port = int(os.environ.get("ASHLANE_PORT", "8420"))
    if not is_free(port):
        raise Trouble(
            f"Port {port} is busy. Stop what uses it, or choose another:"
            f" ASHLANE_PORT={port + 1} bin/start"
        )
    if asked.fresh:
        print("This deletes everything entered here and loads the demo anew.")
        if input("Type fresh to go on: ").strip() != "fresh":
            raise Trouble("Nothing was changed.")
        if os.environ.get("DATABASE_URL"):
            raise Trouble("--fresh does not touch a DATABASE_URL of your own: empty it yourself.")
    for ending in (signal.SIGINT, signal.SIGTERM):
        signal.signal(ending, signal.default_int_handler)
    with alone():
        build_web()
        with kept(fresh=asked.fresh) as (url, revive):
            _serve(Parts(url, port), revive, begun)
    print("Stopped.")


def _serve(parts: Parts, revive: Callable[[], bool], begun: float) -> None:
    """Until somebody stops it."""
    try:
        parts.wait()
        print(f"Ash Lane is ready after {time.monotonic() - begun:.1f} s. Open {parts.address}")
        print("Ctrl-C stops it; what you entered is kept.", flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            while True:
                time.sleep(1.0)
                if revive():
                    parts.ended("The database")
                parts.keep()
    finally:
        parts.stop()


if __name__ == "__main__":
    main(start)
