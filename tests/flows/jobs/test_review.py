"""A review for the client: one file that needs nothing else, and its answers taken in."""

from __future__ import annotations

import json
import re

import pytest

from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs import batches, jobs, review
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def job(workspace, bring, tmp_path):
    """Two photos on a framed print and a screen; give the job and its placements."""
    photos = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 900 + n, 600)) for n in range(2)]
    ids = [photo.id for photo in bring(*photos).photos]
    texts = ["20x30cm@50 lip 5mm mat 40x50cm window 19x29cm", "384x160px"]
    job_id = jobs.start(workspace, "Quay </script> & more", ids, [], texts, NOW)
    return job_id, [piece.id for piece in jobs.view(workspace, job_id).placements]


def answers(job_id, *said, **more):
    """A file of answers: (piece, answer, word) each, at step 0 where no other is named."""
    given = [
        {"piece": piece, "step": more.get("step", 0), "answer": answer, "word": word}
        for piece, answer, word in said
    ]
    return json.dumps({"review_version": 1, "job_id": job_id, "job": "Quay", "answers": given})


def test_a_review_is_one_file_with_every_piece_at_true_size_and_fetches_nothing(client, job):
    job_id, pieces = job
    answered = client.post(f"/api/jobs/{job_id}/review", json={})
    assert "attachment" in answered.headers["content-disposition"]
    page = answered.text
    assert re.findall(r'data-piece="(\d+)"', page) == [str(piece) for piece in pieces]
    assert page.count('href="data:image/jpeg;base64,') == 4
    assert page.count('class="moulding"') == page.count('class="mat"') == 2
    assert re.findall(r"""(?:src|href|url)\s*[=(]\s*["']?(?!data:)[^\s"'>)]+""", page) == [
        "href = URL.createObjectURL(new"
    ]
    assert "default-src 'none'" in page
    assert "<title>Quay &lt;/script&gt; &amp; more" in page
    about = re.search(r'id="about">(.*?)</script>', page)
    assert about is not None
    assert json.loads(about[1])["job"] == "Quay </script> & more"
    widths = [float(width) for width in re.findall(r'<image [^>]*width="([\d.]+)"', page)]
    assert widths[0] / widths[2] == pytest.approx(520 / 420)  # 30 cm, and a screen


def test_answers_approve_or_put_in_work_with_a_word_and_what_was_worked_on_is_left(workspace, job):
    job_id, (liked, worded, refused, moved) = job
    history.keep(workspace, moved, Scale(kind="scale", factor=0.9), NOW)
    text = answers(
        job_id, (liked, "yes", ""), (worded, "yes", " More sky <b> "), (refused, "no", ""), (moved, "yes", "")
    )  # fmt: skip
    taken = review.take_in(workspace, job_id, text, NOW)
    assert (taken.approved, taken.in_work, taken.changed) == (1, 2, 1)
    assert taken.words == "1 approved, 2 in work with a word, 1 worked on since, left as before."
    shown = {piece: bench.view(workspace, piece) for piece in (liked, worded, refused, moved)}
    assert [shown[piece].state for piece in shown] == ["settled", "placed", "placed", "placed"]
    said = [
        [note.text for note in view.notes if note.code == "client-word"] for view in shown.values()
    ]
    assert said == [[], ["The client says: “More sky <b>”"], ["The client says: “No.”"], []]
    history.settle(workspace, worded, NOW)  # what was asked for is done
    assert "client-word" not in [note.code for note in bench.view(workspace, worded).notes]
    batches.undo(workspace, job_id, NOW)
    assert bench.view(workspace, liked).state == "new"


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (lambda content: content | {"job_id": 99}, "answers on another job, “Quay”"),
        (lambda content: content | {"review_version": 2}, "no file of answers"),
        (lambda content: content | {"colour": "red"}, "no file of answers"),
        (lambda content: content | {"answers": [{"piece": 1, "step": "9" * 400}]}, "no file of answers"),
        (lambda content: content | {"answers": [{"piece": 1, "step": 0, "word": "x" * 1001}]}, "no file"),
        (lambda content: content | {"answers": [{"piece": 77, "step": 0, "answer": "yes"}]}, "no piece 77"),
        (lambda content: content | {"answers": [{"piece": 1, "step": 0}] * 301}, "no file of answers"),
        (lambda content: "[" * 100_000, "no file of answers"),
        (lambda content: "<html>", "no file of answers"),
    ],
    ids=["job", "version", "field", "number", "word", "piece", "many", "deep", "page"],
)  # fmt: skip
def test_hostile_answers_are_refused_and_change_nothing(workspace, job, change, why):
    job_id, pieces = job
    content = change(json.loads(answers(job_id, (pieces[0], "yes", ""))))
    text = content if isinstance(content, str) else json.dumps(content)
    with pytest.raises(RequestError, match=why):
        review.take_in(workspace, job_id, text, NOW)
    assert {bench.view(workspace, piece).state for piece in pieces} == {"new"}


def test_a_review_of_nothing_or_of_what_is_not_there_is_refused(workspace, job):
    job_id, _ = job
    with pytest.raises(NotFoundError, match="no placement 77"):
        review.review(workspace, job_id, [77])
    with pytest.raises(RequestError, match="these are 0"):
        review.review(workspace, job_id, [])
    with pytest.raises(NotFoundError):
        review.review(workspace, 99, None)
