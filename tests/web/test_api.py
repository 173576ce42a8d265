from __future__ import annotations

from io import BytesIO

import pytest
from PIL import Image

from oak_ledge.flows.delivery.filling import fill_next
from tests import samples
from tests.conftest import NOW


def upload(client, *files):
    answer = client.post("/api/photos", files=[("files", file) for file in files])
    assert answer.status_code == 201
    return answer.json()


@pytest.fixture
def job(client):
    photo = samples.bytes_of(samples.grain(1200, 800), "JPEG", quality=60)
    ids = [one["id"] for one in upload(client, ("quay.jpg", photo))["photos"]]
    refused = client.post("/api/photos/found", json={"photo_ids": ids, "take": False})
    assert refused.status_code == 200  # so that it is laid in the middle
    asked = {"name": "Evening", "photo_ids": ids, "size_texts": ["4x5in@100"]}
    return client.post("/api/jobs", json=asked).json()


def gesture(client, at, keep=True, **shown):
    body = {"gesture": shown, "keep": keep}
    return client.post(f"/api/placements/{at}/gesture", json=body)


def test_from_photo_to_measured_file_over_http(client, job):
    at = job["placements"][0]["id"]
    view = client.get(f"/api/placements/{at}").json()
    assert view["crop"] == [100, 0, 1000, 800]
    live = gesture(client, at, keep=False, kind="scale", factor=0.5).json()
    assert live["scale"] == pytest.approx(1.0)
    assert "steps" not in live
    kept = gesture(client, at, kind="scale", factor=0.5).json()
    assert kept["crop"] == [350, 200, 500, 400]
    assert client.post(f"/api/placements/{at}/undo").json()["crop"] == view["crop"]
    assert client.post(f"/api/placements/{at}/redo").json()["crop"] == kept["crop"]
    typed = kept["lying"] | {"cx": 250.0}
    assert client.put(f"/api/placements/{at}", json=typed).json()["crop"][0] == 0
    fitted = client.put(f"/api/placements/{at}", json=typed | {"fit_corners": True})
    assert not fitted.json()["lying"]["fit_corners"]  # of corners that are not there
    assert client.post(f"/api/placements/{at}/settle").json()["state"] == "settled"
    delivery = client.post(f"/api/jobs/{job['id']}/deliveries", json={"placement_ids": [at]})
    assert delivery.status_code == 201
    shown = client.get(f"/api/deliveries/{delivery.json()['id']}").json()
    assert shown == delivery.json()
    file = shown["files"][0]
    assert (file["asked"]["width"], file["measured"]["width"], file["measured"]["ppi"]) == (
        500,
        500,
        100,
    )
    answer = client.get(f"/api/deliveries/{shown['id']}/files/{file['name']}")
    assert "attachment" in answer.headers["content-disposition"]
    with Image.open(BytesIO(answer.content)) as image:
        assert image.size == (500, 400)
    assert client.get(f"/api/deliveries/{shown['id']}/archive").content.startswith(b"PK")
    assert client.get(f"/api/jobs/{job['id']}").json()["counts"] == {"made": 1}


def test_previews_are_upright_and_of_the_edge_asked(client, job):
    piece = job["placements"][0]
    for path, edge, most in (
        (f"/api/photos/{piece['photo_id']}/preview", 200, 200),
        (f"/api/placements/{piece['id']}/preview", 200, 200),
    ):
        answer = client.get(path, params={"edge": edge})
        assert answer.headers["content-type"] == "image/jpeg"
        with Image.open(BytesIO(answer.content)) as image:
            assert max(image.size) == most
    assert client.get(f"/api/photos/{piece['photo_id']}").json()["facts"]["width"] == 1200


def test_a_mixed_batch_answers_201_with_what_came_in_and_what_did_not(client):
    wrong = [(name, data) for name, (data, _) in samples.wrong_files().items()]
    good = ("good.png", samples.bytes_of(samples.grain(30, 20), "PNG"))
    shown = upload(client, *wrong, good)
    assert [photo["name"] for photo in shown["photos"]] == ["good.png"]
    assert {one["name"] for one in shown["refused"]} == {name for name, _ in wrong}
    assert client.get("/").status_code == 200


