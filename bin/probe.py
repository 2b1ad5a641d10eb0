"""bin/probe: thousands of made-up requests against every operation of the running server."""

from __future__ import annotations

import argparse
import http.cookiejar
import json
import math
import os
import subprocess
import sys
import urllib.request

from cluster import HOME, ROOT, database, free_port, installation, main
from serve import build_web, running

# Signing out or a new password would end the signed-in requests that follow.
LEFT_OUT = ("/api/session", "/api/session/password")
SCHEMA = ROOT / "web" / "schema.json"


def signed_in(address: str) -> dict[str, str]:
    """The headers of someone who owns the demo's aircraft."""
    people = json.loads((ROOT / "demo" / "people.json").read_text(encoding="utf-8"))
    jar = http.cookiejar.CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    opener.open(f"{address}api/session").read()
    named = lambda part: next((c.value or "" for c in jar if part in c.name), "")
    body = {"username": people[0]["slug"], "password": people[0]["password"]}
    headers = {"Content-Type": "application/json", "X-CSRFToken": named("csrf")}
    asked = urllib.request.Request(
        f"{address}api/session", json.dumps(body).encode(), headers, method="POST"
    )
    opener.open(asked).read()
    cookies = "; ".join(f"{c.name}={c.value}" for c in jar)
    return {"Cookie": cookies, "X-CSRFToken": named("csrf")}


def probe() -> None:
    """Run them, and end as they end."""
    parser = argparse.ArgumentParser(prog="bin/probe", description=__doc__)
    parser.add_argument("cases", nargs="?", type=int, default=5000)
    parser.add_argument("--seed", default="1")
    asked = parser.parse_args()
    paths = json.loads(SCHEMA.read_text(encoding="utf-8"))["paths"]
    each = math.ceil(asked.cases / sum(len(p) for p in paths.values()))
    build_web()
    with database("ashlane_probe", fresh=True) as url, running(url, free_port()) as address:
        command = [str(HOME / "probe" / "bin" / "schemathesis"), "run", str(SCHEMA)]
        command += ["--url", address.rstrip("/"), "--checks", "not_a_server_error"]
        command += ["--phases", "examples,coverage,fuzzing", "--mode", "all", "--no-color"]
        command += ["-n", str(each), "--seed", asked.seed, "--continue-on-failure"]
        command += ["--suppress-health-check", "all", "--generation-database", "none"]
        command += ["--workers", "2"]
        for path in LEFT_OUT:
            command += ["--exclude-path", path]
        for name, value in signed_in(address).items():
            command += ["-H", f"{name}: {value}"]
        env = os.environ | {"SCHEMATHESIS_HOOKS": "probing", "PYTHONPATH": str(ROOT / "bin")}
        env["ASHLANE_INSTALLATION"] = installation()
        done = subprocess.run(command, cwd=HOME, env=env)
    sys.exit(done.returncode)


if __name__ == "__main__":
    main(probe)
