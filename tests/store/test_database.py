from __future__ import annotations

import json
import sqlite3
import threading
from contextlib import closing

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from hypothesis import given
from sqlalchemy import exc as sql, text

from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.workspace import recover
from oak_ledge.store import (
    database,
    folders,
    jobs,
    photos,
    placements,
    standing_orders,
    tables,
)
from oak_ledge.store.database import connect, migrate, open_database, reading, transaction
from oak_ledge.store.errors import StoreError
from oak_ledge.store.kinds import AsJson
from oak_ledge.store.library import sizes
from oak_ledge.store.receivers import receivers, sendings
from oak_ledge.store.work import deliveries
from tests import samples, strategies
from tests.conftest import NOW, open_at
from tests.samples import size


def test_the_migrations_make_the_tables_as_they_stand(tmp_path):
    engine = connect(tmp_path / "new.db")
    migrate(engine)
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": False})
        assert compare_metadata(context, tables.PhotoRow.metadata) == []
    engine.dispose()


def test_a_killed_migration_leaves_nothing_behind(tmp_path):
    path = tmp_path / "old.db"
    with sqlite3.connect(path) as old:
        old.execute("CREATE TABLE placement (id INTEGER)")  # stands in the migration's way
    old.close()
    engine = connect(path)
    with pytest.raises(sql.OperationalError, match="already exists"):
        migrate(engine)
    with engine.connect() as connection:
        names = connection.execute(text("SELECT name FROM sqlite_master WHERE type='table'"))
        assert [name for (name,) in names] == ["placement"]
    engine.dispose()


def test_a_failing_request_keeps_nothing(tmp_path):
    sessions = open_database(tmp_path / "a.db")
    with pytest.raises(RuntimeError, match="half way"), transaction(sessions) as session:  # noqa: PT012
        sizes.add(session, size("8x10in@300"))
        msg = "half way"
        raise RuntimeError(msg)
    with transaction(sessions) as session:
        assert sizes.every(session) == []
    sessions.close()


def test_a_placement_of_nothing_is_refused(tmp_path):
    sessions = open_database(tmp_path / "a.db")
    with pytest.raises(sql.IntegrityError), transaction(sessions) as session:
        placements.add_placements(session, 1, [(99, 99, Placement(cx=1, cy=1, width=1))])
    sessions.close()


@given(strategies.sizes)
def test_a_size_rests_exactly(asked):
    kind = AsJson(Size)
    assert kind.process_result_value(kind.process_bind_param(asked, None), None) == asked


def test_two_programs_may_open_a_new_folder_at_once(tmp_path):
    found = []
    opening = [
        threading.Thread(target=lambda: found.append(open_database(tmp_path / "same.db")))
        for _ in range(4)
    ]
    for thread in opening:
        thread.start()
    for thread in opening:
        thread.join()
    assert len(found) == 4
    with transaction(found[0]) as session:
        jobs.add(session, "one", NOW)
    with transaction(found[3]) as session:
        assert [job.name for job in jobs.every(session)] == ["one"]
    for sessions in found:
        sessions.close()


def test_no_file_is_ever_written_over_also_by_many_at_once(tmp_path):
    written = []

    def write(number):
        path = folders.write_new(tmp_path, "quay", ".jpg", [f"file {number}".encode()])
        written.append((path, number))

    at_once = [threading.Thread(target=write, args=(number,)) for number in range(12)]
    for thread in at_once:
        thread.start()
    for thread in at_once:
        thread.join()
    assert len({path for path, _ in written}) == 12
    assert all(path.read_text() == f"file {number}" for path, number in written)
    assert list(tmp_path.glob(".*")) == []


def test_a_folder_that_knows_no_links_is_written_to_all_the_same(tmp_path, monkeypatch):
    def refuse(self, target):
        raise PermissionError

    monkeypatch.setattr("pathlib.Path.hardlink_to", refuse)
    first = folders.write_new(tmp_path, "quay", ".jpg", [b"one"])
    second = folders.write_new(tmp_path, "quay", ".jpg", [b"two"])
    assert (first.read_bytes(), second.read_bytes()) == (b"one", b"two")
    assert (first.name, second.name) == ("quay.jpg", "quay-2.jpg")


