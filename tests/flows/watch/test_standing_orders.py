"""Standing orders: what is refused, and what is told of the photos that arrived."""

from __future__ import annotations

from pathlib import Path
from threading import Event

import pytest

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.watch import standing_orders
from oak_ledge.flows.watch.folder import Watched, watch_folder
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def quay(tmp_path):
    folder = tmp_path / "quay"
    folder.mkdir()
    return folder


def follow(order, count):
    """Follow an order until so many photos are over with."""
    stop, came = Event(), []

    def one(outcome):
        came.append(outcome)
        if len(came) == count:
            stop.set()

    watched = Watched(
        Path(order.folder), Path(order.out), order.sizes.sizes, LyingOptions(), Limits()
    )
    watch_folder(watched, lambda: NOW, stop, one)


def test_what_arrived_is_told_with_its_files_or_its_reason(workspace, quay):
    sizes.add(workspace, SizeBody(text="300x200px", name="Small"))
    given = standing_orders.give(workspace, f" {quay}/ ", ["small, 3:1, 100x100px"], "", NOW)
    assert given.sizes[0].name == "Small"
    assert (given.sizes[1].across, round(given.sizes[1].along, 3)) == (1, 0.333)
    assert (given.state, given.photos, given.out) == ("watching", 0, str(quay / "made"))
    samples.photo(quay / "pole.jpg", 400, 300)
    (quay / "words.png").write_text("words")
    follow(standing_orders.find(workspace, given.id), 2)
    (told,) = standing_orders.every(workspace)
    assert (told.photos, told.files, told.failed) == (2, 3, 1)
    by_name = {one.photo: one for one in told.latest}
    assert len(by_name["pole.jpg"].files) == 3
    assert all((quay / "made" / name).is_file() for name in by_name["pole.jpg"].files)
    assert "not a picture" in by_name["words.png"].reasons[0]
    samples.photo(quay / "quay.jpg", 400, 300)
    follow(
        standing_orders.find(workspace, given.id), 2
    )  # the new one, and what failed once more: nothing twice
    assert len(list((quay / "made").glob("*.jpg"))) == 6


def test_orders_that_feed_each_other_by_a_link_laid_later_are_not_followed(
    workspace, quay, tmp_path
):
    pole, out = tmp_path / "pole", tmp_path / "out"
    pole.mkdir()
    first = standing_orders.give(workspace, str(quay), ["1:1"], str(out), NOW)
    second = standing_orders.give(workspace, str(pole), ["1:1"], str(tmp_path / "away"), NOW)
    assert standing_orders.followed(workspace, second.id).folder == str(pole)
    out.rmdir()
    out.symlink_to(pole)
    for order in (first, second):
        with pytest.raises(RequestError, match="the photos of another"):
            standing_orders.followed(workspace, order.id)


def test_a_number_is_given_to_one_order_only(workspace, quay):
    first = standing_orders.give(workspace, str(quay), ["1:1"], "", NOW)
    standing_orders.end(workspace, first.id)
    assert standing_orders.give(workspace, str(quay), ["1:1"], "", NOW).id != first.id


def test_an_order_is_paused_gone_on_with_and_ended(workspace, quay):
    one = standing_orders.give(workspace, str(quay), ["100x100px"], "", NOW)
    assert standing_orders.set_on(workspace, one.id, on=False).state == "paused"
    assert standing_orders.set_on(workspace, one.id, on=True).state == "watching"
    standing_orders.end(workspace, one.id)
    assert standing_orders.every(workspace) == []
    assert (quay / "made").is_dir()
    for call in (
        lambda: standing_orders.end(workspace, one.id),
        lambda: standing_orders.set_on(workspace, one.id, on=True),
    ):
        with pytest.raises(NotFoundError, match="no standing order"):
            call()


def test_an_order_that_can_not_be_followed_is_refused_in_a_sentence(workspace, quay, tmp_path):
    standing_orders.give(workspace, str(quay), ["100x100px"], "", NOW)
    (tmp_path / "file").write_text("x")
    (tmp_path / "loop").mkdir()
    (tmp_path / "link").symlink_to(quay)
    for folder, texts, out, words in (
        ("quay", ["1:1"], "", "whole path"),
        ("", ["1:1"], "", "whole path"),
        ("\0", ["1:1"], "", "no name of a folder"),
        ("/" * 5000, ["1:1"], "", "no name of a folder"),
        (str(tmp_path / "none"), ["1:1"], "", "is no folder"),
        (str(tmp_path / "file"), ["1:1"], "", "is no folder"),
        (str(tmp_path / ("n" * 300)), ["1:1"], "", "is no folder"),
        (str(quay), ["1:1"], "", "watched already"),
        (str(quay / ".." / "quay"), ["1:1"], "", "watched already"),
        (str(workspace.data), ["1:1"], "", "Oak Ledge's own"),
        (str(tmp_path / "loop"), ["1:1"], str(workspace.data / "x"), "Oak Ledge's own"),
        (str(tmp_path / "loop"), ["1:1"], str(tmp_path / "loop"), "made of again"),
        (str(tmp_path / "loop"), ["1:1"], str(quay), "the photos of another"),
        (str(tmp_path / "loop"), ["1:1"], str(tmp_path / "link"), "the photos of another"),
        (str(tmp_path / "loop"), ["1:1"], str(tmp_path / "file"), "Files can't be put into"),
        (str(tmp_path / "loop"), ["1:1"], "/proc/x", "Files can't be put into"),
        (str(tmp_path / "loop"), ["1:1"], "/dev/null/x", "Files can't be put into"),
        (str(tmp_path / "loop"), [], "", "which sizes"),
    ):
        with pytest.raises(RequestError, match=words):
            standing_orders.give(workspace, folder, texts, out, NOW)
    with pytest.raises(SizeTextError):
        standing_orders.give(workspace, str(tmp_path / "loop"), ["8xq"], "", NOW)
    for n in range(standing_orders.MOST_ORDERS - 1):
        (tmp_path / f"f{n}").mkdir()
        standing_orders.give(workspace, str(tmp_path / f"f{n}"), ["1:1"], "", NOW)
    with pytest.raises(RequestError, match="End one first"):
        standing_orders.give(workspace, str(tmp_path / "loop"), ["1:1"], "", NOW)
