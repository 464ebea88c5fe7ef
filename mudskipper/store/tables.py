"""The tables, and the migrations that make them; each migration runs once, in order, in one transaction."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime
from pathlib import Path

from peewee import (
    AutoField,
    BlobField,
    BooleanField,
    DatabaseProxy,
    DateTimeField,
    IntegerField,
    Model,
    SqliteDatabase,
    TextField,
)

PATIENCE = 10.0
"""Seconds for which another program that holds the database is waited for."""
_current: ContextVar[SqliteDatabase | None] = ContextVar("database", default=None)


class CurrentDatabase(DatabaseProxy):
    """The database of the store whose session is open here: one process may have several open."""

    @property
    def obj(self) -> SqliteDatabase | None:
        """What it stands for."""
        return _current.get()

    @obj.setter
    def obj(self, value: object) -> None:
        pass


database = CurrentDatabase()


@contextmanager
def using(one: SqliteDatabase) -> Iterator[None]:
    """A block in which the tables are those of one database."""
    token = _current.set(one)
    try:
        yield
    finally:
        _current.reset(token)


MIGRATIONS: list[list[str]] = [
    [
        "CREATE TABLE project (id TEXT PRIMARY KEY, name TEXT NOT NULL, made_at TEXT NOT NULL,"
        " removed INTEGER NOT NULL)",
        "CREATE TABLE scene (id TEXT PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id), name TEXT NOT NULL,"
        " head INTEGER NOT NULL, made_at TEXT NOT NULL, removed INTEGER NOT NULL)",
        "CREATE TABLE revision (id INTEGER PRIMARY KEY AUTOINCREMENT, scene_id TEXT NOT NULL REFERENCES scene (id),"
        " parent INTEGER, words TEXT NOT NULL, edits TEXT NOT NULL, document BLOB NOT NULL, made_at TEXT NOT NULL)",
        "CREATE INDEX revision_parent ON revision (scene_id, parent)",
        "CREATE TABLE picture (id TEXT PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id),"
        " name TEXT NOT NULL, digest TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,"
        " made_at TEXT NOT NULL)",
        "CREATE TABLE job (id TEXT PRIMARY KEY, scene_id TEXT NOT NULL REFERENCES scene (id),"
        " revision INTEGER NOT NULL, kind TEXT NOT NULL, first INTEGER NOT NULL, stop INTEGER NOT NULL,"
        " state TEXT NOT NULL, done INTEGER NOT NULL, failure TEXT NOT NULL, file TEXT NOT NULL,"
        " made_at TEXT NOT NULL)",
    ],
    [
        "ALTER TABLE revision ADD COLUMN token TEXT",
        "CREATE INDEX revision_token ON revision (token)",
    ],
    [
        "CREATE TABLE preset (id INTEGER PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id),"
        " name TEXT NOT NULL, ease TEXT NOT NULL, UNIQUE (project_id, name))",
    ],
    [
        "ALTER TABLE revision ADD COLUMN run TEXT",
    ],
    [
        # Documents by themselves, so that a walk through the history reads none of them.
        "CREATE TABLE document (revision INTEGER PRIMARY KEY, body BLOB NOT NULL)",
        "INSERT INTO document (revision, body) SELECT id, document FROM revision",
        "ALTER TABLE revision DROP COLUMN document",
    ],
    [
        "ALTER TABLE document ADD COLUMN form TEXT NOT NULL DEFAULT ''",
    ],
    [
        "CREATE TABLE clip (id TEXT PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id),"
        " name TEXT NOT NULL, digest TEXT NOT NULL, suffix TEXT NOT NULL, facts TEXT NOT NULL, made_at TEXT NOT NULL)",
    ],
    [
        # The scenes that lie in the one that is exported, as they stood.
        "ALTER TABLE job ADD COLUMN inner BLOB NOT NULL DEFAULT x''",
    ],
    [
        "ALTER TABLE picture ADD COLUMN removed INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE clip ADD COLUMN removed INTEGER NOT NULL DEFAULT 0",
    ],
    [
        # What a file could not keep of its scene, in words.
        "ALTER TABLE job ADD COLUMN notes TEXT NOT NULL DEFAULT ''",
    ],
    [
        # What the file is called where it is taken.
        "ALTER TABLE job ADD COLUMN name TEXT NOT NULL DEFAULT ''",
    ],
    [
        # Fonts of a project's own, a row a face.
        "CREATE TABLE font (id TEXT PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id),"
        " name TEXT NOT NULL, digest TEXT NOT NULL, facts TEXT NOT NULL, made_at TEXT NOT NULL,"
        " removed INTEGER NOT NULL DEFAULT 0)",
    ],
    [
        # Presets of any kind, and no longer of easings alone.
        "ALTER TABLE preset RENAME TO easing_preset",
        "CREATE TABLE preset (id INTEGER PRIMARY KEY, project_id TEXT NOT NULL REFERENCES project (id),"
        " kind TEXT NOT NULL, name TEXT NOT NULL, value TEXT NOT NULL, UNIQUE (project_id, kind, name))",
        "INSERT INTO preset (project_id, kind, name, value) SELECT project_id, 'easing', name, ease FROM easing_preset",
        "DROP TABLE easing_preset",
    ],
    [
        # What is chosen of a file besides its frames, as JSON, and how many frames it has.
        "ALTER TABLE job ADD COLUMN choices TEXT NOT NULL DEFAULT '{}'",
        "ALTER TABLE job ADD COLUMN total INTEGER NOT NULL DEFAULT 0",
        "UPDATE job SET total = stop - first",
    ],
    [
        "ALTER TABLE job ADD COLUMN document BLOB NOT NULL DEFAULT ''",
        "ALTER TABLE job ADD COLUMN batch TEXT NOT NULL DEFAULT ''",
        "ALTER TABLE job ADD COLUMN row TEXT NOT NULL DEFAULT ''",
    ],
]


def now() -> datetime:
    """The time now, in UTC."""
    return datetime.now(UTC)


class Table(Model):
    """A table of the database whose session is open."""

    class Meta:
        database = database
        legacy_table_names = False


class Project(Table):
    """A file of work."""

    id = TextField(primary_key=True)
    name = TextField()
    made_at = DateTimeField(default=now)
    removed = BooleanField(default=False)


class SceneRow(Table):
    """A scene and the revision that is its present state."""

    id = TextField(primary_key=True)
    project_id = TextField()
    name = TextField()
    head = IntegerField(default=0)
    made_at = DateTimeField(default=now)
    removed = BooleanField(default=False)

    class Meta:
        table_name = "scene"


class Revision(Table):
    """One state of a scene: the edits that led to it from its parent, in words and as data."""

    id = AutoField()
    scene_id = TextField()
    parent = IntegerField(null=True)
    words = TextField()
    edits = TextField()
    token = TextField(null=True)
    run = TextField(null=True)
    made_at = DateTimeField(default=now)


class Document(Table):
    """The document of a revision, as compressed JSON; `form` tells by which schema it was written."""

    revision = IntegerField(primary_key=True)
    body = BlobField()
    form = TextField(default="")


class PictureRow(Table):
    """A picture of a project; its file is named by its digest. One that was `removed` is not listed, and stays for the
    history."""

    id = TextField(primary_key=True)
    project_id = TextField()
    name = TextField()
    digest = TextField()
    width = IntegerField()
    height = IntegerField()
    made_at = DateTimeField(default=now)
    removed = BooleanField(default=False)

    class Meta:
        table_name = "picture"


class ClipRow(Table):
    """A clip of a project; its files are named by its digest, and `facts` is what its probe found, as JSON. One
    that was `removed` is not listed, and stays for the history."""

    id = TextField(primary_key=True)
    project_id = TextField()
    name = TextField()
    digest = TextField()
    suffix = TextField()
    facts = TextField()
    made_at = DateTimeField(default=now)
    removed = BooleanField(default=False)

    class Meta:
        table_name = "clip"


class FontRow(Table):
    """A face of a font that a project has of its own; its file is named by its digest, and `facts` is what was read of
    it, as JSON. One that was `removed` is not used, and stays for the history."""

    id = TextField(primary_key=True)
    project_id = TextField()
    name = TextField()
    digest = TextField()
    facts = TextField()
    made_at = DateTimeField(default=now)
    removed = BooleanField(default=False)

    class Meta:
        table_name = "font"


class PresetRow(Table):
    """What a project keeps of a kind, as JSON, under a name."""

    project_id = TextField()
    kind = TextField()
    name = TextField()
    value = TextField()

    class Meta:
        table_name = "preset"


class Job(Table):
    """An export: frames `first` to `stop` (not included) of one revision; `inner` are the documents of the scenes in it
    as they stood, as compressed JSON; `notes` is what the file could not keep, in words, `name` what it is called;
    `choices` is what was chosen besides, as JSON, and `total` how many frames the file has."""

    id = TextField(primary_key=True)
    scene_id = TextField()
    revision = IntegerField()
    kind = TextField()
    first = IntegerField()
    stop = IntegerField()
    state = TextField(default="queued")
    done = IntegerField(default=0)
    failure = TextField(default="")
    file = TextField(default="")
    notes = TextField(default="")
    name = TextField(default="")
    inner = BlobField(default=b"")
    choices = TextField(default="{}")
    total = IntegerField(default=0)
    document = BlobField(default=b"")
    """Of a title of a table, the scene with that row in its slots, as compressed JSON; that of the revision else."""
    batch = TextField(default="")
    """What the titles that were started together have in common."""
    row = TextField(default="")
    made_at = DateTimeField(default=now)


def open_database(path: Path) -> SqliteDatabase:
    """Open a database file, made if it is not there, and bring it to the newest version."""
    made = SqliteDatabase(
        str(path), pragmas={"journal_mode": "wal", "synchronous": "full", "foreign_keys": 1}, timeout=PATIENCE
    )
    with using(made), made.connection_context():
        migrate()
    return made


def migrate() -> None:
    """Run the migrations that this database has not seen."""
    (version,) = database.execute_sql("PRAGMA user_version").fetchone()
    if version > len(MIGRATIONS):
        raise SystemExit(
            f"The data folder was written by a later Mudskipper (version {version} of its tables; "
            f"this one knows {len(MIGRATIONS)}). Start the later one, or name another folder with --data."
        )
    for number in range(version, len(MIGRATIONS)):
        with database.atomic("IMMEDIATE"):
            for statement in MIGRATIONS[number]:
                database.execute_sql(statement)
            database.execute_sql(f"PRAGMA user_version = {number + 1}")
