"""What the page shows of a state: triangles, the words about a pick, masses, kept measures, the card's picture."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..bill import masses
from ..edits.declared import field
from ..edits.fields import DataField, FlagField, IdsField, TextField
from ..edits.first import in_order
from ..edits.registry import offered
from ..errors import EditError
from ..model.snapshot import split_id, text_id
from ..operations.work import Work
from ..view import describe, packet, picture, pins
from .base import Study, study

BODY = TextField("the body", "Id of a body.", limit=12)


@study
class Mesh(Study):
    name = "mesh"
    help = "Triangles, edges and corners of a body, packed as view/packet.py says."
    keeps = False  # pages keep it by its address

    body: str = field(BODY)
    fine: bool = field(FlagField("fine", "As it is looked at from near; meshes have no finer form.", default=False))

    def run(self, work: Work) -> bytes:
        found = work.geometry.get(work.snapshot.body(split_id(self.body)[1]).shape)
        return packet.pack_fine(found) if self.fine else packet.pack(found)


@study
class Describe(Study):
    name = "describe"
    help = (
        "What is picked, in words and figures: subject, rest, rows, what kind of pick it is, and the edits it offers "
        "with their digits, 0 for none."
    )

    picked: tuple[str, ...] = field(IdsField("the pick", "Ids of one kind; none for the whole model.", default=()))
    stage: str = field(TextField("the stage", "Whose edits are offered where nothing is picked.", default="Shape"))

    def run(self, work: Work) -> dict[str, Any]:
        found = describe.describe_pick(work.snapshot, work.geometry, self.picked)
        return {
            "subject": found.subject,
            "rest": found.rest,
            "rows": found.rows,
            "summary": found.summary.to_json(),
            "actions": in_order(found.summary, offered(found.summary, self.stage), self.stage),
        }


@study
class Masses(Study):
    name = "masses"
    help = "Mass in kg of every place in the tree; null where a material is missing."

    def run(self, work: Work) -> dict[str, float | None]:
        found = masses.part_masses(work.snapshot, work.geometry)
        return {text_id("node", number): mass for number, mass in found.items()}


@study
class Pins(Study):
    name = "pins"
    help = "Kept measures as a state has them: value, ends, lost."
    keeps = False

    pins: Any = field(DataField("the pins", "Each with picked and label, or with plane, at and nodes."))

    def run(self, work: Work) -> list[dict[str, Any]]:
        return pins_of(work, self.pins)


def pins_of(work: Work, wanted: Any) -> list[dict[str, Any]]:
    """Raises EditError where these are no pins at all; one that cannot be taken is told as lost."""
    found = []
    if not isinstance(wanted, (list, tuple)):
        raise EditError("pins come as a list", field="pins")
    for pin in wanted:
        try:
            taken = (
                pins.width_pin(work.snapshot, work.geometry, pin["plane"], pin["at"], pin["nodes"]) if "plane" in pin
                else pins.pin_of(work.snapshot, work.geometry, pin["picked"], pin["label"])
            )  # fmt: skip
        except EditError as error:
            taken = pins.Pin("", None, error.reason)
        except (KeyError, TypeError, ValueError, IndexError, AttributeError):  # one that makes no sense stops no other
            taken = pins.Pin("", None, "it does not say what it measures")
        found.append(asdict(taken))
    return found


@study
class Portrait(Study):
    name = "portrait"
    help = "PNG for the model's card."
    lane = "picture"
    keeps = False

    def run(self, work: Work) -> bytes:
        return picture.picture(work.snapshot, work.geometry)
