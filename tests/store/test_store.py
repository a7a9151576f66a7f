import os
import random
import signal
import time

import pymysql
import pytest
from peewee import OperationalError

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.store import blobs, revisions, schema
from ravine.store.tables import Account, Blob, Design, Piece, Revision, SchemaVersion

pytestmark = pytest.mark.usefixtures("database")


@pytest.fixture
def owner():
    return Account.get(Account.name == schema.LOCAL_OWNER)


@pytest.fixture
def design(owner):
    return Design.create(owner=owner, name="Test")


def save(owner, design, base, words, **more):
    state = Snapshot(next_id=random.randrange(1, 10**9))
    return revisions.save(
        owner, design, base, state=state.key(), new_blobs={state.key(): state.to_json().encode(), **more}, edit="push",
        values={"distance": 1}, sentence=words, facts=[], warnings=[],
    )  # fmt: skip


def now(design):
    return Design.get_by_id(design.id)


def test_blobs_are_kept_once_and_checked(owner):
    data = random.randbytes(300_000) + bytes(100_000)
    address = blobs.put_one(owner, data)
    assert blobs.put_one(owner, data) == address
    assert blobs.get(address) == data
    row = Blob.get_by_id(address)
    assert len(row.data) < len(data)
    Blob.update(data=bytes(row.data)[:-3] + b"xyz").where(Blob.address == address).execute()
    with pytest.raises(RavineError, match="damaged"):
        blobs.get(address)
    with pytest.raises(RavineError, match="missing"):
        blobs.get("0" * 40)


def test_a_blob_larger_than_a_packet_goes_through_in_rows(owner):
    """Of noise, which does not compress; above 134 MB the database's packet of 256 MB was too small for it."""
    data = random.randbytes(150 << 20)
    address = blobs.put_one(owner, data)
    assert blobs.get(address) == data
    assert Blob.get_by_id(address).pieces == Piece.select().where(Piece.blob == address).count() == 9
    assert max(len(p.data) for p in Piece.select().where(Piece.blob == address)) <= blobs.ROW
    Piece.delete().where((Piece.blob == address) & (Piece.number == 9)).execute()
    with pytest.raises(RavineError, match="damaged"):
        blobs.get(address)


def test_an_edit_that_is_asked_for_again_is_saved_once(owner, design):
    a = save(owner, design, 0, "a")
    state = Snapshot(next_id=7)
    asked = {"state": state.key(), "new_blobs": {state.key(): state.to_json().encode()}, "edit": "push", "values": {},
             "sentence": "b", "facts": [], "warnings": [], "token": "t" * 12}  # fmt: skip
    b = revisions.save(owner, design, a.id, **asked)
    assert revisions.save(owner, design, a.id, **asked).id == b.id
    assert revisions.of_token(design, "t" * 12).id == b.id
    assert [r.sentence for r in revisions.path_to_tip(now(design))] == ["a", "b"]


def test_waiting_for_another_writer_is_no_conflict(owner, design, monkeypatch):
    """What the database undoes since two stood in each other's way is done again."""
    a, real, tries = save(owner, design, 0, "a"), revisions._saved, []

    def undone(*args):
        tries.append(1)
        if len(tries) < 3:
            raise OperationalError(1213, "Deadlock found when trying to get lock")
        return real(*args)

    monkeypatch.setattr(revisions, "_saved", undone)
    b = save(owner, design, a.id, "b")
    assert len(tries) == 3
    assert now(design).head == b.id
    monkeypatch.setattr(revisions, "_saved", lambda *a: (_ for _ in ()).throw(OperationalError(1021, "Disk full")))
    with pytest.raises(OperationalError):
        save(owner, design, b.id, "c")


