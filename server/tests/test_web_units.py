"""The web's own arithmetic, forms and figures, each alone, as its test runner sees them."""

import json
import subprocess
from pathlib import Path
from unittest import TestCase

WEB = Path(__file__).parents[2] / "web"


class WebUnits(TestCase):
    def test_figures_units_and_forms_compute_as_they_should(self):
        command = ["node_modules/.bin/vitest", "run", "--reporter=json", "--maxWorkers=1"]
        done = subprocess.run(command, cwd=WEB, capture_output=True, text=True)
        self.assertTrue(done.stdout.strip(), done.stderr[-4000:])
        said = json.loads(done.stdout[done.stdout.index("{") :])
        failed = [
            f"{one['fullName']}: {' '.join(one['failureMessages'])[:400]}"
            for file in said["testResults"]
            for one in file["assertionResults"]
            if one["status"] != "passed"
        ]
        self.assertEqual(failed, [])
        self.assertEqual(done.returncode, 0, done.stderr[-4000:])
        files = {Path(file["name"]).name for file in said["testResults"]}
        self.assertEqual(files, {p.name for p in (WEB / "tests").glob("*.test.ts*")})
        self.assertGreater(said["numPassedTests"], 80)