def test_a_size_is_read_or_refused_with_its_place(client):
    shown = client.post("/api/sizes/read", json={"text": "8x10in@300"}).json()
    assert (
        shown["sentence"]
        == "8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo, trimmed to fill."
    )
    assert shown["spans"][1] == {"part": "resolution", "start": 6, "end": 10}
    assert shown["said"][1] == {"words": " at 300 ppi", "part": "resolution"}
    more = {"text": "8x10in@300", "differ": "extend", "frame": {"lip": "6mm"}}
    shown = client.post("/api/sizes/read", json=more).json()
    assert shown["text"] == "8x10in@300 extend"
    assert shown["sentence"].endswith(
        "extended with white; 7.53 × 9.53 in seen inside the frame's lip."
    )
    wrong = client.post("/api/sizes/read", json=more | {"frame": {"lip": "5in"}})
    assert (wrong.status_code, "wider than its lip" in wrong.text) == (422, False)
    assert "leaves nothing of the print" in wrong.json()["detail"]
    answer = client.post("/api/sizes/read", json={"text": "8x"})
    assert answer.status_code == 422
    assert answer.json()["at"] == 2
    assert "the height is missing" in answer.json()["detail"]
    names = {size["name"]: size["text"] for size in client.get("/api/sizes").json()}
    assert names["A4 print"] == "210x297mm@300"
    assert names["Quay sign"] == "384x160px png at most 150kB"
    assert names["Free crop"] == "100%"


def test_the_size_of_a_photo_is_kept(client, tmp_path):
    path = samples.photo(tmp_path / "quay.jpg", 1200, 800, dpi=(240, 240))
    with path.open("rb") as file:
        photo = client.post("/api/photos", files={"files": file}).json()["photos"][0]
    kept = client.post(f"/api/photos/{photo['id']}/keep-size")
    assert kept.status_code == 201
    assert (kept.json()["name"], kept.json()["text"]) == ("like quay", "1200x800px@240")
    again = client.post(f"/api/photos/{photo['id']}/keep-size").json()
    assert again["name"] == "like quay 2"
    assert client.post("/api/photos/999/keep-size").status_code == 404


def test_the_library_over_http(client):
    kept = client.post("/api/sizes", json={"text": "8x10in@300", "name": "Wall", "group": "print"})
    assert kept.status_code == 201
    shown = kept.json()
    assert (shown["text"], shown["pixels"], shown["version"], shown["used_in"]) == (
        "8x10in@300", "2400 × 3000 px", 1, [],
    )  # fmt: skip
    path = f"/api/sizes/{shown['id']}"
    changed = client.put(path, json={"version": 1, "text": "8x12in@300"}).json()
    assert (changed["version"], changed["name"]) == (2, "Wall")
    late = client.put(path, json={"version": 1, "text": "9x12in@300"})
    assert late.status_code == 409
    assert "changed meanwhile" in late.json()["detail"]
    assert client.get(path).json() == changed
    assert client.post(f"{path}/copy?twin=true").json()["text"] == "12x8in@300"
    assert client.delete(path).json()["name"] == "Wall"
    assert client.get(path).status_code == 404
    assert client.post(f"{path}/restore").json()["name"] == "Wall"
    file = client.get("/api/sizes/file")
    assert "sizes.json" in file.headers["content-disposition"]
    assert client.get("/api/sizes/file?kind=csv").text.startswith("name,group,size")
    count = len(client.get("/api/sizes").json())
    answer = client.post("/api/sizes/file", content=file.content)
    assert (answer.status_code, len(answer.json()["same"])) == (200, count)
    broken = client.post("/api/sizes/file", content=file.content[:-9])
    assert broken.status_code == 422
    assert len(client.get("/api/sizes").json()) == count


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "words"),
    [
        ("get", "/api/placements/99", None, 404, "no placement 99"),
        ("get", "/api/photos/99", None, 404, "no photo 99"),
        ("get", "/api/jobs/99", None, 404, "no job 99"),
        ("get", "/api/deliveries/99/files/a.jpg", None, 404, "no delivery 99"),
        ("get", "/api/placements/abc", None, 422, "The placement must be a whole number."),
        ("get", "/api/sizes/99", None, 404, "no size 99"),
        ("post", "/api/sizes", {"name": "x"}, 422, "begins with its text"),
        ("post", "/api/sizes", {"text": "8x10in@300", "colour": "red"}, 422, "colour"),
        ("post", "/api/sizes", {"text": "100%", "file": {"quality": 0}}, 422, "quality"),
        ("put", "/api/sizes/1", {"text": "8x10in@300"}, 422, "version"),
        ("get", "/api/nothing", None, 404, "no page /api/nothing"),
        ("get", "/api/photos/1/preview?edge=9999999", None, 422, "edge"),
        ("post", "/api/jobs", {"size_texts": ["8x"]}, 422, "the height is missing"),
        ("post", "/api/jobs", {"photo_ids": [1], "colour": 1}, 422, "colour"),
        (
            "post",
            "/api/placements/1/gesture",
            {"gesture": {"kind": "fly"}},
            422,
            "The gesture is of no kind",
        ),
        (
            "post",
            "/api/placements/1/gesture",
            {"gesture": {"kind": "scale", "factor": 0}},
            422,
            "factor",
        ),
        ("put", "/api/placements/1", {"cx": 1, "cy": 1, "width": -1}, 422, "width"),
        ("post", "/api/photos", None, 422, "files"),
    ],
)
def test_a_wrong_call_is_answered_in_plain_words(client, method, path, body, status, words):
    options = {} if body is None else {"json": body}
    answer = getattr(client, method)(path, **options)
    assert answer.status_code == status
    assert words in answer.json()["detail"]
    assert "_" not in answer.json()["detail"]