def test_a_folder_of_before_gets_pieces_and_tokens(owner, design, database):
    """As the schema before left it: without the columns and the table."""
    a = save(owner, design, 0, "a")
    for words in (
        "DROP TABLE piece",
        "ALTER TABLE `blob` DROP COLUMN pieces, MODIFY `size` INT NOT NULL",
        "ALTER TABLE revision DROP INDEX revision_design_id_token, DROP COLUMN token",
    ):
        database.execute_sql(words)
    SchemaVersion.update(version=2).execute()
    database.close()
    assert schema.upgrade() == len(schema.STEPS)
    database.connect(reuse_if_open=True)
    assert blobs.get(a.state_id)
    b = save(owner, design, a.id, "b")
    assert revisions.of_token(design, None) is None
    assert Revision.get_by_id(b.id).token is None
    assert {c.name for c in database.get_columns("revision")} >= {"token"}
    assert [i.unique for i in database.get_indexes("revision") if i.columns == ["design_id", "token"]] == [True]


def test_stepping_and_branching(owner, design):
    a = save(owner, design, 0, "a")
    b = save(owner, design, a.id, "b")
    save(owner, design, b.id, "c")
    assert [r.sentence for r in revisions.path_to_tip(now(design))] == ["a", "b", "c"]
    assert revisions.step(now(design), now(design).head, -1).id == b.id
    assert revisions.step(now(design), b.id, -1).id == a.id
    with pytest.raises(RavineError, match="step back"):
        revisions.step(now(design), a.id, -1)
    assert revisions.step(now(design), a.id, 1).id == b.id
    d = save(owner, design, b.id, "d")
    assert [r.sentence for r in revisions.path_to_tip(now(design))] == ["a", "b", "d"]
    assert [r.number for r in Revision.select().where(Revision.design == design).order_by(Revision.id)] == [1, 2, 3, 4]
    with pytest.raises(RavineError, match="no edit to step to"):
        revisions.step(now(design), d.id, 1)
    assert revisions.go_to(now(design), d.id, a.id).id == a.id
    assert now(design).tip == d.id


def test_two_who_save_on_the_same_revision(owner, design):
    a = save(owner, design, 0, "a")
    save(owner, design, a.id, "hers")
    with pytest.raises(revisions.Conflict, match="hers"):
        save(owner, design, a.id, "his")
    assert [r.sentence for r in revisions.path_to_tip(now(design))] == ["a", "hers"]
    with pytest.raises(revisions.Conflict):
        revisions.step(now(design), a.id, 1)
    assert Revision.select().where(Revision.design == design).count() == 2


def test_a_failed_save_leaves_nothing(owner, design):
    a = save(owner, design, 0, "a")
    lost = {"f" * 40: b"lost"}
    save(owner, design, a.id, "b")
    with pytest.raises(revisions.Conflict):
        save(owner, design, a.id, "c", **lost)
    assert Blob.get_or_none(Blob.address == "f" * 40) is None


def test_a_newer_database_is_refused_in_words(database):
    SchemaVersion.update(version=99).execute()
    database.close()
    try:
        with pytest.raises(RavineError, match=r"newer Ravine.*RAVINE_DATA"):
            schema.upgrade()
    finally:
        database.connect(reuse_if_open=True)
        SchemaVersion.update(version=len(schema.STEPS)).execute()
    database.close()
    assert schema.upgrade() == len(schema.STEPS)
    database.connect(reuse_if_open=True)


def test_a_killed_database_keeps_every_saved_revision(owner, design, database, database_server):
    base = 0
    for i in range(20):
        base = save(owner, design, base, f"edit {i}", **{f"{i:040d}": random.randbytes(1000)}).id
    database.close()
    os.kill(database_server.process.pid, signal.SIGKILL)
    database_server.process.wait()
    with pytest.raises(pymysql.MySQLError):
        database_server._knock()
    database_server.launch()
    for _ in range(50):
        try:
            database.connect(reuse_if_open=True)
            break
        except Exception:  # noqa: BLE001  whatever a starting server says
            time.sleep(0.1)
    assert [r.sentence for r in revisions.path_to_tip(now(design))] == [f"edit {i}" for i in range(20)]
    assert Snapshot.from_json(blobs.get(now(design) and revisions.head(now(design)).state_id).decode())
