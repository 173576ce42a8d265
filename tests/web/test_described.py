"""The described interface is true: every call drawn from it is answered as it says, and never by a 500.

Calls are drawn by schemathesis from `/api/openapi.json`, as they should be and as they should not; a
fixed seed, so that `make test` asks the same each time. `benchmarks/fuzz.py` asks thousands.
"""

from __future__ import annotations

from contextlib import suppress
from io import BytesIO

import pytest
from hypothesis import HealthCheck, Phase, given, seed, settings, strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode, openapi
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from oak_ledge.flows.delivery import orders
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.web.app import make_app
from tests import samples
from tests.conftest import NOW, open_at

CALLS = 2  # of each operation in each mode
CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
]
HAS_IDS = ("photo_id", "size_id", "job_id", "placement_id", "delivery_id", "file_id")


def furnished(folder):
    """A workspace with one of everything."""
    workspace = open_at(folder)
    sizes.add_starters(workspace)
    path = samples.photo(folder / "quay.jpg", 300, 200, dpi=(300, 300))
    shown = photos.take_in(workspace, [Incoming("a.jpg", BytesIO(path.read_bytes()))], NOW)
    job_id = jobs.start(workspace, "Quay", [shown.photos[0].id], [1], ["4x5in@60", "100%"], NOW)
    orders.deliver(workspace, job_id, None, NOW)
    return workspace


DRAWN = settings(
    deadline=None,
    database=None,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)


def of_a_known_thing(case, draw):
    """Let most calls name something that is there."""
    for name in HAS_IDS:
        if name in (case.path_parameters or {}) and draw(st.integers(0, 3)):
            case.path_parameters[name] = 1
    return case


@pytest.fixture(scope="module")
def schema(tmp_path_factory):
    workspace = furnished(tmp_path_factory.mktemp("described"))
    yield openapi.from_asgi("/api/openapi.json", make_app(workspace, ["testserver"]))
    workspace.sessions.close()


@pytest.mark.thorough
@pytest.mark.parametrize("mode", list(GenerationMode))
def test_every_call_is_answered_as_described(schema, mode):
    asked = 0
    for found in schema.get_all_operations():
        operation = found.ok()

        @seed(2026)
        @settings(DRAWN, max_examples=CALLS)
        @given(operation.as_strategy(generation_mode=mode), st.data())
        def ask(case, data):
            nonlocal asked
            asked += 1
            of_a_known_thing(case, data.draw)
            case.call_and_validate(checks=CHECKS)

        with suppress(Unsatisfiable):  # of some there is no wrong way to ask
            ask()
    assert asked > 100


NUMBERS = [
    "1e308",
    "1e-308",
    "1e400",
    "NaN",
    "-1e309",
    "9" * 5000,
    "null",
    "[]",
    "{}",
    '"9e99999999"',
    "true",
]
IDS = [2**63, 2**64, -(2**70), "9" * 5000, "1e3", "null", "%00", "0x10"]


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("post", "/api/placements/{}/gesture", '{{"gesture": {{"kind": "move", "dx": {n}, "dy": 0}}}}'),
        ("post", "/api/placements/{}/gesture", '{{"gesture": {{"kind": "scale", "factor": {n}}}}}'),
        ("post", "/api/placements/{}/gesture", '{{"gesture": {{"kind": "type", "width": {n}}}}}'),
        ("put", "/api/placements/{}", '{{"cx": {n}, "cy": 1, "width": 10}}'),
        ("put", "/api/placements/{}", '{{"cx": 1, "cy": 1, "width": {n}}}'),
        ("post", "/api/sizes/read", '{{"text": "8x10in@300", "greatest_enlargement": {n}}}'),
        ("post", "/api/sizes", '{{"text": "100%", "sharpen": {n}}}'),
        ("put", "/api/photos/1/keep-zones", '{{"zones": [{{"left": {n}, "top": 0, "width": 9, "height": 9}}]}}'),
        ("post", "/api/jobs", '{{"photo_ids": [{n}], "size_texts": ["100%"]}}'),
        ("post", "/api/jobs/1/batch", '{{"placement_ids": [{n}], "doing": {{"do": "turn"}}}}'),
    ],
)  # fmt: skip
def test_a_number_that_can_not_be_is_refused_in_words(client, placed, method, path, body):
    _, at = placed()
    for number in NUMBERS:
        answer = client.request(
            method,
            path.format(at),
            content=body.format(n=number),
            headers={"content-type": "application/json"},
        )
        assert answer.status_code in (200, 201, 400, 404, 422), number
        if answer.status_code >= 400:
            assert len(answer.json()["detail"]) < 2000
        assert client.get(f"/api/placements/{at}").status_code == 200


