"""bin/start: says what to do when it cannot, and leaves nothing behind when it is stopped."""

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path
from unittest import TestCase, mock

import psycopg

ROOT = Path(__file__).resolve().parents[2]
sys.path.insert(0, str(ROOT / "bin"))

import cluster  # noqa: E402


def start(*words, **env):
    """bin/start's own program, with what it prints."""
    return subprocess.Popen(
        [sys.executable, "bin/serve.py", *words],
        cwd=ROOT,
        env=os.environ | env,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )


def children_of(pid):
    """Processes whose parent is `pid`."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            parent = stat.read_text().rpartition(")")[2].split()[1]
        except OSError:
            continue
        if parent == str(pid):
            found.append(stat.parent.name)
    return found


SESSION = f"ashlane_{cluster.installation()}"


def answer_of(address, headers=None):
    """Status and body of an address; 0 where nobody answers."""
    try:
        asked = urllib.request.Request(address, headers=headers or {})
        with urllib.request.urlopen(asked, timeout=5) as answer:
            return answer.status, answer.read()
    except urllib.error.HTTPError as refused:
        return refused.code, refused.read()
    except OSError:
        return 0, b""


class Start(TestCase):
    def test_a_busy_port_is_named_with_a_way_out(self):
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            s.listen()
            port = str(s.getsockname()[1])
            said, _ = start(ASHLANE_PORT=port).communicate(timeout=60)
        self.assertIn(f"Port {port} is busy", said)
        self.assertIn("ASHLANE_PORT=", said)
        self.assertNotIn("Traceback", said)

    def own_database(self):
        """A database beside the tests' own; dropped at the end."""
        url, name = os.environ["DATABASE_URL"], f"scripts_{os.getpid()}"
        with psycopg.connect(url, autocommit=True) as c:
            c.execute(f"CREATE DATABASE {name}")

        def drop():
            with psycopg.connect(url, autocommit=True) as c:
                c.execute(f"DROP DATABASE {name} WITH (FORCE)")

        self.addCleanup(drop)
        return url.rpartition("/")[0] + "/" + name

    def test_it_serves_and_ctrl_c_leaves_no_process_behind(self):
        port, url = str(cluster.free_port()), self.own_database()
        ready = f"http://127.0.0.1:{port}/api/ready"
        running = start(ASHLANE_PORT=port, DATABASE_URL=url)
        try:
            for line in running.stdout:
                if "is ready" in line:
                    break
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5) as answer:
                self.assertIn(b"Ash Lane", answer.read())
            children = children_of(running.pid)
            self.assertGreaterEqual(len(children), 2)
            other = {"ASHLANE_PORT": str(cluster.free_port()), "DATABASE_URL": url}
            said, _ = start(**other).communicate(timeout=60)
            self.assertIn(f"already runs from this folder, as process {running.pid}", said)
            self.away_and_back(url, ready)
            self.killed_and_started_again(running.pid, ready)
            children += children_of(running.pid)
        finally:
            running.send_signal(signal.SIGINT)
            running.communicate(timeout=30)
        for _ in range(50):
            left = [pid for pid in children if Path(f"/proc/{pid}").exists()]
            if not left:
                break
            time.sleep(0.1)
        self.assertEqual(left, [])

    def away_and_back(self, url, ready):
        """While the database takes nobody in it is said plainly; when it does, all goes on."""
        name = url.rpartition("/")[2]
        self.assertEqual(answer_of(ready)[0], 200)
        with psycopg.connect(os.environ["DATABASE_URL"], autocommit=True) as c:
            c.execute(f"ALTER DATABASE {name} ALLOW_CONNECTIONS false")
            c.execute(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", [name]
            )
            for address in (ready, ready.replace("ready", "aircraft")):
                status, body = answer_of(address, {"Cookie": f"{SESSION}=abcdefgh"})
                self.assertEqual(status, 503)
                self.assertIn("The database does not answer", json.loads(body)["title"])
            c.execute(f"ALTER DATABASE {name} ALLOW_CONNECTIONS true")
        for _ in range(4):
            self.assertEqual(answer_of(ready)[0], 200)

    def killed_and_started_again(self, parent, ready):
        """What ended by itself is there again, and the old one's workers are not."""
        before = children_of(parent)
        served = lambda pid: "gunicorn" in Path(f"/proc/{pid}/cmdline").read_text()
        server = next(pid for pid in before if served(pid))
        workers = children_of(server)
        os.kill(int(server), signal.SIGKILL)
        for _ in range(300):
            now = children_of(parent)
            if server not in now and len(now) == len(before) and answer_of(ready)[0] == 200:
                break
            time.sleep(0.1)
        else:
            self.fail("the server was not started again")
        self.assertFalse([pid for pid in workers if Path(f"/proc/{pid}").exists()])

    def test_a_database_that_was_killed_is_there_again_with_what_was_kept(self):
        with tempfile.TemporaryDirectory(prefix="ashlane-pg-") as folder:
            Path(folder).chmod(0o755)
            with mock.patch("cluster.HOME", Path(folder)):
                one = cluster.Cluster()
            self.assertTrue(one.start())
            self.addCleanup(one.stop)
            url = one.database("kept")
            with psycopg.connect(url, autocommit=True) as c:
                c.execute("CREATE TABLE said (word text)")
                c.execute("INSERT INTO said VALUES ('here')")
            self.assertFalse(one.revive())
            lock = one._run(["head", "-1", str(one.data / "postmaster.pid")])
            os.kill(int(lock.stdout), signal.SIGKILL)
            for _ in range(100):
                if cluster.is_free(int(one.state["port"])):
                    break
                time.sleep(0.1)
            self.assertTrue(one.revive())
            with psycopg.connect(url) as c:
                self.assertEqual(c.execute("SELECT word FROM said").fetchone(), ("here",))
            with mock.patch.object(one, "start", side_effect=lambda: one.state.update(port="1")):
                with mock.patch("cluster.is_free", return_value=True):
                    with self.assertRaisesRegex(cluster.Trouble, "took its port"):
                        port = one.state["port"]
                        one.revive()
            one.state["port"] = port
            one.stop()

    def test_a_full_disk_and_a_missing_server_are_said_before_anything_is_made(self):
        with mock.patch("cluster.shutil.disk_usage", return_value=mock.Mock(free=5 << 20)):
            with self.assertRaisesRegex(cluster.Trouble, "Only 5 MB are free"):
                cluster.check_disk(ROOT)
        with mock.patch("cluster.Path.glob", return_value=[]):
            with self.assertRaisesRegex(cluster.Trouble, "apt-get install postgresql"):
                cluster.programs()

    def test_a_broken_cluster_says_where_it_lies_and_what_to_do(self):
        one = cluster.Cluster(lasting=False)
        with mock.patch.object(one, "running", return_value=False):
            with self.assertRaisesRegex(cluster.Trouble, r"(?s)lies in .*delete that folder"):
                one._run(["false"])
        with mock.patch.object(one, "running", return_value=True):
            with self.assertRaisesRegex(cluster.Trouble, "stop that first, and leave the folder"):
                one._run(["false"])
        one.state = {}
        if one._run(["test", "-f", str(one.data / "PG_VERSION")], check=False).returncode == 0:
            with self.assertRaisesRegex(cluster.Trouble, "cluster.json is missing"):
                one.make()