def test_what_is_typed_so_far_is_read_without_ever_being_an_error(client):
    def enter(text, **more):
        answer = client.post("/api/sizes/entry", json={"text": text, "more": more})
        assert answer.status_code == 200
        return answer.json()

    one = enter("8x10in@300", differ="extend")
    assert (one["first"]["text"], one["trouble"]) == ("8x10in@300 extend", None)
    saved = {size["name"]: size["id"] for size in client.get("/api/sizes").json()}
    several = enter("8,5x11in 300 dpi, 16:9 SCREEN; 4 x 6 in print")["sizes"]
    assert [(each["text"], each["saved_id"]) for each in several] == [
        ("8.5x11in@300", None),
        ("1920x1080px", saved["16:9 screen"]),
        ("4x6in@300", saved["4 × 6 in print"]),
    ]
    assert (
        client.post("/api/sizes/read", json={"text": "16:9 screen"}).json()["text"] == "1920x1080px"
    )
    for text, at in (("8x", 2), ("8x10in@300, 5x", 14), ("16:9 scren", 5)):
        half = enter(text)
        assert (half["sizes"], half["first"], half["at"]) == ([], None, at)
        assert half["trouble"].startswith(f"“{text}” is not a size: ")
    both = enter("3:1 panels 3")  # three strips, or three squares that are 3:1 together
    assert ([meant["text"] for meant in both["readings"]], both["trouble"]) == (
        ["1:1 panels 3"],
        None,
    )
    assert enter("1:1 panels 3")["readings"] == []
    guessed = enter("8x10")["readings"]
    assert [each["text"] for each in guessed] == ["8x10in@300", "8x10cm@300", "4:5", "8x10px"]
    assert guessed[0]["sentence"].startswith("8 × 10 in at 300 ppi")
    assert enter("")["said"] == []
    form = enter("8x10in@300", bleed="3", file={"quality": "900"})
    assert (form["readings"], form["first"]) == ([], None)
    assert "Write it with its unit, like 3mm" in form["trouble"]
    assert "The quality must be 100 at most." in form["trouble"]


def test_numbers_that_are_none_are_refused(client, job):
    at = job["placements"][0]["id"]
    body = '{"gesture": {"kind": "move", "dx": NaN, "dy": 0}, "keep": true}'
    answer = client.post(
        f"/api/placements/{at}/gesture", content=body, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 422
    assert client.get(f"/api/placements/{at}").json()["steps"] == ["suggested"]


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),
        ({"host": "localhost:8000"}, 200),
        ({"host": "elsewhere.example"}, 403),
        ({"host": "127.0.0.1.elsewhere.example"}, 403),
    ],
)
def test_only_local_names_are_answered(client, headers, status):
    assert client.get("/api/sizes", headers=headers).status_code == status