@pytest.mark.parametrize("path", ["photos", "sizes", "jobs", "placements", "deliveries"])
def test_an_id_that_can_not_be_is_refused_in_words(client, path):
    for one in IDS:
        answer = client.get(f"/api/{path}/{one}")
        assert answer.status_code in (404, 422), one
        assert answer.json()["detail"]


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ("[" * 100_000, 400),
        ('{"text": ' + "[" * 5000 + "]" * 5000 + "}", 400),
        (b'{"text": "\xff\xfe"}', 400),
        ('{"text": "\\ud800", "name": "\\udfff"}', 422),
        ('{"name": "\\ud800", "text": "8x10in@300"}', 422),
        ('{"text": "' + "8" * 1_000_000 + '"}', 422),
        ("", 422),
        ("null", 422),
        ('{"text": ' + "9" * 4999 + "}", 400),
    ],
)
def test_a_body_that_can_not_be_is_refused_in_words(client, body, status):
    headers = {"content-type": "application/json"}
    answer = client.post("/api/sizes", content=body, headers=headers)
    assert answer.status_code in (status, 422)
    assert answer.json()["detail"]
    assert client.get("/api/sizes").status_code == 200


def test_what_was_read_of_a_size_is_changed_and_sent_back_as_it_is(client):
    kept = client.post(
        "/api/sizes", json={"text": "8x10in@300", "name": "Wall", "group": "print"}
    ).json()
    path = f"/api/sizes/{kept['id']}"
    shown = client.get(path).json()
    assert client.put(path, json=shown).json()["text"] == "8x10in@300"
    shown["size"]["file"]["quality"] = 80
    shown = client.put(path, json=shown).json()
    assert shown["size"]["file"]["quality"] == 80
    shown = client.put(path, json=shown | {"name": "Hall"}).json()
    assert (shown["name"], shown["size"]["name"]) == ("Hall", "Hall")
    shape = shown["size"]["shape"] | {"width": "5", "height": "7"}
    shown["size"]["shape"] = shape
    shown = client.put(path, json=shown | {"text": "9x9in@300"}).json()
    assert shown["shape_text"] == "5x7in@300"  # the size wins
    old = client.put(path, json=shown | {"version": 1})
    assert (old.status_code, old.json()["newer"]) == (409, shown)
    assert client.put(path, json=shown | {"colour": "red"}).status_code == 422


def test_a_library_is_never_bricked_by_a_name(client):
    name = "n" * 80
    one = client.post("/api/sizes", json={"text": "8x10in@300", "name": name}).json()
    two = client.post("/api/sizes", json={"text": "8x10in@300", "name": name})
    assert two.json()["name"] == "n" * 78 + " 2"
    for twin in ("false", "true"):
        made = client.post(f"/api/sizes/{one['id']}/copy?twin={twin}")
        assert (made.status_code, len(made.json()["name"])) == (201, 80)
    assert client.get("/api/sizes").status_code == 200


def test_one_bad_row_never_hides_the_others(client, workspace):
    count = len(client.get("/api/sizes").json())
    with workspace.sessions.writing.begin() as session:
        session.connection().exec_driver_sql("UPDATE size SET size = '{\"shape\": 9}' WHERE id = 3")
    assert len(client.get("/api/sizes").json()) == count - 1
    bad = client.get("/api/sizes/3")
    assert (bad.status_code, "can't be read" in bad.json()["detail"]) == (503, True)
    assert client.get("/sizes").status_code == 200
    assert client.get("/").status_code == 200


def test_a_gesture_names_the_step_it_saw(client, placed):
    _, at = placed()
    path = f"/api/placements/{at}"
    tighten = {"gesture": {"kind": "scale", "factor": 0.9}, "keep": True, "step": 0}
    first = client.post(f"{path}/gesture", json=tighten)
    late = client.post(f"{path}/gesture", json=tighten)
    assert (first.status_code, late.status_code) == (200, 409)
    assert late.json()["newer"] == first.json()
    assert "changed meanwhile" in late.json()["detail"]
    assert client.post(f"{path}/undo", json={"step": 0}).status_code == 409
    assert client.post(f"{path}/undo", json={"step": first.json()["step"]}).json()["step"] == 0
    assert client.put(f"{path}?step=99", json=first.json()["lying"]).status_code == 409
    assert client.put(path, json=first.json()["lying"]).json()["crop"] == first.json()["crop"]