def test_only_half_written_files_are_swept(tmp_path):
    (tmp_path / "deep").mkdir()
    (tmp_path / "deep" / ".quay-1.part").write_bytes(b"half")
    whole = tmp_path / "deep" / "quay.jpg"
    whole.write_bytes(b"whole")
    folders.sweep_parts(tmp_path)
    assert list((tmp_path / "deep").iterdir()) == [whole]


def test_an_older_database_is_set_aside_before_its_upgrade_and_a_newer_one_refused(
    tmp_path, monkeypatch
):
    path = tmp_path / "old.db"
    engine = connect(path)
    migrate(engine, "0006")
    with engine.begin() as old:
        old.exec_driver_sql(
            "INSERT INTO job (name, added, touched) VALUES ('Quay', '2026-11-24', '2026-11-24')"
        )
    engine.dispose()
    before = path.read_bytes()

    def full(*arguments):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(database, "place_new", full)
        with pytest.raises(StoreError, match="The disk is full"):
            open_database(path)
    assert path.read_bytes() == before, "not upgraded without a copy"
    open_database(path).close()
    open_database(path).close()  # it is up to date: no second copy
    assert sorted(one.name for one in tmp_path.glob("*.db")) == ["old-0006.db", "old.db"]
    assert list(tmp_path.glob("*.part")) == []
    with closing(sqlite3.connect(tmp_path / "old-0006.db")) as copy:
        assert copy.execute("SELECT version_num FROM alembic_version").fetchall() == [("0006",)]
        assert copy.execute("SELECT name FROM job").fetchall() == [("Quay",)]
    with closing(sqlite3.connect(path)) as newer, newer:
        newer.execute("UPDATE alembic_version SET version_num = '9999'")
    before = path.read_bytes()
    with pytest.raises(StoreError, match="newer version of Oak Ledge"):
        open_database(path)
    assert path.read_bytes() == before


def test_an_older_data_folder_is_brought_up_to_date_with_its_work_as_it_was(tmp_path):
    engine = connect(tmp_path / "old.db")
    migrate(engine, "0006")
    upright = {"cx": 600, "cy": 400, "width": 500}
    squared = upright | {"corners": [[100, 100], [900, 120], [910, 700], [90, 690]]}
    facts = samples.facts().model_dump() | {"ppi": 0.0}  # a label some files carried in
    with engine.begin() as old:

        def insert(table, **row):
            answer = {
                name: json.dumps(one) if isinstance(one, dict) else one for name, one in row.items()
            }
            columns, marks = ", ".join(f'"{name}"' for name in answer), ", ".join("?" * len(answer))
            old.exec_driver_sql(
                f"INSERT INTO {table} ({columns}) VALUES ({marks})", tuple(answer.values())
            )

        when, asked = "2026-11-24 12:00:00", size("4x5in@100").model_dump(mode="json")
        insert("photo", id=1, hash="abc", name="quay.jpg", facts=facts, added=when)
        insert("job", id=1, name="Quay", added=when, touched=when)
        insert("job_photo", id=1, job_id=1, photo_id=1)
        insert("job_size", id=1, job_id=1, size=asked)
        insert(
            "placement",
            id=1,
            job_id=1,
            job_photo_id=1,
            job_size_id=1,
            placement=squared,
            state="made",
            step=1,
        )
        insert("placement_step", placement_id=1, step=0, what="suggested", placement=upright)
        insert("placement_step", placement_id=1, step=1, what="squared up", placement=squared)
        insert("delivery", id=1, job_id=1, state="done", added=when)
        proof = {"width": 500, "height": 400, "ppi": 100.0, "format": "jpeg"}
        insert(
            "delivery_file",
            id=1,
            delivery_id=1,
            placement_id=1,
            photo_id=1,
            name="quay.jpg",
            asked=proof,
            state="made",
            measured=proof | {"bytes": 90, "profile": None, "bits": 8, "sha256": "ab" * 32},
        )
        insert("desk", name="lab", fault="breaks off", hung=False)
        said = {"desk": "lab", "delivery_file_id": 1, "received": when}
        insert("receipt", id=1, accepted=False, words="the line broke off", **said)
        insert("receipt", id=2, accepted=True, words="accepted, ticket lab-1-1", **said)
    engine.dispose()
    sessions = open_database(tmp_path / "old.db")
    with reading(sessions) as session:
        placed = placements.find(session, 1)
        assert placed is not None
        # what the corners were made to fit stays fitted; nothing else is
        assert (placed.placement.fit_corners, placed.photo.facts.ppi) == (True, None)
        found = deliveries.find(session, 1)
        assert found is not None
        (file,) = found.files
        assert (file.size, file.placement, file.photo_hash) == (
            placed.size,
            placed.placement,
            "abc",
        )
    with transaction(sessions) as session:
        assert not placements.walk(session, 1, -1, NOW).placement.fit_corners
    with reading(
        sessions
    ) as session:  # what the three there were received stays, at their stand-ins
        lab, stall, sign = receivers.every(session)
        assert [kept.rehearsing for kept in (lab, stall, sign)] == [True] * 3
        assert (lab.receiver.name, lab.fault, sign.fault) == (
            "Harbour print lab",
            "break-off",
            None,
        )
        (sent,) = sendings.of_files(session, [("quay.jpg", "ab" * 32)])
        assert (sent.receiver_id, sent.state, sent.receipt, sent.path) == (
            lab.id,
            "accepted",
            "accepted, ticket lab-1-1",
            "deliveries/1/quay.jpg",
        )
    sessions.close()


