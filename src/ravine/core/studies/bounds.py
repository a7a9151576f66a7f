"""How far a value of an edit goes before it is refused."""

from __future__ import annotations

from typing import Any

from ..edits.declared import field
from ..edits.fields import DataField, TextField
from ..edits.registry import find_edit
from ..errors import EditError
from ..operations.work import Mode, Work
from .base import Study, study


@study
class Bounds(Study):
    name = "bounds"
    help = "How far a length or angle of an edit goes either way, mm or rad; null where nothing was found."

    edit: str = field(TextField("the edit", "Its name.", limit=60))
    values: Any = field(DataField("the values", "The edit's other fields."))
    of: str = field(TextField("the field", "Whose bounds are looked for.", limit=60))

    def run(self, work: Work) -> dict[str, float | None]:
        from ..edits import value_bounds  # loads the geometry library

        if self.of not in find_edit(self.edit).fields():
            raise EditError(f"{self.edit} has no field “{self.of}”", field="of")
        if not isinstance(self.values, dict):
            raise EditError("the values are an object, each by the name of its field", field="values")
        probe = Work(work.snapshot, work.geometry, work.progress, Mode.PROBE)
        with work.geometry.drafts():
            return value_bounds.bounds(probe, self.edit, self.values, self.of)
