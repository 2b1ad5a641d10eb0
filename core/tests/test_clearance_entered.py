"""What cannot be entered for clearances is refused by its field, in words."""

from unittest import TestCase

from core.basis.refused import Refused
from core.clearance.entry import refuse
from core.tests.clearing import SURE, corners, lever, row, scene


class Entered(TestCase):
    """What cannot be is refused by its field, in words."""

    LINE = {"sort": "structure", "form": "line", "od": "10"}

    def refused(self, field, kind, name="New", rows=(), moves=None, **typed):
        with self.assertRaises(Refused) as caught:
            one = row(kind, name, **typed)
            refuse(scene(*rows, one, moves=moves), one)
        self.assertEqual(caught.exception.field, field, caught.exception.reason)
        return caught.exception.reason

    def test_shapes(self):
        same = corners((0, 0, 0), (0, 0, 0))
        self.assertIn("no length", self.refused("corners", "shape", corners=same, **self.LINE))
        two = corners((0, 0, 0), (100, 0, 0))
        thin = {**self.LINE, "od": "-1"}
        self.refused("od", "shape", corners=two, **thin)
        said = self.refused("on", "shape", corners=two, on="Nothing", moves=lever(), **self.LINE)
        self.assertIn("Elevator: idler", said)
        self.refused("size", "shape", sort="structure", form="box", centre="0; 0; 0")
        self.refused("name", "shape", "Loom", corners=two, **self.LINE)

    def test_movers(self):
        hinge = {"origin": "0; 0; 0", "axis": "0; 1; 0"}
        self.refused("to", "mover", **hinge, **{"from": "30"}, to="10")
        self.refused("axis", "mover", origin="0; 0; 0", axis="0; 0; 0", to="10")
        self.refused("slide", "mover", **hinge, slide="1; 0; 0", slide_to="5")
        self.refused("follows", "mover", **hinge, follows="No such surface")
        self.refused("notches", "mover", **hinge, notches="10; 10")
        self.refused("carried", "mover", "Door", **hinge, to="10", carried="Frame")

    def test_zones_and_distances(self):
        zone = {"kinds": "fuel", "margin": "5"}
        self.refused("half", "zone", form="box", centre="0; 0; 0", half="-1; 1; 1", **zone)
        self.refused(
            "to", "zone", form="cylinder", **{"from": "0; 0; 0"}, to="0; 0; 0", radius="5", **zone
        )
        self.refused("kinds", "zone", form="box", centre="0; 0; 0", half="1; 1; 1", kinds="water",
                     margin="5")  # fmt: skip
        own = row("rule", "One", a="oil", b="fuel", least="5")
        self.refused("b", "rule", rows=(own,), a="fuel", b="oil", least="7")
        self.refused("condition", "rule", a="fuel", b="vent", least="7", condition="sleeved")

    def test_what_names_another(self):
        self.refused("a", "contact", a="Nobody", b="Feed", reason="x")
        self.refused("b", "contact", a="Feed", b="Feed", reason="x")
        self.refused("a_to", "contact", a="Loom", b="Feed", reason="x", a_from="50", a_to="40")
        one = row("contact", "New", a="Loom", b="Feed", reason="x", a_to="400")
        refuse(scene(one), one)
        self.refused("proof", "pair", a="Loom", b="Feed", condition="guarded")
        self.refused("of", "about", of="Nobody", push="5")
        self.refused("E", "about", of="Loom", E="70 GPa", inner="20", weight="1")
        self.refused("swings", "about", of="Loom", swings=[{"span": "100", "sways": "1"}])
        self.refused("control", "range", control="Rudder")
        self.refused("settled", "range", control="Elevator", settled="adjust", moves=lever())
        self.refused("kind", "sureness", rows=(SURE,), tubes="1")
