from __future__ import annotations

import re
from datetime import datetime, timedelta
from itertools import pairwise

import pytest

from oak_ledge.flows.jobs import batches, jobs, shelves as job_shelves
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.web.drawings.oak import ledge_of
from oak_ledge.web.drawings.shelf import SIDE, WIDE, screen_scale, shelves, usual_scale
from oak_ledge.web.pages.jobs import headline
from oak_ledge.web.pages.ledge import FIRST, MORE
from oak_ledge.web.pages.site import STATIC, as_said
from tests import samples
from tests.conftest import NOW
from tests.samples import there


def test_the_jobs_page_of_a_new_workspace_says_what_to_do(client):
    page = client.get("/").text
    assert "No open jobs" in page
    assert "Drop photos to start a job" in page
    assert "There is no job yet" in page


def test_a_ledge_shelves_its_pieces_and_leads_through_them(client, workspace, bring, tmp_path):
    files = [(f"{n}.jpg", samples.photo(tmp_path / f"{n}.jpg", 90 + n, 60)) for n in range(12)]
    ids = [photo.id for photo in bring(*files).photos]
    job_id = jobs.start(workspace, "Evening", ids, [], ["60x40px", "40x40px"], NOW)
    page = client.get(f"/jobs/{job_id}").text
    assert page.count('class="ledge-shelf"') == FIRST
    assert page.count('class="choose"') == 2 * FIRST
    more = client.get(f"/jobs/{job_id}/shelves?first={FIRST}&scale=12&per_pixel=1").text
    assert more.count('class="ledge-shelf"') == MORE
    assert f'data-first="{FIRST + MORE}"' in more
    by_size = client.get(f"/jobs/{job_id}?by=size&show=all").text
    assert by_size.count('class="ledge-shelf"') == 2
    assert by_size.count('class="choose"') == 24
    first, second = (piece.id for piece in jobs.view(workspace, job_id).placements[:2])
    assert f"/jobs/{job_id}/bench/{second}?by=size" in by_size
    bench = client.get(f"/jobs/{job_id}/bench/{second}?by=size&show=all").text
    assert f'data-before="/jobs/{job_id}/bench/{first}?by=size"' in bench
    assert f'data-ledge="/jobs/{job_id}?by=size"' in bench
    assert "2 of 12" in bench
    assert "1 of 2<" in client.get(f"/jobs/{job_id}/bench/{second}?by=photo").text.replace(
        " ·", "<"
    )
    assert client.get(f"/jobs/{job_id + 1}/bench/{second}").status_code == 404
    assert client.get(f"/jobs/{job_id}?by=colour").status_code == 422
    nothing = client.get(f"/jobs/{job_id}?show=stretched").text
    assert "Nothing here asks for a look" in nothing


def test_pieces_stand_on_their_shelf_at_one_true_scale_framed_if_framed(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 300, 200))).photos[0]
    mat = {"outer": "12x10in", "window": "7x5in"}
    framed = sizes.add(
        workspace,
        SizeBody.model_validate(
            {"text": "8x10in@30", "frame": {"lip": "1/4in", "moulding": "1in", "mat": mat}}
        ),
    )
    texts = [
        "10x15cm@40",
        "210x297mm@20",
        "384x160px",
        "192x160px",
        *[f"{n}x9in@9" for n in range(3, 9)],
    ]
    job_id = jobs.start(workspace, "x", [photo.id], [framed.id], texts, NOW)
    job = jobs.view(workspace, job_id)
    scale, dots = usual_scale(job.placements, "photo"), screen_scale(job.placements)
    (shelf,) = shelves(job, job.placements, [], "photo", scale, dots)
    stood = [one for row in shelf.rows for one in row.pieces]
    assert len(stood) == 11
    assert len(shelf.rows) > 1  # what is too much for one oak line goes on below
    for n, row in enumerate(shelf.rows):
        assert row.pieces[0].left == (0 if n else SIDE)
        for one in row.pieces:
            assert one.outer[1] + one.outer[3] == pytest.approx(row.height)
            assert one.outer[0] + one.outer[2] <= WIDE + 1
        for left, right in pairwise(row.pieces):
            assert left.outer[0] + left.outer[2] < right.outer[0]
    for one in stood:
        per = scale if one.piece.inches else dots
        edges = one.piece.inches or (one.piece.width, one.piece.height)
        assert one.inner[2:] == pytest.approx((edges[0] * per, edges[1] * per))
        assert one.photo[2] / one.photo[3] == pytest.approx(300 / 200)
    first = stood[0]
    assert first.outer[2:] == pytest.approx((13.5 * scale, 11.5 * scale))  # mat less lip, moulding
    assert first.sight
    assert first.window
    assert first.sight[2:] == pytest.approx((11.5 * scale, 9.5 * scale))
    assert first.window[2:] == pytest.approx((7 * scale, 5 * scale))