@pytest.mark.parametrize(
    ("origin", "status"),
    [("http://127.0.0.1:8000", 201), ("http://elsewhere.example", 403), ("null", 403)],
)
def test_another_site_cannot_send_photos_in(client, origin, status):
    file = ("a.png", samples.bytes_of(samples.grain(30, 20), "PNG"))
    answer = client.post("/api/photos", files=[("files", file)], headers={"origin": origin})
    assert answer.status_code == status


def test_every_route_of_the_contract_is_described(client):
    paths = client.get("/api/openapi.json").json()["paths"]
    for path in (
        "/api/photos",
        "/api/photos/{photo_id}/preview",
        "/api/sizes",
        "/api/sizes/{size_id}",
        "/api/sizes/{size_id}/restore",
        "/api/sizes/file",
        "/api/sizes/read",
        "/api/sizes/entry",
        "/api/jobs",
        "/api/jobs/{job_id}/deliveries",
        "/api/placements/{placement_id}/gesture",
        "/api/placements/{placement_id}/undo",
        "/api/placements/{placement_id}/redo",
        "/api/placements/{placement_id}/preview",
        "/api/deliveries/{delivery_id}/files/{name}",
        "/api/deliveries/{delivery_id}/archive",
    ):
        assert path in paths


def test_what_must_stay_whole_is_said_once_and_known_to_every_placement(client, tmp_path):
    path = samples.photo(tmp_path / "quay.jpg", 1200, 800)
    with path.open("rb") as file:
        photo = client.post("/api/photos", files={"files": file}).json()["photos"][0]
    asked = {"name": "e", "photo_ids": [photo["id"]], "size_texts": ["4x5in@100", "600x600px"]}
    job = client.post("/api/jobs", json=asked).json()
    one, two = (piece["id"] for piece in job["placements"])
    move = {"gesture": {"kind": "move", "dx": 100, "dy": 0}, "keep": True}
    touched = client.post(f"/api/placements/{two}/gesture", json=move).json()
    zones = {"zones": [{"left": 20, "top": 300, "width": 200, "height": 200}]}
    shown = client.put(f"/api/photos/{photo['id']}/keep-zones", json=zones)
    assert shown.json()["keeps"]["zones"][0]["left"] == 20
    # one no hand has touched lies around it at once; the other stays, and says so
    assert client.get(f"/api/placements/{one}").json()["crop"][0] == 0
    other = client.get(f"/api/placements/{two}").json()
    assert other["crop"] == touched["crop"]
    assert "keep-cut" in [note["code"] for note in other["notes"]]
    fixed = client.post(f"/api/placements/{two}/fix", json={"code": "keep-cut"}).json()
    assert "keep-cut" not in [note["code"] for note in fixed["notes"]]
    assert fixed["steps"][-1] == "moved around keep zones"
    assert client.post(f"/api/placements/{two}/step", json={"step": 0}).json()["step"] == 0
    assert client.post(f"/api/placements/{two}/step", json={"step": 2}).json() == fixed
    assert client.post(f"/api/placements/{two}/step", json={"step": 3}).status_code == 404
    drawn = {"kind": "mark", "x0": 10, "y0": 10, "x1": 90, "y1": 10}
    kept = client.post(f"/api/placements/{one}/keep-zones", json=drawn)
    assert (kept.status_code, len(kept.json()["keeps"])) == (201, 2)
    assert client.delete(f"/api/placements/{one}/keep-zones?number=9").status_code == 422
    left = client.delete(f"/api/placements/{one}/keep-zones?number=0").json()["keeps"]
    assert [kind for kind, _ in left] == ["mark"]
    flat = {"kind": "zone", "x0": 10, "y0": 10, "x1": 10, "y1": 10}
    assert client.post(f"/api/placements/{one}/keep-zones", json=flat).status_code == 422
    assert client.put("/api/photos/999/keep-zones", json=zones).status_code == 404


