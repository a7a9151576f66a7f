"""Models as the pages see them: list, create, edit, preview, step, look."""

from __future__ import annotations

import json
from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from ravine.core import EditError, RavineError
from ravine.core.edits import PickSummary
from ravine.core.model.snapshot import Snapshot
from ravine.core.units import MODEL_UNITS
from ravine.engine.client import DEADLINES, Engine
from ravine.engine.wire import Progress
from ravine.store import blobs, revisions
from ravine.store.schema import LOCAL_OWNER
from ravine.store.tables import Account, Design, Original, Portrait, Revision, ViewState, database, now


class NotFound(RavineError):
    """There is no such model, or it was deleted."""


@dataclass(frozen=True)
class Picked:
    subject: str
    rest: str
    rows: list[tuple[str, str]]
    summary: PickSummary


class Designs:
    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._snapshots: OrderedDict[str, Snapshot] = OrderedDict()
        self._guard = Lock()

    @property
    def owner(self) -> Account:
        return Account.get(Account.name == LOCAL_OWNER)

    # --- the list ----------------------------------------------------------------------------------------------

    def all(self) -> list[Design]:
        return list(
            Design.select()
            .where((Design.owner == self.owner) & Design.deleted.is_null())
            .order_by(Design.updated.desc())
        )

    def create(self, name: str, units: str = "mm") -> Design:
        if units not in MODEL_UNITS:
            raise EditError(f"a model's unit is one of {', '.join(MODEL_UNITS)}, not “{units}”", field="units")
        owner = self.owner
        address, state = Snapshot(units=units).stored()
        with database.atomic():
            design = Design.create(owner=owner, name=clean_name(name))
            revisions.save(
                owner, design, 0, state=address, new_blobs={address: state}, edit="begin",
                values={"units": units}, sentence=f"Began empty, in {units}", facts=[], warnings=[],
            )  # fmt: skip
        return Design.get_by_id(design.id)

    def get(self, ident: int, *, deleted: bool = False) -> Design:
        query = Design.select().join(Account).where((Design.id == ident) & (Account.name == LOCAL_OWNER))
        found = query.get_or_none()
        if found is None or (found.deleted is not None and not deleted):
            raise NotFound("this model does not exist, or it was deleted")
        return found

    def rename(self, design: Design, name: str) -> None:
        Design.update(name=clean_name(name), updated=now()).where(Design.id == design.id).execute()

    def delete(self, design: Design) -> None:
        """Out of the list; `restore` brings it back with everything."""
        Design.update(deleted=now()).where(Design.id == design.id).execute()

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

    def edit(self, design: Design, base: int, name: str, values: dict[str, Any], comma: bool = False) -> dict:
        """Do an edit and save it.  Adds `revision` to the engine's result when the state changed.

        Raises EditError, EngineFailure or Conflict; then nothing is kept.
        """
        revision = self._expect(design, base)
        result = self._call("edit", revision, name=name, values=values, comma=comma)
        if "snapshot" in result:
            result["revision"] = self.keep(design, base, values, result)
        return result

    def keep(self, design: Design, base: int, values: dict[str, Any], result: dict) -> Revision:
        return revisions.save(
            self.owner, design, base, state=result["snapshot"], new_blobs=result.pop("blobs"), edit=result["edit"],
            values=values, sentence=result["sentence"], facts=result["facts"], warnings=result["warnings"],
        )  # fmt: skip

    def _expect(self, design: Design, base: int) -> Revision:
        """The head, when it is the one the caller has before them.  Raises Conflict."""
        if design.head != base:
            raise revisions.Conflict(
                f"{design.name} was changed meanwhile (“{self.head(design).sentence}”). The newest state is shown; do "
                f"the edit again there"
            )
        return self.head(design)

    def preview(
        self, design: Design, base: int, name: str, values: dict[str, Any], comma: bool = False, settled: bool = False,
        plane: list[float] | None = None, watch: dict[str, Any] | None = None,
        pins: list[dict[str, Any]] | None = None,
    ) -> dict:  # fmt: skip
        """What the edit would do to the state at `revision`, which the engine's result gets besides.  Nothing is saved.
        `settled` runs the checks of the real one too; `plane`: of the
        section in which it is shown; `watch`: at and nodes of a width to measure there;
        `pins`: kept measures, taken of what would be."""
        revision = self._expect(design, base)
        watched = watch and {"plane": plane, **watch}
        cut = plane and {"plane": plane, "hidden": self.hidden(design), "watch": watched}
        result = self._call(
            "edit", revision, "preview", name=name, values=values, comma=comma, cut=cut, pins=pins,
            mode="preview" if settled else "drag",
        )  # fmt: skip
        return {**result, "revision": revision}

    def start_line(
        self, design: Design, name: str, picked: list[str], nodes: list[str], values: dict[str, Any]
    ) -> dict:
        return self._call("start_line", self.head(design), name=name, picked=picked, nodes=nodes, values=values)

    def limits(self, design: Design, base: int, name: str, values: dict[str, Any], field: str) -> dict:
        """The walls of a field, either way."""
        return self._call("limits", self._expect(design, base), "preview", name=name, values=values, field=field)

    def widen(self, design: Design, picked: list[str], way: str) -> list[list[str]]:
        """Wider picks, as core.model.widening says.  Raises EditError."""
        return self._call("widen", self.head(design), picked=picked, way=way)

    def step(self, design: Design, base: int, direction: int) -> Revision:
        return revisions.step(design, base, direction)

    def go_to(self, design: Design, base: int, target: int) -> Revision:
        return revisions.go_to(design, base, target)

    def journal(self, design: Design) -> list[Revision]:
        return revisions.path_to_tip(design)

    # --- looking -----------------------------------------------------------------------------------------------

    def mesh(self, revision: Revision, body: str) -> bytes:
        return self._call("mesh", revision, body=body)

    def picture(self, design: Design, address: str) -> bytes:
        """PNG behind a sketch of the head.  Raises RavineError for any other address."""
        sketches = self.snapshot(self.head(design)).sketches.values()
        if address not in {s.picture.address for s in sketches if s.picture}:
            raise RavineError("no sketch of this model has that picture")
        return blobs.get(address)

    def describe(self, revision: Revision, picked: list[str]) -> Picked:
        return Picked(**self._call("describe", revision, picked=picked))

    def masses(self, revision: Revision) -> dict[str, float | None]:
        return self._call("masses", revision)

    def check_up(self, revision: Revision) -> list[dict[str, Any]]:
        """What is wrong with the bodies of a state, as Finding.to_json gives it."""
        return self._call("check_up", revision, "check-up")

    def read_ahead(self, revision: Revision) -> int:
        """What the first pick on a large part would wait for; the number of faces read."""
        return self._call("read_ahead", revision)

    def alike(self, revision: Revision, picked: str, tolerance: float, everywhere: bool) -> list[dict[str, Any]]:
        """Criteria of one face or edge: code, words, ids of everything that fits.  Raises EditError."""
        return self._call("alike", revision, picked=picked, tolerance=tolerance, everywhere=everywhere)

    def surface_map(
        self, revision: Revision, kind: str, nodes: list[str], pull: str, progress: Progress, token: str
    ) -> bytes:
        """Figures over the surface of a part, as core.maps.body_map packs them.  Raises EditError, or Cancelled after
        engine.cancel(token)."""
        return self._call("surface_map", revision, "check-up", progress, token, kind=kind, nodes=nodes, pull=pull)

    # --- the section -------------------------------------------------------------------------------------------

    def _section(self, task: str, design: Design, plane: list[float], **args: Any) -> Any:
        return self._call(task, self.head(design), plane=plane, hidden=self.hidden(design), **args)

    def cut(self, design: Design, plane: list[float]) -> bytes:
        """The head as a section shows it, packed as core.section.cut says.  plane: point, mm, and direction."""
        return self._section("cut", design, plane)

    def section_through(self, design: Design, picked: list[str]) -> list[float]:
        """Raises EditError for picks that give no plane."""
        return self._call("section_through", self.head(design), picked=picked)

    def section_facts(self, design: Design, plane: list[float]) -> list[dict[str, Any]]:
        return self._section("section_facts", design, plane)

    def section_width(self, design: Design, plane: list[float], at: list[float]) -> dict[str, Any] | None:
        return self._section("section_width", design, plane, at=at)

    def clearance(self, design: Design, within: float) -> dict[str, Any]:
        """Pairs of parts nearer than `within` mm, and what could not be told, as core.clearance.pairs says."""
        hidden = self.hidden(design)
        return self._call("clearance", self.head(design), "check-up", within=within, hidden=hidden)

    def overlap(self, design: Design, nodes: list[str]) -> bytes:
        return self._call("overlap", self.head(design), nodes=nodes)

    def fits(self, design: Design, picked: list[str]) -> dict[str, Any]:
        """Raises EditError for anything but a hole and a shaft."""
        return self._call("fits", self.head(design), picked=picked)

    def pins(self, revision: Revision, pins: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Pinned measures, as service/kept.py keeps them, taken of a state: value, ends, lost."""
        return self._call("pins", revision, pins=pins)

    def portrait(self, design: Design) -> bytes:
        """PNG of the head, drawn when the stored one is of another revision."""
        stored = Portrait.get_or_none(Portrait.design == design)
        if stored is not None and stored.revision == design.head:
            return bytes(stored.data)
        head = self.head(design)
        data = self.engine.call(
            "portrait", {"snapshot": head.state_id}, lane="job", key="portraits", deadline=60, blobs=blobs.get
        )
        Portrait.replace(owner=self.owner, design=design, revision=head.id, data=data).execute()
        return data

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
    text = " ".join("".join(c if c.isprintable() else " " for c in name).split())
    if not text:
        raise EditError("a model needs a name; give at least one letter", field="name")
    if len(text) > 120:
        raise EditError(f"the name has {len(text)} letters; up to 120 fit", field="name", nearest=text[:120])
    return text
