"""How a stored model changes: a field more reads as its default, a field less is taken out once."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from pydantic import BaseModel
from sqlalchemy import text

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.photos.continued import BrushedOver, Continued
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.bench import history
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.watch.folder import Watched
from oak_ledge.store import placements
from oak_ledge.store.database import open_database, reading, transaction
from oak_ledge.store.errors import DamagedError
from oak_ledge.store.kinds import AsJson
from oak_ledge.store.library import sizes
from tests.conftest import NOW
from tests.samples import facts, size

SCREEN = size("1200x1600px extend")
SAMPLES = [
    SCREEN,
    apply(SCREEN, (6000, 4000), suggest(SCREEN, (6000, 4000)), Ground(kind="ground", fill="blur")),
    Keeps(zones=(Zone(left=1, top=2, width=30, height=40),)),
    facts(),
]
# What rows of the first version hold; every field since then came later, so it has a default.
FIRST: dict[object, set[str]] = {
    Size: {"shape", "turn"},
    Placement: {"cx", "cy", "width"},
    Keeps: set(),
    PhotoFacts: {
        "format",
        "width",
        "height",
        "orientation",
        "channels",
        "alpha",
        "bits",
        "ppi",
        "profile",
        "bytes",
    },
}


@pytest.mark.parametrize("value", SAMPLES, ids=lambda value: type(value).__name__)
def test_a_field_more_reads_as_its_default_in_rows_that_were_written_before(value):
    model: type[BaseModel] = type(value)
    column = AsJson(model)
    for name, field in model.model_fields.items():
        older = {
            key: part for key, part in json.loads(value.model_dump_json()).items() if key != name
        }
        if field.is_required():
            assert name in FIRST[model]
            with pytest.raises(DamagedError, match=name):
                column.process_result_value(json.dumps(older), None)
        else:
            read = column.process_result_value(json.dumps(older), None)
            assert getattr(read, name) == field.get_default(call_default_factory=True)


def test_a_field_less_is_refused_by_name_until_a_migration_takes_it_out(workspace):
    with transaction(workspace.sessions) as session:
        saved = sizes.add(session, SCREEN.model_copy(update={"name": "Stall print"}))
        gone = "UPDATE size SET size = json_set(size, '$.halo', 3) WHERE id = :id"
        session.execute(text(gone), {"id": saved.id})
    with reading(workspace.sessions) as session, pytest.raises(DamagedError, match="halo"):
        sizes.find(session, saved.id)
    with transaction(workspace.sessions) as session:  # as a migration does
        session.execute(text("UPDATE size SET size = json_remove(size, '$.halo')"))
    with reading(workspace.sessions) as session:
        assert sizes.find(session, saved.id) == saved


GONE = {
    "desk": "name TEXT PRIMARY KEY, fault TEXT, hung BOOLEAN",
    "receipt": "id INTEGER PRIMARY KEY, desk TEXT, delivery_file_id INTEGER, accepted BOOLEAN, "
    "words TEXT, received DATETIME",
}


def test_how_a_crop_lay_before_it_was_levelled_keeps_its_place_under_its_new_name(
    placed, workspace, tmp_path
):
    """A field that got another name is carried over by a migration, in every column that holds it."""
    _, number = placed("4x5in@100")
    history.keep(workspace, number, Angle(kind="angle", angle=4.0), NOW)
    levelled = load(workspace, number).placement
    assert levelled.before_levelling is not None
    workspace.sessions.close()
    with closing(sqlite3.connect(tmp_path / "data" / "oak-ledge.db")) as old, old:
        for table in ("placement", "placement_step"):  # as the version before wrote them
            old.execute(
                f"UPDATE {table} SET placement = replace(placement, 'before_levelling', 'upright')"
            )
        for table in ("mark", "mark_picture", "sending", "receiver"):  # which came later still
            old.execute(f"DROP TABLE {table}")
        for table, column in (
            ("photo", "faces"),
            ("placement_step", "faced"),
            ("standing_order", "receiver_id"),
            ("delivery", "send_to"),
            ("placement", "word"),
        ):
            old.execute(f"ALTER TABLE {table} DROP COLUMN {column}")
        for table in ("desk", "receipt"):  # which went
            old.execute(f"CREATE TABLE {table} ({GONE[table]})")
        old.execute("UPDATE alembic_version SET version_num = '0015'")
    sessions = open_database(tmp_path / "data" / "oak-ledge.db")
    with transaction(sessions) as session:
        now = placements.find(session, number)
        assert now is not None
        assert now.placement == levelled
        assert placements.walk(session, number, -1, NOW).placement.angle == 0
    sessions.close()


@pytest.mark.parametrize(
    ("text", "digest"),
    [
        ("8x10in@300", "e9a528d882cbab913f00882f9ffe9213ece4cb9ac41992e482d2294971c92b13"),
    ],
)
def test_what_a_watch_made_before_is_known_by_what_was_asked_then(text, digest):
    """The digest is of version 0.8: a field that came later and says nothing is left out."""
    asked = Watched(
        folder=Path("/a"), out=Path("/b"), sizes=[], way=LyingOptions(), limits=Limits()
    )
    assert asked.asked(size(text)) == digest


@pytest.mark.parametrize(
    "value",
    [
        size("8x10in@300"),
        size("5x5in@300 outline circle"),
        size("1080x1350px panels 3"),
        size("20x30cm@200 panels 2x2 overlap 10mm"),
        size("30x40cm@240 lip 5mm mat 40x50cm window 28x38cm"),
        Continued(box=(-1, 0, 9, 9), over=(BrushedOver(strokes=(Stroke(points=((1, 1),), radius=3),)),)),
    ],
    ids=str,
)  # fmt: skip
def test_a_field_that_came_later_and_says_nothing_changes_no_content(value):
    """What was made is told by its JSON: were it another, all of it would be made again."""
    written = value.model_dump_json()
    later = ("border", "fills", "gap", 'points":null', 'round":false', "side_sources")
    assert [name for name in later if name in written] == []
    assert written.count("take_from") == (1 if isinstance(value, Continued) else 0)
    assert type(value).model_validate_json(written) == value
