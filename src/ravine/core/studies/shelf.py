"""What is on the shelf, in words and as it looks."""

from __future__ import annotations

from typing import Any

from ..edits.declared import field
from ..edits.fields import TextField
from ..model.snapshot import Snapshot
from ..operations import take_from_shelf
from ..operations.work import Work
from ..shelf import items
from ..view import picture
from .base import Study, study

WIDE, HIGH = 232, 150  # pixels


@study
class Shelf(Study):
    name = "shelf"
    help = "Standard and bought parts by words, kind, size and material: ids, names, and the lengths they come in."

    text: str = field(TextField("the words", "Such as socket M5x16.", limit=80, default=""))
    kind: str = field(TextField("the kind", "Such as screw, nut, bearing.", limit=20, default=""))
    size: str = field(TextField("the size", "Such as M5.", limit=20, default=""))
    material: str = field(TextField("the material", "A part of its name.", limit=40, default=""))

    def run(self, work: Work) -> list[dict[str, Any]]:
        return items.told(items.search(self.text, self.kind, self.size, self.material))


@study
class ShelfPicture(Study):
    name = "shelf picture"
    help = "PNG of an item of the shelf, by itself."
    lane = "picture"

    item: str = field(TextField("the item", "An id such as iso4762-m5x16.", limit=60))

    def run(self, work: Work) -> bytes:
        alone = Work(Snapshot(units="mm"), work.geometry)
        taken = take_from_shelf.TakeFromShelf(item=self.item).do(alone).snapshot
        return picture.picture(taken, work.geometry, WIDE, HIGH)