def test_a_hostile_name_stays_text_on_every_page(client, workspace, bring, tmp_path):
    name = "</script><script>alert(1)</script>.jpg"
    path = samples.photo(tmp_path / "a.jpg")
    photo = bring((name.replace("/", "∕"), path)).photos[0]
    job_id = jobs.start(workspace, "<b>bold</b>", [photo.id], [], ["60x40px"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    for address in ("/", f"/jobs/{job_id}", f"/jobs/{job_id}/bench/{at}"):
        page = client.get(address).text
        assert "<script>alert" not in page
        assert "<b>bold" not in page


@pytest.mark.parametrize("address", ["/", "/nowhere", "/jobs/99", "/jobs/1/bench/1"])
def test_pages_are_fenced_and_hold_no_foreign_or_inline_code(client, address):
    answer = client.get(address)
    policy = answer.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert not re.search(r"\son\w+=|style=|javascript:", answer.text)
    assert not re.search(r'(src|href)="https?://(?!127\.0\.0\.1)', answer.text)
    if answer.status_code == 404:
        assert "Go to your jobs" in answer.text


def test_nothing_shipped_with_the_pages_is_fetched_from_elsewhere():
    ours = [path for path in STATIC.rglob("*") if path.suffix in (".css", ".js")]
    assert len(ours) >= 7
    for path in ours:
        assert not re.search(r"(url\(|import |@import |fetch\()['\"]?https?:", path.read_text())
    for foreign in (STATIC / "vendor").glob("*.min.*"):
        version = re.search(r"\d+\.\d+\.\d+", foreign.name)
        assert version is not None
        assert list(foreign.parent.glob(f"*{version[0]}.LICENSE.txt"))


def test_all_pieces_of_a_ledge_stand_on_it_at_one_true_scale(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 300, 200))).photos[0]
    texts = ["8x10in@300", "10x15cm@200", "A".replace("A", "210x297mm@100"), "384x160px"]
    job_id = jobs.start(workspace, "x", [photo.id], [], texts, NOW)
    job = jobs.view(workspace, job_id)
    drawing = ledge_of(job.placements, width=600, height=100)
    assert len(drawing.standing) == 4
    for standing in drawing.standing:
        assert standing.top + standing.height == pytest.approx(100)
        assert standing.left >= 0
        assert standing.left + standing.width <= 600
        inches = standing.piece.inches or (standing.piece.width / 96, standing.piece.height / 96)
        assert standing.width / inches[0] == pytest.approx(drawing.scale)
        assert standing.height / inches[1] == pytest.approx(drawing.scale)
        x, y, wide, high = standing.photo  # the photo lies behind its piece as the crop says
        assert wide / high == pytest.approx(300 / 200)
        assert (standing.left - x) / wide == pytest.approx(standing.piece.crop[0] / 300)
        assert (standing.top - y) / high == pytest.approx(standing.piece.crop[1] / 200)


@pytest.mark.parametrize(
    ("count", "away", "words"),
    [
        (0, False, "No open jobs"),
        (1, False, "One open job"),
        (12, False, "12 open jobs"),
        (1, True, "One finished job"),
        (12, True, "12 finished jobs"),
    ],
)
def test_the_headline_counts_jobs(count, away, words):
    assert headline(count, away=away) == words


@pytest.mark.parametrize(
    ("ago", "words"),
    [
        (timedelta(hours=1), "today, 11:00"),
        (timedelta(days=1), "yesterday, 12:00"),
        (timedelta(days=5), "19 November"),
        (timedelta(days=400), "20 October 2025"),
    ],
)
def test_when_a_job_was_touched_is_said_as_people_do(ago, words):
    now = datetime(2026, 11, 24, 12).astimezone()
    assert as_said(now - ago, now) == words


def test_a_shelf_on_another_size_is_titled_by_it_and_drawn_at_a_screens_scale(
    workspace, bring, tmp_path
):
    taken = bring(
        *((f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 300 + n, 200)) for n in range(3))
    )
    ids = [one.id for one in taken.photos]
    job_id = jobs.start(workspace, "x", ids, [], ["8x10in@20"], NOW)
    screen = batches.OtherSize(do="size", text="4000x2250px")
    every = jobs.view(workspace, job_id).placements
    batches.do(workspace, job_id, [every[0].id], screen, NOW)
    job = jobs.view(workspace, job_id)
    own, rest = job.placements[0], job.placements[1:]
    assert (own.on, own.size_name, own.own) == ("4000 × 2250 px", "8 × 10 in", "4000 × 2250 px")
    (in_hand,) = job_shelves.shelves(workspace).shelves
    assert there(in_hand.next).on == "4000 × 2250 px"
    drawn = shelves(job, job.placements, [], "size", 10, screen_scale(job.placements))
    assert [(one.title, one.below) for one in drawn] == [
        ("8 × 10 in", ""),
        ("4000 × 2250 px", "instead of 8 × 10 in"),
    ]
    assert drawn[1].rows[0].pieces[0].inner[2] == pytest.approx(160)
    # shelves above of small screens leave room to those below, and no wider than the shelf
    assert screen_scale(job.placements, 1.0) * 4000 <= WIDE - SIDE
    assert screen_scale(rest, 0.5) == 0.5
    batches.do(workspace, job_id, [one.id for one in every], screen, NOW)
    job = jobs.view(workspace, job_id)
    assert [one.name for one in job.sizes] == ["4000 × 2250 px"]
    assert {one.own for one in job.placements} == {None}


def test_a_short_shelf_is_drawn_in_more_rows_and_no_letter_is_smaller(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 300, 200))).photos[0]
    job_id = jobs.start(workspace, "x", [photo.id], [], [f"{n}x{n}in@20" for n in range(4, 9)], NOW)
    job = jobs.view(workspace, job_id)
    scale = usual_scale(job.placements, "photo", 620)
    (shelf,) = shelves(job, job.placements, [], "photo", scale, 1, 620)
    assert len(shelf.rows) > 1
    assert all(p.outer[0] + p.outer[2] <= 620 for row in shelf.rows for p in row.pieces)
