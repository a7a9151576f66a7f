"""peewee models.  Every row has an owner; geometry, states and originals are blobs by content address."""

from __future__ import annotations

import datetime

from peewee import (
    BigIntegerField,
    BlobField,
    BooleanField,
    CharField,
    DatabaseProxy,
    DateTimeField,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)

database = DatabaseProxy()


def now() -> datetime.datetime:
    return datetime.datetime.now(datetime.UTC).replace(tzinfo=None)


class LongBlobField(BlobField):
    field_type = "LONGBLOB"


class LongTextField(TextField):
    field_type = "LONGTEXT"


class Row(Model):
    class Meta:
        database = database
        legacy_table_names = False


class SchemaVersion(Row):
    version = IntegerField()


class Account(Row):
    name = CharField(max_length=120, unique=True)
    created = DateTimeField(default=now)


class Blob(Row):
    """data: zstd, or its beginning; size: bytes before compression; pieces: how many more rows it goes on in."""

    address = CharField(max_length=40, primary_key=True)
    owner = ForeignKeyField(Account)
    size = BigIntegerField()
    data = LongBlobField()
    pieces = IntegerField(default=0)


class Piece(Row):
    """What comes of a blob after its first row.  number: from 1."""

    blob = ForeignKeyField(Blob, column_name="blob_address", object_id_name="blob_id", on_delete="CASCADE")
    number = IntegerField()
    data = LongBlobField()

    class Meta:
        indexes = ((("blob", "number"), True),)


class Design(Row):
    """A model.  head: the revision shown; tip: where stepping forward ends.  Both hold Revision ids; 0: none yet."""

    owner = ForeignKeyField(Account)
    name = CharField(max_length=120)
    head = IntegerField(default=0)
    tip = IntegerField(default=0)
    created = DateTimeField(default=now)
    updated = DateTimeField(default=now)
    deleted = DateTimeField(null=True)


class Revision(Row):
    """One state and how it came about.  parent: Revision id, 0 for the first; token: what the page names the edit by,
    so that one whose answer was lost is not done twice."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    number = IntegerField()
    parent = IntegerField(default=0)
    state = ForeignKeyField(Blob, column_name="state_address", object_id_name="state_id")
    edit = CharField(max_length=60)
    values = LongTextField(default="{}")
    sentence = TextField()
    facts = LongTextField(default="[]")
    warnings = LongTextField(default="[]")
    token = CharField(max_length=40, null=True)
    created = DateTimeField(default=now)

    class Meta:
        indexes = ((("design", "number"), True), (("design", "token"), True))


class Portrait(Row):
    """PNG for the card, of one revision."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, unique=True, on_delete="CASCADE")
    revision = IntegerField()
    data = LongBlobField()


class Original(Row):
    """An imported file as it came."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    name = CharField(max_length=255)
    blob = ForeignKeyField(Blob, column_name="blob_address", object_id_name="blob_id")
    created = DateTimeField(default=now)


class ViewState(Row):
    """What one person has hidden in one model: node ids as JSON."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    hidden = LongTextField(default="[]")

    class Meta:
        indexes = ((("owner", "design"), True),)


class Kept(Row):
    """What a person keeps of a model besides its states.  kind: view or pin; data: see service/kept.py."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    kind = CharField(max_length=12)
    name = CharField(max_length=120)
    data = LongTextField(default="{}")
    created = DateTimeField(default=now)


class Job(Row):
    """Long work that survives a restart.  state: queued, running, done, failed or cancelled; lease: until when its
    runner has it; past that another may take it up again."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    kind = CharField(max_length=40)
    params = LongTextField(default="{}")
    state = CharField(max_length=12, default="queued", index=True)
    fraction = FloatField(default=0.0)
    words = CharField(max_length=255, default="waiting")
    cancel = BooleanField(default=False)
    attempts = IntegerField(default=0)
    lease = DateTimeField(null=True)
    seen = BooleanField(default=False)
    created = DateTimeField(default=now)
    updated = DateTimeField(default=now)


class Order(Row):
    """What was ordered from the supplier.  key: under which it is sent, once; state: see service/orders.py; lines,
    answer: JSON, what was asked and what the supplier told."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    key = CharField(max_length=64)
    state = CharField(max_length=20)
    words = CharField(max_length=255, default="")
    lines = LongTextField()
    answer = LongTextField(default="{}")
    created = DateTimeField(default=now)
    updated = DateTimeField(default=now)

    class Meta:
        table_name = "part_order"
        indexes = ((("owner", "key"), True),)


class Result(Row):
    """What a long computation came to.  state: address of the state it is of; what: its name and values, digested."""

    design = ForeignKeyField(Design, on_delete="CASCADE")
    state = CharField(max_length=64)
    what = CharField(max_length=64)
    blob = ForeignKeyField(Blob)
    created = DateTimeField(default=now)

    class Meta:
        indexes = ((("design", "state", "what"), True),)


class ShareLink(Row):
    """An address under which one revision can be looked at.  digest: SHA-256 of its secret, which is told once and kept
    nowhere; what: JSON, what of the model goes along; opened: how often it was looked at; revoked: when it was
    ended."""

    owner = ForeignKeyField(Account)
    design = ForeignKeyField(Design, on_delete="CASCADE")
    revision = IntegerField()
    digest = CharField(max_length=64, unique=True)
    what = LongTextField(default="{}")
    until = DateTimeField()
    opened = IntegerField(default=0)
    revoked = DateTimeField(null=True)
    created = DateTimeField(default=now)


TABLES = [
    SchemaVersion, Account, Blob, Piece, Design, Revision, Portrait, Original, ViewState, Kept, Job, Order, Result,
    ShareLink,
]  # fmt: skip
