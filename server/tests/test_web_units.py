"""The web's own arithmetic, bundled as the app is and run by Node's test runner."""

import re
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

WEB = Path(__file__).parents[2] / "web"


class WebUnits(TestCase):
    def test_figures_units_and_forms_compute_as_they_should(self):
        tests = sorted(str(p.relative_to(WEB)) for p in (WEB / "tests").glob("*.test.ts"))
        self.assertTrue(tests)
        with tempfile.TemporaryDirectory() as folder:
            bundle = [
                "node_modules/.bin/rolldown", *tests, "-d", folder, "--platform", "node",
                "--format", "esm",
            ]  # fmt: skip
            subprocess.run(bundle, cwd=WEB, check=True, capture_output=True)
            Path(folder, "package.json").write_text('{"type": "module"}')
            done = subprocess.run(["node", "--test", folder], capture_output=True, text=True)
        failed = re.findall(r"^not ok \d+ - (.*)$", done.stdout, re.MULTILINE)
        self.assertEqual(failed, [], done.stdout[-4000:])
        self.assertEqual(done.returncode, 0)
        passed = re.findall(r"^# pass (\d+)$", done.stdout, re.MULTILINE)
        self.assertGreater(int(passed[0]), 20)
