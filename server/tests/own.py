"""An aircraft of one's own, begun from nothing, and short ways to write on any."""

from testkit.base import OnTheDemo


class Writing(OnTheDemo):
    """Short words for one person's reads and writes on one aircraft."""

    slug, person = "fenlark", "ansel"

    def at(self, path=""):
        return f"/api/aircraft/{self.slug}" + (f"/{path}" if path else "")

    def get(self, path="", status=200, person=""):
        answer = self.as_(person or self.person).get(self.at(path))
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json() if "json" in answer.headers["Content-Type"] else answer

    def send(self, method, path, body, status, person=""):
        answer = self.write(person or self.person, self.at(path), body, method=method)
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json() if answer.content else None

    def post(self, path, body=None, status=201, **who):
        return self.send("post", path, body or {}, status, **who)

    def patch(self, path, body, status=200, **who):
        return self.send("patch", path, body, status, **who)

    def put(self, path, body, status=200, **who):
        return self.send("put", path, body, status, **who)

    def delete(self, path, status=200, **who):
        return self.send("delete", path, {}, status, **who)

    def gone(self, path, version=1, status=200, reason="not fitted", person=""):
        """Take away what is at an address."""
        body = {"version": version, "reason": reason}
        return self.post(f"{path}/removal", body, status=status, person=person)

    def refused(self, field, method, path, body):
        """Refused with that field and a reason, and nothing of it is kept."""
        before = self.everything()
        answer = self.write(self.person, self.at(path), body, method=method)
        self.assertIn(answer.status_code, (400, 422), answer.content[:300])
        told = answer.json()
        self.assertEqual(told["field"], field, told)
        self.assertTrue(told["reason"])
        self.assertEqual(self.everything(), before)
        return told["reason"]

    def everything(self):
        """What a reader sees of the aircraft and its journal."""
        frame = self.as_(self.person).get(self.at()).json()
        news = self.as_(self.person).get(self.at("since")).json()
        return frame, news


class OwnPlane(Writing):
    """A new owner's aircraft, as the template gives it."""

    def setUp(self):
        super().setUp()
        body = {
            "name": "Test Plane", "engine": "tractor", "wing": "low", "gear": "tailwheel",
            "length": "6 m", "span": "8.4 m",
        }  # fmt: skip
        answer = self.write(self.person, "/api/aircraft", body)
        self.assertEqual(answer.status_code, 201, answer.content)
        self.slug = answer.json()["slug"]

    def bay(self, slug):
        return next(b for b in self.get()["bays"] if b["slug"] == slug)

    def document(self, title="Drawing 1", revision="A"):
        self.post("sources", {"title": title, "revision": revision})
        rows = self.get("sources")["results"]
        return next(s["id"] for s in rows if s["cited"].startswith(title))
