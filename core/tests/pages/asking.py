"""Asking the book, and comparing its answer with one worked out another way."""

import math

import hypothesis
from hypothesis import HealthCheck
from scipy.stats import t as student

from core.basis.refused import Refused
from core.rulebook import rule

ENOUGH = hypothesis.settings(
    max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow]
)
SHARE = math.erf(math.sqrt(2.0))


def given(*args, times=None):
    """Hypothesis's own, as often as the whole run has time for."""
    often = hypothesis.settings(ENOUGH, max_examples=times) if times else ENOUGH
    return lambda test: often(hypothesis.given(*args)(test))


def ask(rule_id, **inputs):
    """The book's answer under the page's names."""
    return rule(rule_id).run(inputs)


def refusal(rule_id, **inputs):
    """The field that is refused and why, or nothing."""
    try:
        ask(rule_id, **inputs)
    except Refused as refused:
        return refused.field, refused.reason
    return None


def field_refused(rule_id, **inputs):
    """The field that is refused, or nothing."""
    found = refusal(rule_id, **inputs)
    return found and found[0]


class Agreeing:
    """Mixed into a test case."""

    def agrees(self, got, want, rel=1e-6, floor=1e-8):
        """Every name of `want` has that value in `got`."""
        for name, value in want.items():
            self.same(got.get(name, "absent"), value, rel, floor, name)

    def same(self, got, value, rel=1e-6, floor=1e-8, name=""):
        if isinstance(value, dict):
            self.agrees(got, value, rel, floor)
        elif isinstance(value, (list, tuple)):
            self.assertEqual(len(got), len(value), name)
            for one, other in zip(got, value, strict=True):
                self.same(one, other, rel, floor, name)
        elif isinstance(value, float) and isinstance(got, (int, float)):
            close = math.isclose(got, value, rel_tol=rel, abs_tol=floor)
            self.assertTrue(close, f"{name}: {got!r} for {value!r}")
        else:
            self.assertEqual(got, value, name)

    def refuses(self, field, rule_id, **inputs):
        """It is refused, and the field is named."""
        found = refusal(rule_id, **inputs)
        self.assertIsNotNone(found, f"{rule_id} answers {inputs}")
        self.assertEqual(found[0], field, found)
        self.assertTrue(found[1])


def spread(values):
    """Sample standard deviation; nothing of a single value."""
    n = len(values)
    if n < 2:
        return None
    mean = sum(values) / n
    return math.sqrt(sum((v - mean) ** 2 for v in values) / (n - 1))


def expanded(parts):
    """u, effective freedom (None: infinite), k and U of (standard uncertainty, freedom)."""
    u = math.sqrt(sum(x * x for x, _ in parts))
    slack = sum(x**4 / nu for x, nu in parts if nu is not None and x > 0)
    nu = u**4 / slack if slack > 0 else None
    k = 2.0 if nu is None else float(student.ppf(0.5 + SHARE / 2, nu))
    return u, nu, k, k * u


def guarded(y, U, lo, hi):
    """The word of a value with its expanded uncertainty against limits, either of them open."""
    low = -math.inf if lo is None else lo
    high = math.inf if hi is None else hi
    e = 1e-9 * max(1.0, abs(y), *(abs(x) for x in (low, high) if math.isfinite(x)))
    if low + U - e <= y <= high - U + e:
        return "in"
    if y < low - U - e or y > high + U + e:
        return "out"
    return "too close"


def worst(words):
    """The worst of several words."""
    order = ("out", "too close", "not measured", "in")
    return next((w for w in order if w in words), "not measured")


def derivative(f, x, step):
    """Of a function of one number, by central difference."""
    return (f(x + step) - f(x - step)) / (2 * step)
