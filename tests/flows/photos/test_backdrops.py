"""A photo behind a piece: seen where the ground is, in preview, file, clipboard and parts, also behind a cut-out."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.gestures.print.backdrop import SetBackdrop
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.sizes.text.exchange import read_file, write_csv, write_json
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.delivery.filling import fill_next
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.photos import backdrops
from oak_ledge.flows.pieces import pictures, true_pixels
from oak_ledge.flows.scene import cut_outs
from oak_ledge.flows.scene.cut_outs import CutOutBody
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from tests import samples
from tests.conftest import NOW
from tests.samples import size

# Left and right half of the photo that stands behind.
LEFT, RIGHT = (40, 120, 200), (220, 160, 60)


@pytest.fixture
def laid(workspace, bring, tmp_path):
    """Start a job with a grey photo and one of two halves; give (job id, the grey photo's placement)."""

    def lay(text):
        halves = np.zeros((400, 800, 3), np.uint8)
        halves[:, :400], halves[:, 400:] = LEFT, RIGHT
        plain = np.full((200, 300, 3), 128, np.uint8)
        y, x = np.mgrid[0:200, 0:300]
        plain[(x - 150) ** 2 + (y - 100) ** 2 < 50**2] = (30, 60, 40)
        files = [("plain.png", samples.save(tmp_path / "plain.png", plain)), ("halves.png", samples.save(tmp_path / "halves.png", halves))]  # fmt: skip
        ids = [photo.id for photo in bring(*files).photos]
        job_id = jobs.start(workspace, "Stall", ids, [], [text], NOW)
        pieces = jobs.view(workspace, job_id).placements
        at = next(piece.id for piece in pieces if piece.photo_name == "plain.png")
        return job_id, at

    return lay


def stand(workspace, at, **how):
    (chosen,) = backdrops.choices(workspace, load(workspace, at))
    return history.keep(workspace, at, SetBackdrop(kind="backdrop", backdrop=chosen, **how), NOW)


def made(workspace, job_id, at):
    file = orders.deliver(workspace, job_id, [at], NOW).files[-1]
    assert file.state == "made", file.reason
    with Image.open(folder_of(workspace, file.delivery_id) / (file.name or "")) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def test_it_covers_the_piece_about_its_middle_and_is_seen_around_the_photo(workspace, laid):
    job_id, at = laid("300x600px png")
    view = stand(workspace, at, beyond=True)
    assert view.steps[-1] == "ground chosen"
    assert "halves.png behind it" in (view.own_size.sentence if view.own_size else "")
    pixels = made(workspace, job_id, at)
    assert pixels.shape == (600, 300, 3)
    for y in (20, 580):
        assert np.abs(pixels[y, 20] - LEFT).max() <= 1
        assert np.abs(pixels[y, 280] - RIGHT).max() <= 1
    assert (pixels[210:390, 5:90] == 128).all()  # the photo's own pixels
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 600)) as shown:
        assert np.abs(np.asarray(shown).astype(int) - pixels).mean() < 2
    part = np.asarray(
        Image.open(BytesIO(true_pixels.part(workspace, load(workspace, at), (140, 0, 40, 40))))
    )
    assert np.abs(part.astype(int) - pixels[0:40, 140:180]).mean() < 6
    whole = np.asarray(Image.open(BytesIO(true_pixels.picture(workspace, load(workspace, at)))))
    assert np.array_equal(whole[..., :3], pixels)
    history.keep(workspace, at, SetBackdrop(kind="backdrop"), NOW)
    assert (made(workspace, job_id, at)[20, 20] == 255).all()


def test_a_thing_cut_out_stands_before_it(workspace, laid):
    job_id, at = laid("300x200px png")
    with transaction(workspace.sessions) as session:
        photo = load(workspace, at).photo
        photos.set_keeps(
            session, photo.id, Keeps(zones=(Zone(left=97, top=47, width=106, height=106),))
        )
    cut_outs.cut_out(workspace, at, CutOutBody(), NOW)
    stand(workspace, at)
    while fill_next(workspace, "one", lambda: NOW):
        pass
    pixels = made(workspace, job_id, at)
    assert np.abs(pixels[10, 10] - LEFT).max() <= 1
    assert np.abs(pixels[10, 290] - RIGHT).max() <= 1
    assert tuple(pixels[100, 150]) == (30, 60, 40)
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 300)) as shown:
        assert np.abs(np.asarray(shown.convert("RGB")).astype(int) - pixels).mean() < 3


def test_one_that_is_gone_fails_its_file_alone_in_words(workspace, laid):
    job_id, at = laid("300x600px png")
    stand(workspace, at, beyond=True)
    path = backdrops.behind(workspace, load(workspace, at).size, load(workspace, at).placement)
    assert path is not None
    path.unlink()
    file = orders.deliver(workspace, job_id, [at], NOW).files[0]
    assert file.state == "failed"
    assert "halves.png behind it is not here" in (file.reason or "")
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 300)):
        pass  # shown without it
    assert bench.view(workspace, at).asked.width == 300


def test_sizes_take_it_along_in_both_files(workspace, laid):
    _, at = laid("300x600px png")
    (chosen,) = backdrops.choices(workspace, load(workspace, at))
    stood = size("8x10in@300 extend", name="Before", backdrop=chosen)
    for text in (write_json([stood]), write_csv([stood])):
        assert read_file(text) == (stood,)
