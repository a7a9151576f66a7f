"""Models as the pages see them: list, create, edit, preview, step, look."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from threading import Lock
from typing import Any

from ravine.core import EditError, RavineError
from ravine.core.edits import Edit, find_edit
from ravine.core.model.snapshot import Snapshot
from ravine.core.model.words import NAME, plain_text
from ravine.core.studies import find_study
from ravine.core.units import MODEL_UNITS
from ravine.engine.client import DEADLINES, Engine
from ravine.engine.results import Edited, LineStart, Stored
from ravine.engine.variants import try_rows
from ravine.engine.wire import Busy, Progress
from ravine.store import blobs, revisions
from ravine.store.revisions import Conflict
from ravine.store.tables import Design, Job, Original, Portrait, Revision, ViewState, database, now

from .connection import in_this_thread
from .filled import filled
from .people import Person, signed_in

FROM_FILE = "begin from file"


class NotFound(RavineError):
    """There is no such model, or it was deleted."""


@dataclass(frozen=True)
class Picked:
    subject: str
    rest: str
    rows: list[tuple[str, str]]
    summary: dict[str, Any]
    actions: list[tuple[type[Edit], int]]


class Designs:
    """The models of one person.  `seen_by` gives those of another, with the same engine and caches."""

    def __init__(self, engine: Engine, person: Person | None = None) -> None:
        self.engine = engine
        self._person = person
        self._snapshots: OrderedDict[str, Snapshot] = OrderedDict()
        self._guard = Lock()

    def seen_by(self, person: Person) -> Designs:
        found = copy(self)
        found._person = person
        return found

    @property
    def person(self) -> Person:
        return self._person or signed_in()

    @property
    def owner(self) -> int:
        """Id of the account."""
        return self.person.id

    # --- the list ----------------------------------------------------------------------------------------------

    def all(self) -> list[Design]:
        """Not those that were begun from a file which could not be brought in, while nothing else is in them."""
        waiting = Job.select(Job.design).where(Job.state.in_(["queued", "running"]))
        from_file = Revision.select(Revision.design).where(Revision.edit == FROM_FILE)
        grown = Revision.select(Revision.design).where(Revision.parent != 0)
        unborn = Design.id.in_(from_file) & Design.id.not_in(waiting) & Design.id.not_in(grown)
        return list(
            Design.select()
            .where((Design.owner == self.owner) & Design.deleted.is_null() & ~unborn)
            .order_by(Design.updated.desc())
        )

    def create(self, name: str, units: str = "mm", *, from_file: bool = False) -> Design:
        """from_file: what is in it comes from a file that is brought in next."""
        if units not in MODEL_UNITS:
            raise EditError(f"a model's unit is one of {', '.join(MODEL_UNITS)}, not “{units}”", field="units")
        owner = self.owner
        address, state = Snapshot(units=units).stored()
        with database.atomic():
            design = Design.create(owner=owner, name=clean_name(name))
            revisions.save(
                owner, design, 0, state=address, new_blobs={address: state},
                edit=FROM_FILE if from_file else "begin",
                values={"units": units}, sentence=f"Began empty, in {units}", facts=[], warnings=[],
            )  # fmt: skip
        return Design.get_by_id(design.id)

    def get(self, ident: int, *, deleted: bool = False) -> Design:
        found = Design.get_or_none((Design.id == ident) & (Design.owner == self.owner))
        if found is None or (found.deleted is not None and not deleted):
            raise NotFound("this model does not exist, or it was deleted")
        return found

    def rename(self, design: Design, name: str) -> None:
        Design.update(name=clean_name(name), updated=now()).where(Design.id == design.id).execute()

    def delete(self, design: Design) -> None:
        """Out of the list; `restore` brings it back with everything."""
        Design.update(deleted=now()).where(Design.id == design.id).execute()

    def discard(self, design: Design) -> None:
        """One that never came to be: nothing of it is left."""
        design.delete_instance(recursive=True)

    def restore(self, design: Design) -> None:
        Design.update(deleted=None).where(Design.id == design.id).execute()

    # --- states ------------------------------------------------------------------------------------------------

    def head(self, design: Design) -> Revision:
        found = revisions.head(design)
        if found is None:
            raise RavineError(f"{design.name} has no revision; its creation was interrupted")
        return found

    def revision(self, design: Design, ident: int) -> Revision:
        found = Revision.get_or_none((Revision.id == ident) & (Revision.design == design))
        if found is None:
            raise NotFound("this model has no such revision")
        return found

    def snapshot(self, revision: Revision) -> Snapshot:
        address = revision.state_id
        with self._guard:
            if address in self._snapshots:
                self._snapshots.move_to_end(address)
                return self._snapshots[address]
        found = Snapshot.from_json(blobs.get(address).decode())
        with self._guard:
            self._snapshots[address] = found
            while len(self._snapshots) > 200:
                self._snapshots.popitem(last=False)
        return found

    def _call(
        self, task: str, revision: Revision, deadline: str = "edit", progress: Progress | None = None, token: str = "",
        **args: Any,
    ) -> Any:  # fmt: skip
        return self.engine.call(
            task, {"snapshot": revision.state_id, **args}, key=f"design {revision.design_id}",
            deadline=DEADLINES[deadline], blobs=blobs.get, progress=progress, token=token,
        )  # fmt: skip

    # --- edits -------------------------------------------------------------------------------------------------

    def edit(
        self, design: Design, base: int, name: str, values: dict[str, Any], comma: bool = False,
        token: str | None = None,
    ) -> tuple[Edited, Revision]:  # fmt: skip
        """Do an edit and save it.  Also the revision that is shown afterwards: a new one when the state changed.
        token: what the caller names this edit by; asked again, what was saved then is told, and nothing done twice.

        Raises EditError, EngineFailure or Conflict; then nothing is kept.
        """
        values = filled(self, design, find_edit(name), values)
        known = revisions.of_token(design, token)
        revision = self.expect(design, base) if known is None else self.revision(design, known.parent)
        done: Edited = self._call("edit", revision, name=name, values=values, comma=comma)
        if known is not None:
            return done, known
        return done, revision if done.stored is None else self.keep(design, base, values, done, done.stored, token)

    def keep(
        self, design: Design, base: int, values: dict[str, Any], done: Edited, stored: Stored, token: str | None = None
    ) -> Revision:
        return revisions.save(
            self.owner, design, base, state=stored.address, new_blobs=dict(stored.blobs), edit=stored.edit,
            values=values, sentence=done.sentence, facts=done.facts, warnings=done.warnings, token=token,
        )  # fmt: skip

    def expect(self, design: Design, base: int) -> Revision:
        """The head, when it is the one the caller has before them.  Raises Conflict."""
        if design.head != base:
            raise Conflict(
                f"{design.name} was changed meanwhile (“{self.head(design).sentence}”). The newest state is shown; do "
                f"the edit again there"
            )
        return self.head(design)

    def preview(
        self, design: Design, base: int, name: str, values: dict[str, Any], comma: bool = False, settled: bool = False,
        plane: list[float] | None = None, watch: dict[str, Any] | None = None,
        pins: list[dict[str, Any]] | None = None,
    ) -> tuple[Edited, Revision]:  # fmt: skip
        """What the edit would do to the state at `base`, and the revision that is.  Nothing is saved.
        `settled` runs the checks of the real one too; `plane`: of the
        section in which it is shown; `watch`: at and nodes of a width to measure there;
        `pins`: kept measures, taken of what would be."""
        values = filled(self, design, find_edit(name), values)
        revision = self.expect(design, base)
        watched = watch and {"plane": plane, **watch}
        cut = plane and {"plane": plane, "hidden": self.hidden(design), "watch": watched}
        result = self._call(
            "edit", revision, "preview" if settled else "drag", name=name, values=values, comma=comma, cut=cut,
            pins=pins, mode="preview" if settled else "drag",
        )  # fmt: skip
        return result, revision

    def start_line(
        self,
        design: Design,
        name: str,
        picked: list[str],
        nodes: list[str],
        values: dict[str, Any],
        pointed: list[float] | None = None,
    ) -> LineStart:
        """pointed: the place, mm in the model, where the hand touched what is picked."""
        values = filled(self, design, find_edit(name), values)
        asked = {"name": name, "picked": picked, "nodes": nodes, "values": values, "pointed": pointed}
        return self._call("start_line", self.head(design), **asked)

    def study(
        self, revision: Revision, name: str, progress: Progress | None = None, token: str = "", /, **values: Any
    ) -> Any:
        """A computation on a state that changes nothing, as core.studies declares it.  Raises EditError, or Cancelled
        after engine.cancel(token)."""
        cls = find_study(name)
        key = f"design {revision.design_id}" if cls.lane == "hand" else cls.name
        return self.engine.call(
            "study", {"snapshot": revision.state_id, "name": name, "values": values}, key=key, lane=cls.lane,
            deadline=cls.seconds, blobs=blobs.get, progress=progress, token=token,
        )  # fmt: skip

    def variants(
        self,
        revision: Revision,
        rows: Sequence[Mapping[str, str]],
        progress: Progress,
        token: str,
        study: str = "variant",
        **more: Any,
    ) -> list[Any]:
        """What the model would be with each row of values, on all cores; more: values of the study that are the same
        for all.  Raises Cancelled."""

        def blob(address: str) -> bytes:
            with in_this_thread():  # rows are tried in threads of their own
                return blobs.get(address)

        return try_rows(self.engine, revision.state_id, blob, rows, progress, token, study, more)

    def step(self, design: Design, base: int, direction: int) -> Revision:
        return revisions.step(design, base, direction)

    def go_to(self, design: Design, base: int, target: int) -> Revision:
        return revisions.go_to(design, base, target)

    def journal(self, design: Design) -> list[Revision]:
        return revisions.path_to_tip(design)

    # --- looking -----------------------------------------------------------------------------------------------

    def picture(self, design: Design, address: str) -> bytes:
        """PNG behind a sketch of the head.  Raises RavineError for any other address."""
        sketches = self.snapshot(self.head(design)).sketches.values()
        if address not in {s.picture.address for s in sketches if s.picture}:
            raise RavineError("no sketch of this model has that picture")
        return blobs.get(address)

    def describe(self, revision: Revision, picked: list[str], stage: str) -> Picked:
        """What is picked, and the edits that fit it (with nothing picked, those of the stage)."""
        found = self.study(revision, "describe", picked=picked, stage=stage)
        return Picked(**{**found, "actions": [(find_edit(name), digit) for name, digit in found["actions"]]})

    def portrait(self, design: Design) -> tuple[bytes | None, bool]:
        """PNG of the head, drawn when the stored one is of another revision, and True; while it cannot be drawn, an
        older one or none, and False."""
        stored = Portrait.get_or_none(Portrait.design == design)
        old = bytes(stored.data) if stored is not None else None
        if stored is not None and stored.revision == design.head:
            return old, True
        head = self.head(design)
        try:
            data = self.study(head, "portrait")
        except Busy:
            return old, False
        Portrait.replace(owner=self.owner, design=design, revision=head.id, data=data).execute()
        return data, True

    def hidden(self, design: Design) -> list[str]:
        found = ViewState.get_or_none((ViewState.owner == design.owner_id) & (ViewState.design == design))
        return json.loads(found.hidden) if found else []

    def hide(self, design: Design, nodes: list[str]) -> None:
        ViewState.replace(owner=self.owner, design=design, hidden=json.dumps(sorted(set(nodes)))).execute()

    def keep_original(self, design: Design, name: str, data: bytes) -> Original:
        owner = self.owner
        with database.atomic():
            address = blobs.put_one(owner, data)
            return Original.create(owner=owner, design=design, name=name[:255], blob=address)


def clean_name(name: str) -> str:
    text = plain_text(name)
    if not text:
        raise EditError("a model needs a name; give at least one letter", field="name")
    if len(text) > NAME:
        raise EditError(f"the name has {len(text)} letters; up to {NAME} fit", field="name", nearest=text[:NAME])
    return text
