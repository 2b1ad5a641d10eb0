"""The checks behind bin/test, two at a time; a failure ends it. Standard library only."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
from cluster import HOME, ROOT, Trouble, database, installation, main
from serve import PYTHON, build_web

# None waits for another; the longest first, so that the last two end together.
CHECKS = [
    ("Python style", ["ruff", "check", "."]),
    ("Python layout", ["ruff", "format", "--check", "-q", "."]),
    ("Types", ["mypy"]),
    ("Web style", ["npm", "run", "--silent", "lint"]),
    ("Web types", ["npx", "--no-install", "tsc", "-b"]),
    ("API schema is current", ["bin/schema", "check"]),
    ("Migrations are current", [PYTHON, "manage.py", "makemigrations", "--check", "--dry-run"]),
    ("Import rules", ["lint-imports", "--no-cache"]),
]


def run(name: str, command: list[str], where: Path, env: dict[str, str], loud: bool) -> str:
    """One check, said if it passed; else its output, also where it was shown as it came
    (`loud`)."""
    begun = time.monotonic()
    done = subprocess.run(command, cwd=where, env=env, capture_output=not loud, text=True)
    took = f"{time.monotonic() - begun:.1f} s"
    if done.returncode:
        return f"{name}: failed ({took})" + ("" if loud else f"\n{done.stdout}{done.stderr}")
    print(f"{name}: passed ({took})", flush=True)
    return ""


def checks(env: dict[str, str]) -> None:
    """All of them, two at a time; every failure is told."""

    def one(check: tuple[str, list[str]]) -> str:
        name, command = check
        where = ROOT / "web" if command[0] in ("npx", "npm") else ROOT
        return run(name, command, where, env, False)

    with ThreadPoolExecutor(2) as lanes:
        failed = [said for said in lanes.map(one, CHECKS) if said]
    if failed:
        sys.exit("\n".join(failed))


# Tests are wanted between a quarter and a third of all lines; they never fall below what they were.
SHARE_WANTED = (0.25, 0.33)
COUNTED = (".py", ".ts", ".tsx", ".css", ".sh")


def share() -> None:
    """How much of the code (non-blank lines, neither generated nor migrations) is tests."""
    listed = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
    lines = {True: 0, False: 0}
    for name in listed:
        if not name.endswith(COUNTED) or "/migrations/" in name or name.endswith(".gen.ts"):
            continue
        of_tests = "/tests/" in name or name.startswith("testkit/")
        text = (ROOT / name).read_text()
        lines[of_tests] += sum(1 for line in text.splitlines() if line.strip())
    found = lines[True] / sum(lines.values())
    low, high = SHARE_WANTED
    word = "within" if low <= found <= high else "under" if found < low else "over"
    print(
        f"Tests are {found:.1%} of the code (wanted: {low:.0%} to {high:.0%}): {word}", flush=True
    )
    if not low <= found <= high:
        sys.exit(f"Tests must be {low:.0%} to {high:.0%} of the code")


def tests() -> None:
    """All checks, or the named tests alone."""
    asked = sys.argv[1:]
    env = os.environ | {
        "DATABASE_URL": "postgresql://none@127.0.0.1:1/none",
        "ASHLANE_INSTALLATION": installation(),
        "ASHLANE_TEST_DB": f"test_{installation()}_{os.getpid()}",
        "OPENBLAS_NUM_THREADS": "1",
        "PYTHONWARNINGS": "ignore",
        "ASHLANE_SECURITY_LOG": os.devnull,
    }
    media = tempfile.TemporaryDirectory(prefix="ashlane-media-")
    env["ASHLANE_MEDIA"] = media.name
    if not asked:
        checks(env)
        share()
    build_web()
    with database(lasting=False) as url:
        # A URL of one's own is used as it is; tests make a database of their own beside it.
        env["DATABASE_URL"] = url
        labels = asked or ["core", "server"]
        command = [PYTHON, "manage.py", "test", "--noinput", "--timing", "--parallel", "2", *labels]
        if said := run("Tests", command, ROOT, env, True):
            sys.exit(said)


if __name__ == "__main__":
    if not (HOME / "venv").is_dir():
        main(lambda: (_ for _ in ()).throw(Trouble("Run bin/test, which sets everything up.")))
    main(tests)
