import os
import random
import signal
import time

import pymysql
import pytest
import zstandard

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.store import blobs, revisions, schema
from ravine.store.tables import Account, Blob, Design, Revision, SchemaVersion

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
    with pytest.raises((RavineError, zstandard.ZstdError), match=r"damaged|zstd|decompress"):
        blobs.get(address)
    with pytest.raises(RavineError, match="missing"):
        blobs.get("0" * 40)


def test_a_blob_of_100_megabytes_goes_through(owner):
    data = random.randbytes(100 << 20)
    assert blobs.get(blobs.put_one(owner, data)) == data


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
