"""Inputs made up from each rule's own schema: accepted, or refused for a reason of the field;
and written again they are the same."""

import contextlib
import copy
import random
from unittest import TestCase

import jsonschema

from core.basis.refused import Refused
from core.rulebook import RULES

# What only says that the form was not understood: never told of what the schema allows.
FORMAL = (
    "is not an input", "is not known here", "is needed", "must be an object", "must be a list",
    "must be a number", "must be true or false", "must be text", "must be a whole number",
)  # fmt: skip


# Rules that take a whole file or record, which the schema of the rule leaves open.
OPEN = {
    "controls.advise", "controls.linkage", "controls.lockup", "controls.rod_sensitivity",
    "controls.stops", "signoff.dual_inspection", "signoff.freshness", "cables.pluck_frequency",
}  # fmt: skip


class Maker:
    """Values that a schema allows, always the same for the same seed."""

    def __init__(self, seed):
        self.chance = random.Random(seed)

    def value(self, schema, name=""):
        if "anyOf" in schema:
            return self.value(self.chance.choice(schema["anyOf"]), name)
        if "enum" in schema:
            return self.chance.choice(schema["enum"])
        kind = schema.get("type")
        if isinstance(kind, list):
            kind = self.chance.choice(kind)
        make = {
            "object": self.object, "array": self.array, "string": self.text, "number": self.number,
            "integer": self.integer, "boolean": lambda *_: self.chance.random() < 0.5,
            "null": lambda *_: None,
        }  # fmt: skip
        return make[kind](schema, name) if kind in make else "x"

    def object(self, schema, _):
        required = schema.get("required", [])
        made = {}
        for name, part in schema.get("properties", {}).items():
            if name in required or self.chance.random() < 0.5:
                made[name] = self.value(part, name)
        extra = schema.get("additionalProperties")
        if isinstance(extra, dict) and extra:
            for _n in range(self.chance.randint(0, 2)):
                made[self.chance.choice("abc")] = self.value(extra)
        return made

    def array(self, schema, name):
        if "prefixItems" in schema:
            return [self.value(part) for part in schema["prefixItems"]]
        low = schema.get("minItems", 0)
        high = schema.get("maxItems", max(low, 1) + 2)
        items = schema.get("items", {"type": "number"})
        return [self.value(items, name) for _ in range(self.chance.randint(low, high))]

    def text(self, schema, name):
        if schema.get("format") == "date":
            return "2027-03-01"
        return self.chance.choice(["a", "b", "Ansel", "2027-03-01", "2027-03-01T09:00:00Z"])

    def number(self, schema, _):
        low = schema.get("minimum", schema.get("exclusiveMinimum", -50.0))
        high = schema.get("maximum", max(low, 0) + self.chance.choice([0.01, 1.0, 50.0, 400.0]))
        value = self.chance.uniform(low, high)
        return value if value != schema.get("exclusiveMinimum") else value + 1e-3

    def integer(self, schema, _):
        low = schema.get("minimum", -3)
        return self.chance.randint(low, schema.get("maximum", low + 6))


class Schemas(TestCase):
    TIMES = 12

    def made(self, rule):
        schema = rule.input_schema()
        for seed in range(self.TIMES):
            yield Maker(seed).value(schema), schema

    def test_what_the_schema_allows_is_understood(self):
        answered = 0
        for rule in RULES.values():
            for inputs, schema in self.made(rule):
                jsonschema.validate(inputs, schema)
                with self.subTest(rule=rule.id, inputs=str(inputs)[:200]):
                    try:
                        rule.run(copy.deepcopy(inputs))
                        answered += 1
                    except Refused as refused:
                        self.assertTrue(refused.field and refused.reason)
                        if rule.id not in OPEN:
                            # More than that a field is missing or of the wrong kind: why.
                            self.assertNotIn(refused.reason, FORMAL)
        self.assertGreater(answered, 50)

    def test_a_run_changes_nothing_of_what_it_was_given(self):
        for rule in RULES.values():
            for inputs, _ in self.made(rule):
                before = copy.deepcopy(inputs)
                with contextlib.suppress(Refused):
                    rule.run(inputs)
                self.assertEqual(inputs, before, rule.id)

    def test_the_same_inputs_give_the_same_answer(self):
        for rule in RULES.values():
            for case in rule.cases[:2]:
                if "refused" in case.expect:
                    continue
                one, other = (rule.run(copy.deepcopy(case.inputs)) for _ in range(2))
                self.assertEqual(one, other, rule.id)

    def test_a_name_that_is_not_in_the_schema_is_refused_by_that_name(self):
        for rule in RULES.values():
            case = rule.cases[0]
            if not isinstance(case.inputs, dict):
                continue
            with self.subTest(rule=rule.id), self.assertRaises(Refused) as caught:
                rule.run(case.inputs | {"no_such_name": 1})
            self.assertIn("no_such_name", caught.exception.field)

    def test_what_is_required_is_asked_for_by_its_name(self):
        for rule in RULES.values():
            schema = rule.input_schema()
            for name in schema.get("required", []):
                case = next(c for c in rule.cases if name in c.inputs)
                less = {k: v for k, v in case.inputs.items() if k != name}
                with self.subTest(rule=rule.id, name=name), self.assertRaises(Refused) as caught:
                    rule.run(less)
                self.assertEqual(caught.exception.field, name)

    def test_every_answer_is_of_the_shape_that_is_told(self):
        for rule in RULES.values():
            schema = rule.output_schema()
            for case in rule.cases:
                if "refused" in case.expect:
                    continue
                with self.subTest(rule=rule.id, case=case.id):
                    jsonschema.validate(rule.run(case.inputs), schema)