def test_retouches_of_a_photo_become_those_of_each_job_that_held_it(tmp_path):
    engine = connect(tmp_path / "old.db")
    migrate(engine, "0013")
    dot = {"kind": "paint_over", "strokes": [{"points": [[9, 9]], "radius": 4}], "number": 1}
    kept = json.dumps({"retouches": [dot], "version": 3})
    with engine.begin() as old:
        for photo in (1, 2):  # one in two jobs, one in none
            row = (
                photo,
                f"hash{photo}",
                "quay.jpg",
                samples.facts().model_dump_json(),
                kept,
                "2026-11-24",
            )
            old.exec_driver_sql(
                "INSERT INTO photo (id, hash, name, facts, retouches, added) VALUES (?, ?, ?, ?, ?, ?)",
                row,
            )
        for job in (1, 2):
            old.exec_driver_sql(
                "INSERT INTO job (id, name, added, touched) VALUES (?, 'Quay', '2026-11-24', '2026-11-24')",
                (job,),
            )
            old.exec_driver_sql("INSERT INTO job_photo (job_id, photo_id) VALUES (?, 1)", (job,))
        order = ("/quay", "/out", '{"sizes": []}', 1, "2026-11-24")
        old.exec_driver_sql(
            'INSERT INTO standing_order (folder, out, sizes, "on", added) VALUES (?, ?, ?, ?, ?)',
            order,
        )
    engine.dispose()
    sessions = open_database(tmp_path / "old.db")
    with reading(sessions) as session:
        held = photos.jobs_with(session, 1)
        assert [(one.job_id, one.photo.retouches.version) for one in held] == [(1, 3), (2, 3)]
        in_none = [photos.find(session, photo) for photo in (1, 2)]
        assert [photo and photo.retouches.version for photo in in_none] == [0, 3]
        assert [order.folder for order in standing_orders.every(session)] == ["/quay"]
    sessions.close()


def test_a_database_that_is_broken_in_its_middle_is_told_before_it_is_written_to(tmp_path):
    workspace = open_at(tmp_path / "data")
    recover(workspace)
    workspace.sessions.close()
    path = tmp_path / "data" / "oak-ledge.db"
    with closing(sqlite3.connect(path)) as whole:
        (root,) = whole.execute("SELECT rootpage FROM sqlite_master WHERE name = 'size'").fetchone()
        (page,) = whole.execute("PRAGMA page_size").fetchone()
    data = bytearray(path.read_bytes())
    data[(root - 1) * page : (root - 1) * page + 200] = b"\xff" * 200
    path.write_bytes(data)
    broken = open_at(tmp_path / "data")
    with pytest.raises(StoreError, match=r"damaged inside: .*Put a backup back"):
        recover(broken)
    broken.sessions.close()
    assert path.read_bytes() == bytes(data)


def test_who_only_looks_can_not_write(tmp_path):
    sessions = open_database(tmp_path / "a.db")
    with pytest.raises(StoreError, match="readonly"), reading(sessions) as session:
        sizes.add(session, size("8x10in@300"))
    sessions.close()