def test_grounds_and_retouches_over_http(client, workspace):
    small = samples.bytes_of(samples.grain(150, 100), "PNG")
    photo = upload(client, ("small.png", small))["photos"][0]["id"]
    asked = {"photo_ids": [photo], "size_texts": ["4:3 extend"]}
    at = client.post("/api/jobs", json=asked).json()["placements"][0]["id"]
    found = client.get(f"/api/placements/{at}/grounds").json()
    assert [(one["try"], one["state"], one["bold"]) for one in found] == [
        (n, "waiting", False) for n in (1, 2, 3, 4)
    ]
    assert client.get(f"/api/placements/{at}/grounds/1").status_code == 202
    assert fill_next(workspace, "one", lambda: NOW)
    picture = client.get(f"/api/placements/{at}/grounds/1?edge=64")
    assert (picture.status_code, Image.open(BytesIO(picture.content)).width) == (200, 64)
    assert client.get(f"/api/placements/{at}/grounds").json()[0]["order"] == 1
    assert client.get(f"/api/placements/{at}/grounds/5").status_code == 422
    assert client.delete(f"/api/placements/{at}/grounds").status_code == 204
    plain = client.get(f"/api/placements/{at}/plain-ground").json()
    assert plain == {"fill": "blur", "words": "the photo, blurred"}
    assert client.get(f"/api/placements/{at}/plain-ground/picture?edge=64").status_code == 200
    kept = gesture(client, at, kind="continue", **{"try": 3}).json()
    assert (kept["lying"]["continued"]["try"], kept["being_made"]) == (3, True)
    path = f"/api/photos/{photo}/retouches"
    stroke = {"points": [[70, 50]], "radius": 9}
    body = {
        "retouches": [
            {"kind": "paint_over", "strokes": [stroke], "polygons": [], "offset": None, "try": 2}
        ]
    }
    answer = client.put(path, json=body).json()
    assert (answer["retouches"][0]["try"], answer["retouches"][0]["number"]) == (2, 1)
    assert client.get(path).json() == answer
    assert client.get(f"{path}/1/tries/2").status_code == 202
    while fill_next(workspace, "one", lambda: NOW):
        pass
    assert client.get(f"{path}/1/tries/2").headers["content-type"] == "image/jpeg"
    assert {one["state"] for one in client.get(f"{path}/1/tries").json()} == {"made"}
    assert client.get(f"{path}/9/tries").status_code == 404
    assert client.delete(f"{path}/1/tries").status_code == 204
    look = client.get(f"/api/photos/{photo}").json()["look"]
    shown = client.get(f"/api/photos/{photo}/preview?edge=64&look={look}")
    assert "immutable" in shown.headers["cache-control"]
    old = client.get(f"/api/photos/{photo}/preview?edge=64")
    assert (old.headers["cache-control"], old.content) == ("no-cache", shown.content)
    original = client.get(f"/api/photos/{photo}/preview?edge=64&look=original")
    assert original.content != shown.content
    refused = client.put(path, json=body | {"version": 0})
    assert (refused.status_code, refused.json()["newer"]["version"]) == (409, 1)
    empty = client.put(path, json={"retouches": [{"kind": "paint_over"}]})
    assert (empty.status_code, "brushes nothing" in empty.json()["detail"]) == (422, True)
    assert (
        client.post(f"/api/placements/{at}/retouches", json={"strokes": [stroke]}).status_code
        == 201
    )


def test_a_framed_piece_has_a_cut_card_and_its_job_a_list_of_mouldings(client, job):
    at = job["placements"][0]["id"]
    refused = client.get(f"/api/placements/{at}/cut-card")
    assert (refused.status_code, "has no frame" in refused.json()["detail"]) == (404, True)
    assert client.get(f"/api/jobs/{job['id']}/mouldings").json() == []
    frame = next(
        one for one in client.get("/api/sizes").json() if one["name"] == "30 × 40 cm frame"
    )
    client.post(f"/api/jobs/{job['id']}/members", json={"size_ids": [frame["id"]]})
    framed = client.get(f"/api/jobs/{job['id']}").json()["placements"][1]["id"]
    card = client.get(f"/api/placements/{framed}/cut-card")
    assert (card.headers["content-type"], card.content[:5]) == ("application/pdf", b"%PDF-")
    (needed,) = client.get(f"/api/jobs/{job['id']}/mouldings").json()
    assert needed["pieces"] == 1
    assert needed["metres"] == pytest.approx(2 * (0.3 + 0.4 + 4 * 0.014))
