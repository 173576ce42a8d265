"""The bench's own tools in a real browser: drawing afresh, edges, levelling, squaring up, ground, lines."""

from __future__ import annotations

from base64 import b64decode
from io import BytesIO

import cv2
import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.flows.bench import history
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.marks import library
from oak_ledge.flows.marks.library import LineBody
from oak_ledge.flows.scene import retouches
from oak_ledge.web.api.answer import LETTER_FONTS
from tests import samples
from tests.browser.steps import (
    box,
    click,
    crop_of,
    drag,
    fetch,
    find,
    get,
    kept,
    open_bench,
    show,
    text,
    wait,
)
from tests.conftest import NOW
from tests.samples import there

pytestmark = pytest.mark.browser


def open_station(browser, name):
    click(browser, f"[data-station={name}]")
    wait(browser, lambda: find(browser, f".tools.is-{name.lower()}").is_displayed())


def from_point(browser, share_x, share_y):
    """Move to a point of the whole photo, by shares of its edges."""
    photo = box(browser, "photo")
    pane = find(browser, ".whole").rect
    x = photo[0] + share_x * photo[2] - pane["width"] / 2
    y = photo[1] + share_y * photo[3] - pane["height"] / 2
    return ActionChains(browser, duration=20).move_to_element_with_offset(
        find(browser, ".whole"), round(x), round(y)
    )


def test_a_crop_is_drawn_afresh_beside_the_old_one_and_its_edges_are_dragged(browser, bench):
    address, at = bench  # (350, 200, 500, 400) of 1200 × 800
    scale = box(browser, "photo")[2] / 1200
    find(browser, ".whole").send_keys("r")
    from_point(browser, 0.05, 0.1).click_and_hold().move_by_offset(80, 20).move_by_offset(
        80, 20
    ).release().perform()
    drawn = kept(browser, address, at, 2)
    assert drawn[:2] == pytest.approx([60, 80], abs=2 / scale)
    assert drawn[2] == pytest.approx(160 / scale, abs=3 / scale)
    assert drawn[3] == pytest.approx(drawn[2] * 4 / 5)
    edge = find(browser, "[data-at=e]")
    drag(browser, edge, 40, 0)
    wider = kept(browser, address, at, 3)
    assert wider[0] == pytest.approx(drawn[0])
    assert wider[2] == pytest.approx(drawn[2] + 40 / scale, abs=3 / scale)


def test_figures_are_typed_in_other_units(browser, address, placed):
    job_id, at = placed("4x5in@150", dpi=(100, 100))
    open_bench(browser, address, job_id, at)
    Select(find(browser, ".typed select")).select_by_value("in")
    wait(browser, lambda: find(browser, "[name=height]").get_attribute("value") == "8")
    height = find(browser, "[name=height]")
    height.send_keys(Keys.CONTROL, "a")
    height.send_keys("4", Keys.ENTER)
    assert kept(browser, address, at, 1)[2:] == [500, 400]


def test_a_drawn_line_levels_live_and_undo_gives_the_former_crop_back(browser, bench):
    address, at = bench
    before = crop_of(address, at)
    find(browser, "body").send_keys("l")
    hold = from_point(browser, 0.2, 0.5).click_and_hold().move_by_offset(100, 5)
    hold.move_by_offset(100, 5).perform()
    wait(browser, lambda: "2.8" in text(browser, "#tab-level .figure"))
    assert find(browser, "[data-part=level]").is_displayed()
    assert get(address, f"/api/placements/{at}")["step"] == 1
    ActionChains(browser).release().perform()
    kept(browser, address, at, 2)
    assert get(address, f"/api/placements/{at}")["lying"]["angle"] == pytest.approx(2.86, abs=0.2)
    degrees = find(browser, "[aria-label='Angle in degrees']")
    degrees.send_keys(Keys.CONTROL, "a")
    degrees.send_keys("-1,25", Keys.ENTER)
    kept(browser, address, at, 3)
    assert get(address, f"/api/placements/{at}")["lying"]["angle"] == -1.25
    for _ in range(2):
        steps = get(address, f"/api/placements/{at}")["step"]
        click(browser, ".history .way")
        kept(browser, address, at, steps - 1)
    assert crop_of(address, at) == before
    open_station(browser, "Crop")
    history = Select(find(browser, ".steps"))
    assert [one.text for one in history.options] == [
        "0. suggested", "1. tightened", "2. levelled", "3. levelled",
    ]  # fmt: skip
    history.select_by_value("3")
    kept(browser, address, at, 3)
    assert get(address, f"/api/placements/{at}")["lying"]["angle"] == -1.25


def test_quarters_and_mirror_turn_the_photo_itself(browser, bench):
    address, at = bench
    open_station(browser, "Level")
    click(browser, "[data-by='1']")
    kept(browser, address, at, 2)
    wait(browser, lambda: box(browser, "photo")[3] > box(browser, "photo")[2])
    assert "quarter=1" in find(browser, ".whole [data-part=photo]").get_attribute("href")


PIECE_SHOWN = """
const done = arguments[0], look = () => {
  const href = document.querySelector(".piece [data-part=fine]").getAttribute("href");
  if (!href.startsWith("blob:")) return setTimeout(look, 30);
  const shown = new Image();
  shown.onload = () => {
    const sheet = Object.assign(document.createElement("canvas"), { width: shown.width, height: shown.height });
    sheet.getContext("2d").drawImage(shown, 0, 0);
    done(sheet.toDataURL());
  };
  shown.src = href;
};
setTimeout(look, 400);
"""


def as_array(data):
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)


@pytest.mark.refused
def test_four_corners_are_squared_up_with_a_lens_by_hand_and_by_keys(browser, bench, workspace):
    address, at = bench
    find(browser, "body").send_keys("q")
    wait(browser, lambda: find(browser, ".quad").is_displayed())
    pin = find(browser, "[data-square=nw]")
    drag(browser, pin, 12, 9, release=False)
    wait(browser, lambda: "True ratio" in text(browser, ".tools.is-level"))
    assert find(browser, "[data-part=lens]").is_displayed()
    seen = b64decode(browser.execute_async_script(PIECE_SHOWN).partition(",")[2])
    ActionChains(browser).release().perform()
    kept(browser, address, at, 2)
    corners = get(address, f"/api/placements/{at}")["lying"]["corners"]
    assert corners[0][0] > 180
    # what the piece showed in the hand is what the gesture makes, not the photo somewhere under it
    made = as_array(history.picture(workspace, at, Square(kind="square", corners=corners), 900))
    shown_then = as_array(seen)
    assert shown_then.shape[0] / shown_then.shape[1] == pytest.approx(4 / 5, abs=0.02)
    small = [cv2.resize(one, (40, 32), interpolation=cv2.INTER_AREA) for one in (made, shown_then)]
    assert np.abs(small[0].astype(float) - small[1]).mean() < 4
    browser.execute_script("arguments[0].focus()", pin)
    ActionChains(browser).send_keys(Keys.ARROW_RIGHT).perform()
    kept(browser, address, at, 3)
    nudged = get(address, f"/api/placements/{at}")["lying"]["corners"]
    assert nudged[0][0] == pytest.approx(corners[0][0] + 1)
    drag(browser, pin, 430, 300, release=False)  # across the others
    wait(browser, lambda: "convex" in text(browser, ".views .trouble-line"))
    ActionChains(browser).send_keys(Keys.ESCAPE).release().perform()
    wait(browser, lambda: get(address, f"/api/placements/{at}")["step"] == 3)
    find(browser, "body").send_keys("q")
    # the pane is the plane's only when the plane's picture is there
    squared = "const w = document.querySelector('.whole'); return [w.classList.contains('is-squaring'), w.querySelector('[data-part=photo]').getAttribute('href').includes('/plane')]"
    seen_states = set()

    def rests():
        seen_states.add(tuple(browser.execute_script(squared)))
        return (False, True) in seen_states

    wait(browser, rests)
    assert (False, False) not in seen_states
    assert "squared up" in text(browser, "#tally")


def test_the_crop_reaches_beyond_the_photo_on_a_chosen_ground(browser, bench):
    address, at = bench
    open_station(browser, "Ground")
    Select(find(browser, "[aria-label='What fills beyond the photo']")).select_by_value("mirror")
    assert kept(browser, address, at, 2) == pytest.approx([0, -80, 1200, 960])
    click(browser, "[aria-label='foot, centre']")
    assert kept(browser, address, at, 3) == pytest.approx([0, -160, 1200, 960])
    click(browser, ".tools.is-ground .way")
    from_point(browser, 0.5, 0.5).click().perform()
    kept(browser, address, at, 4)
    assert get(address, f"/api/placements/{at}")["ground"].startswith("#")
    click(browser, ".tools.is-ground input[type=checkbox]")
    kept(browser, address, at, 5)
    assert get(address, f"/api/placements/{at}")["own_size"] is not None  # its ground stays chosen
    assert get(address, f"/api/placements/{at}")["uncovered"] == 0


def test_lines_are_cycled_turned_and_remembered(browser, bench):
    body = find(browser, "body")
    drawn = "return document.querySelector('.piece [data-part=lines] path').getAttribute('d') ?? ''"
    body.send_keys("d")
    wait(browser, lambda: browser.execute_script(drawn).count("M") == 4)
    assert text(browser, ".choices").count("Lines thirds") == 1
    for _ in range(4):
        body.send_keys("d")
    wait(browser, lambda: "golden spiral" in text(browser, ".choices"))
    wait(browser, lambda: "C" in browser.execute_script(drawn))
    first = browser.execute_script(drawn)
    body.send_keys("f")
    wait(browser, lambda: browser.execute_script(drawn) not in ("", first))
    browser.refresh()
    wait(browser, lambda: "golden spiral" in text(browser, ".choices"))
    find(browser, "body").send_keys("D")
    wait(browser, lambda: "both diagonals" in text(browser, ".choices"))


def test_a_keep_zone_is_marked_noted_and_the_crop_moved_around_it(browser, bench):
    address, at = bench  # (350, 200, 500, 400) of 1200 × 800
    open_station(browser, "Photo")
    click(browser, "//button[normalize-space()='Mark a keep zone']")
    scale = box(browser, "photo")[2] / 1200
    from_point(browser, 0.6, 0.4).click_and_hold().move_by_offset(
        round(240 * scale), round(100 * scale)
    ).release().perform()  # from (720, 320) to (960, 420): beyond the right edge, 850
    wait(browser, lambda: "A keep zone is cut: 4" in text(browser, ".notes"))
    assert "1 keep zone, known to every size" in text(browser, ".tools.is-photo")
    (zone,) = get(address, f"/api/placements/{at}")["photo"]["keeps"]["zones"]
    assert (zone["left"], zone["width"]) == pytest.approx((720, 240), abs=3 / scale)
    assert get(address, f"/api/placements/{at}")["step"] == 1  # marking is no step of the crop
    click(browser, ".note.is-stop .way")
    moved = kept(browser, address, at, 2)
    assert moved[0] + moved[2] > zone["left"] + zone["width"]
    wait(browser, lambda: "keep zone" not in text(browser, ".notes"))
    open_station(browser, "Photo")
    click(browser, "//button[normalize-space()='Forget all']")
    wait(browser, lambda: "Nothing marked" in text(browser, ".tools.is-photo"))


def test_others_are_shown_how_they_would_lie_and_then_laid_so(
    browser, address, workspace, bring, tmp_path
):
    paths = [
        samples.photo(tmp_path / f"{name}.jpg", 1200, 800, quality=quality)
        for name, quality in (("quay", 95), ("pole", 90))
    ]
    taken = bring(*((path.name, path) for path in paths)).photos
    job_id = jobs.start(workspace, "Evening", [one.id for one in taken], [], ["4x5in@150"], NOW)
    first, second = (one.id for one in jobs.view(workspace, job_id).placements)
    history.keep(workspace, first, Scale(kind="scale", factor=0.5), NOW)
    open_bench(browser, address, job_id, first)
    click(browser, ".is-last .way:nth-of-type(2)")
    wait(browser, lambda: "pole.jpg on 4 × 5 in" in text(browser, "dialog.copies"))
    was, now = (
        find(browser, f".copies path{kind}").get_attribute("d") for kind in (".was", ":not(.was)")
    )
    assert was != now
    assert get(address, f"/api/placements/{second}")["step"] == 0
    click(browser, ".copies .is-primary")
    wait(browser, lambda: "Copied to 1 piece; it can" in text(browser, "dialog.copies"))
    laid = get(address, f"/api/placements/{second}")
    assert laid["crop"] == crop_of(address, first)
    assert laid["steps"][-1] == "crop copied from quay.jpg"


def test_other_shapes_are_laid_over_the_photo_with_what_they_would_trim(browser, bench):
    shapes = "//button[starts-with(normalize-space(), 'Ratios')]"
    click(browser, shapes)  # this job has no other size: common ones come
    wait(browser, lambda: "16:9 · screens · trims 30 %" in text(browser, "[data-part=shapes]"))
    assert "5:4 · 8 × 10, 16 × 20 in · trims 0 %" in text(browser, "[data-part=shapes]")


def test_a_framed_piece_is_seen_bare_with_what_is_taken_and_as_it_hangs(
    browser, address, workspace, bring, tmp_path
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1200, 800))).photos[0]
    asked = {"text": "8x10in@100", "name": "Stair", "frame": {"lip": "1/2in", "moulding": "1in"}}
    size = sizes.add(workspace, SizeBody.model_validate(asked))
    job_id = jobs.start(workspace, "Evening", [photo.id], [size.id], [], NOW)
    open_bench(browser, address, job_id, jobs.view(workspace, job_id).placements[0].id)
    assert find(browser, "[data-part=taken]").get_attribute("d") != ""
    click(browser, "//button[normalize-space()='Piece print only']")
    wait(browser, lambda: find(browser, "[data-part=moulding]").get_attribute("d") != "")
    assert find(browser, "[data-part=taken]").get_attribute("d") == ""
    assert "hangs 11 × 9 in" in text(browser, ".stage")
    click(browser, "//button[normalize-space()='Piece framed']")
    wait(browser, lambda: "beside the photo" in text(browser, ".choices"))
    assert box(browser, "rim")[2] == pytest.approx(box(browser, "crop")[2], abs=0.1)


def test_looking_nearer_changes_nothing_of_the_placement(browser, bench):
    address, at = bench
    before, photo = get(address, f"/api/placements/{at}"), box(browser, "photo")
    from_point(browser, 0.5, 0.5).double_click().perform()
    wait(browser, lambda: box(browser, "photo")[2] == pytest.approx(1200, abs=1))  # true pixels
    assert "photo · shown at 100 %" in text(browser, ".stage")
    shown = box(browser, "photo")
    whole = find(browser, ".whole")
    ActionChains(browser).key_down(Keys.CONTROL).drag_and_drop_by_offset(whole, 40, -30).key_up(
        Keys.CONTROL
    ).perform()
    moved = box(browser, "photo")
    assert (moved[0] - shown[0], moved[1] - shown[1]) == pytest.approx((40, -30), abs=1)
    click(browser, "//button[normalize-space()='Whole view']")
    wait(browser, lambda: box(browser, "photo") == pytest.approx(photo, abs=0.5))
    assert get(address, f"/api/placements/{at}") == before


def test_a_side_reaches_beyond_by_number_and_the_piece_stands_at_its_true_size(browser, bench):
    address, at = bench  # (350, 200, 500, 400) of 1200 × 800, 5 × 4 in at 150 ppi
    open_station(browser, "Ground")
    Select(find(browser, "[aria-label='Side that reaches beyond']")).select_by_visible_text("right")
    reach = find(browser, ".tools.is-ground [x-ref=reach]")
    reach.send_keys("far", Keys.ENTER)
    wait(browser, lambda: "not how far" in text(browser, ".views .trouble-line"))
    reach.send_keys(Keys.CONTROL, "a")
    reach.send_keys("100", Keys.ENTER)
    assert kept(browser, address, at, 2) == pytest.approx([350, 20, 950, 760])
    wait(browser, lambda: "Beyond now: 100 px right" in text(browser, ".tools.is-ground"))
    ways = [text(browser, "[title^='The piece large']")]
    while ways[-1] != "Piece true size" and len(ways) < 9:
        click(browser, "[title^='The piece large']")
        wait(browser, lambda: text(browser, "[title^='The piece large']") != ways[-1])
        ways.append(text(browser, "[title^='The piece large']"))
    assert ways == ["Piece print only", "Piece beside the photo", "Piece true size"]
    assert box(browser, "rim")[2:] == pytest.approx([480, 384], abs=0.1)  # at 96 to the inch
    click(browser, "//button[normalize-space()='Measure this screen']")
    slide = find(browser, "dialog.card input")
    slide.send_keys(Keys.END)  # a card 610 pixels wide
    wait(browser, lambda: find(browser, ".card-room rect").get_attribute("width") == "610")
    click(browser, "dialog.card .is-primary")
    wait(browser, lambda: box(browser, "rim")[2] == pytest.approx(5 * 610 * 25.4 / 85.6, abs=0.5))
    browser.refresh()  # the screen stays measured
    wait(browser, lambda: box(browser, "rim")[2] == pytest.approx(5 * 610 * 25.4 / 85.6, abs=0.5))
    click(browser, "[title^='The piece large']")
    wait(browser, lambda: "print only" in text(browser, "[title^='The piece large']"))
    open_station(browser, "Pixels")
    seen = box(browser, "rim")[2]
    click(browser, "//button[normalize-space()='Match screen pixels']")
    kept(browser, address, at, 3)
    assert get(address, f"/api/placements/{at}")["asked"]["width"] == round(seen)


def test_the_stage_never_changes_its_height_and_is_the_largest_thing(browser, bench):
    height = "return document.querySelector('.stage').clientHeight"
    over = """const t = [...document.querySelectorAll('.tools')].find(e => e.checkVisibility());
        return [t.scrollWidth - t.clientWidth, t.scrollHeight - t.clientHeight]"""
    seen = {browser.execute_script(height)}
    for name in ("Photo", "Level", "Crop", "Ground", "Pixels", "File"):
        open_station(browser, name)
        seen.add(browser.execute_script(height))
        assert max(browser.execute_script(over)) <= 8, name
    find(browser, "body").send_keys("q")
    wait(browser, lambda: find(browser, ".quad").is_displayed())
    seen.add(browser.execute_script(height))
    assert len(seen) == 1
    assert seen.pop() >= 440
    show(browser, 1600, 1000)
    assert browser.execute_script(height) >= 560
    show(browser, 1280, 800)
    find(browser, "body").send_keys("h")
    wait(browser, lambda: not find(browser, ".drawer").is_displayed())
    assert browser.execute_script(height) > 440


def test_a_piece_is_put_on_other_sizes_and_comes_back_as_it_was(browser, bench):
    address, at = bench
    lay = get(address, f"/api/placements/{at}")["lying"]
    ratio = Select(find(browser, ".ratio"))
    ratio.select_by_value("1:1")
    stays = find(browser, ".note[role=alert]")
    wait(browser, lambda: "This piece is a print. In 1:1 it is" in stays.text)
    assert get(address, f"/api/placements/{at}")["step"] == 1
    stays.find_element(By.XPATH, ".//button[contains(., 'unscaled')]").click()
    kept(browser, address, at, 2)
    wait(browser, lambda: "1:1" in text(browser, ".size-button"))
    assert not stays.is_displayed()
    assert "on 1:1" in browser.title
    ActionChains(browser).send_keys("t").perform()  # a square has no other way round; keys work
    click(browser, ".size-button")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".size-pick")) > 0)
    line = find(browser, "#size-find")
    line.send_keys("5x7in@100")
    wait(browser, lambda: "500 × 700 px" in text(browser, ".size-written .reads"))
    line.send_keys(Keys.ENTER)
    kept(browser, address, at, 3)
    wait(browser, lambda: not find(browser, ".sizes-dialog").is_displayed())
    assert get(address, f"/api/placements/{at}")["asked"]["width"] in (500, 700)
    Select(find(browser, ".ratio")).select_by_value("size")
    kept(browser, address, at, 4)
    assert get(address, f"/api/placements/{at}")["lying"] == lay


def test_an_outline_is_drawn_over_photo_and_piece_and_its_preview_is_clear_outside(
    browser, address, placed
):
    job_id, at = placed("500x500px outline circle")
    open_bench(browser, address, job_id, at)
    crop = box(browser, "crop")
    drawn = find(browser, ".whole .cut-edge").rect
    assert drawn["width"] == pytest.approx(crop[2], abs=4)
    assert drawn["height"] == pytest.approx(crop[3], abs=4)
    outside = find(browser, ".piece .outside")
    corner = "const p = new DOMPoint(0.05, 0.05), c = new DOMPoint(0.5, 0.5), o = arguments[0]; return [o.isPointInFill(p), o.isPointInFill(c)]"
    assert browser.execute_script(corner, outside) == [True, False]
    assert outside.get_attribute("style") == ""
    open_station(browser, "File")
    Select(find(browser, "[data-file=format]")).select_by_value("jpeg")
    wait(browser, lambda: "255, 255, 255" in outside.value_of_css_property("fill"))
    click(browser, ".history .way")
    wait(browser, lambda: get(address, f"/api/placements/{at}")["outside"] == "")
    browser.get(f"{address}/jobs/{job_id}")
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".piece-stood clipPath path"))
    assert find(browser, ".piece-stood .hold").tag_name == "path"


def test_joints_are_drawn_and_the_panels_are_swiped_by_hand_and_key(browser, address, placed):
    job_id, at = placed("300x400px panels 3")
    open_bench(browser, address, job_id, at)
    crop = box(browser, "crop")
    drawn = find(browser, ".whole .joints").rect
    assert drawn["width"] == pytest.approx(crop[2] / 3, abs=6)  # two lines, a panel apart
    next(
        one
        for one in browser.find_elements(By.CSS_SELECTOR, ".choices .way")
        if "swiped" in one.text
    ).click()
    stage, picture = find(browser, ".swipe-stage"), find(browser, ".swipe-stage img")
    word = find(browser, ".swipe [role=status]")

    def at_panel(n):
        wait(browser, lambda: word.text == f"Panel {n} of 3")
        left = stage.rect["x"] - (n - 1) * stage.rect["width"]
        wait(browser, lambda: abs(picture.rect["x"] - left) < 1.5)

    at_panel(1)
    stage.send_keys(Keys.ARROW_RIGHT)
    at_panel(2)
    ActionChains(browser).click_and_hold(stage).move_by_offset(-120, 0).release().perform()
    at_panel(3)
    ActionChains(browser).click_and_hold(stage).move_by_offset(9, 0).release().perform()
    at_panel(3)  # a slip is no swipe
    stage.send_keys(Keys.HOME)
    at_panel(1)
    run = next(
        one
        for one in browser.find_elements(By.CSS_SELECTOR, ".swipe .button")
        if one.text == "Let it run"
    )
    run.click()
    at_panel(2)
    run.click()
    click(browser, ".swipe form .button")
    browser.get(f"{address}/jobs/{job_id}")
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".piece-stood .joint-gap"))


def test_a_slip_of_the_hand_draws_no_crop_and_tightness_is_slid(browser, bench):
    address, at = bench
    before = crop_of(address, at)
    from_point(browser, 0.05, 0.95).click_and_hold().move_by_offset(2, 1).release().perform()
    slide = find(browser, "[x-ref=tightness]")
    ActionChains(browser).send_keys(".").perform()
    tighter = kept(browser, address, at, 2)
    assert tighter[2] == pytest.approx(before[2] / 1.02)
    ActionChains(browser).key_down(Keys.SHIFT).send_keys(".").key_up(Keys.SHIFT).perform()
    assert kept(browser, address, at, 3)[2] == pytest.approx(tighter[2] / 1.1)
    slide.send_keys(Keys.HOME)  # the largest
    assert kept(browser, address, at, 4)[2:] == [1000, 800]


def test_what_another_window_did_is_shown_before_the_next_gesture(browser, bench, workspace):
    _, at = bench
    history.keep(workspace, at, Move(kind="move", dx=-50, dy=0), NOW)
    browser.execute_script("window.dispatchEvent(new Event('focus'))")
    wait(browser, lambda: "another window" in text(browser, ".views .trouble-line"))
    wait(browser, lambda: find(browser, "input[name=left]").get_attribute("value") == "300")


def test_a_file_is_settled_made_and_downloaded_by_keys(browser, bench):
    address, at = bench
    ActionChains(browser).send_keys("6").perform()
    wait(browser, lambda: find(browser, ".tools.is-file").is_displayed())
    assert not find(browser, "[data-file=floor]").is_displayed()
    find(browser, "[data-file=at_most]").send_keys("20kB", Keys.ENTER)
    kept(browser, address, at, 2)
    click(browser, ".note .more .way")
    wait(browser, lambda: "more than 20 kB even at quality 60" in text(browser, ".notes"))
    click(browser, ".notes [data-way=quality]")  # one click lowers the floor
    kept(browser, address, at, 3)
    floor = find(browser, "[data-file=floor]")
    wait(browser, lambda: int(floor.get_attribute("value")) < 60)
    wait(browser, lambda: "even at quality" not in text(browser, ".notes"))
    floor.send_keys(Keys.CONTROL, "a")
    floor.send_keys("20", Keys.ENTER)
    kept(browser, address, at, 4)
    find(browser, "[data-file=at_most]").send_keys(Keys.CONTROL, "a")
    find(browser, "[data-file=at_most]").send_keys(Keys.DELETE, Keys.ENTER)
    kept(browser, address, at, 5)
    Select(find(browser, "[data-file=format]")).select_by_value("png")
    kept(browser, address, at, 6)
    wait(browser, lambda: text(browser, ".tools.is-file b").endswith(".png"))
    ActionChains(browser).send_keys("m").perform()
    wait(browser, lambda: find(browser, "[x-ref=download]").is_displayed())
    click(browser, ".file-word .way")
    wait(browser, lambda: "as asked" in text(browser, ".proof-dialog"))
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".earlier li")) == 1)


def now(address, at):
    return get(address, f"/api/placements/{at}")


def tiles(browser):
    return [one for one in browser.find_elements(By.CSS_SELECTOR, ".try") if one.is_displayed()]


def shown(browser):
    """How many tries are there to be seen."""
    loaded = "return [...document.querySelectorAll('.try img')].filter((one) => one.src && one.naturalWidth).length"
    return browser.execute_script(loaded)


def test_a_ground_is_continued_and_another_try_taken_by_a_key(browser, address, placed, worker):
    job_id, at = placed("16:9 extend", 150, 100)
    open_bench(browser, address, job_id, at)
    open_station(browser, "Ground")
    Select(find(browser, ".is-ground select")).select_by_value("continued")
    wait(browser, lambda: "continued" in text(browser, "[data-station=Ground] .figure"))
    wait(browser, lambda: len(tiles(browser)) >= 2)
    wait(browser, lambda: "keep zones never copied" in text(browser, ".is-ground .tries-word"))
    wait(browser, lambda: shown(browser) == len(tiles(browser)))
    taken = [one.get_attribute("class") for one in tiles(browser)].index("try is-taken")
    key = "2" if taken != 1 else "1"
    before = now(address, at)["lying"]["continued"]["try"]
    ActionChains(browser).send_keys(key).perform()
    wait(browser, lambda: now(address, at)["lying"]["continued"]["try"] != before)
    wait(browser, lambda: "is-taken" in tiles(browser)[int(key) - 1].get_attribute("class"))
    last = tiles(browser)[-1]
    last.find_element(By.CSS_SELECTOR, ".try-picture").click()  # the plain one
    wait(browser, lambda: now(address, at)["ground"] == "blur")
    click(browser, ".history .way")
    wait(browser, lambda: now(address, at)["ground"] == "continued")
    wait(browser, lambda: not now(address, at)["being_made"])


def test_the_quiet_place_is_one_of_the_lines_and_follows_the_crop(browser, address, placed):
    job_id, at = placed("4x5in@100", 1200, 800)
    open_bench(browser, address, job_id, at)
    ActionChains(browser).key_down(Keys.SHIFT).send_keys("d").key_up(Keys.SHIFT).perform()
    wait(browser, lambda: text(browser, ".views [title^='D;'] b") == "quiet place")
    line = find(browser, ".piece [data-part=lines] path:last-child")
    wait(browser, lambda: line.get_attribute("d").startswith("M"))
    first = line.get_attribute("d")
    ActionChains(browser).send_keys("f").perform()
    wait(browser, lambda: line.get_attribute("d") not in ("", first))
    ActionChains(browser).send_keys("d").perform()
    wait(browser, lambda: line.get_attribute("d") == "")


@pytest.mark.refused
def test_a_border_is_dragged_typed_refused_and_taken_away(browser, address, placed):
    job_id, at = placed("4x5in@100 border 10mm", 1200, 800)
    open_bench(browser, address, job_id, at)
    grip = find(browser, "[data-border=bottom] .grip")
    wait(browser, grip.is_displayed)
    ActionChains(browser).drag_and_drop_by_offset(grip, 0, -40).perform()
    wait(browser, lambda: now(address, at)["steps"] == ["suggested", "border changed"])
    widths = now(address, at)["border_text"].split()
    assert [width for width in widths if width == "10mm"] == ["10mm"] * 3
    assert float(widths[2].removesuffix("mm")) > 12
    open_station(browser, "Ground")
    field = find(browser, ".is-ground [title^='Paper around']")
    was = field.get_attribute("value")
    field.send_keys(Keys.CONTROL + "a" + Keys.NULL, "9in", Keys.ENTER)
    wait(browser, lambda: "leaves nothing" in text(browser, ".views .trouble-line"))
    wait(browser, lambda: field.get_attribute("value") == was)  # what was refused is not shown
    field.send_keys(Keys.CONTROL + "a" + Keys.NULL, Keys.BACKSPACE, Keys.ENTER)
    wait(browser, lambda: now(address, at)["border_text"] == "")
    assert now(address, at)["asked"]["width"] == 500
    wait(browser, lambda: not grip.is_displayed())


def test_another_photo_of_the_job_stands_behind_the_piece(
    browser, address, bring, tmp_path, workspace
):
    blue = np.full((80, 120, 3), (40, 120, 200), np.uint8)
    files = [("front.png", samples.photo(tmp_path / "front.png", 120, 80)), ("behind.png", samples.save(tmp_path / "behind.png", blue))]  # fmt: skip
    ids = [photo.id for photo in bring(*files).photos]
    job_id = jobs.start(workspace, "Stall", ids, [], ["300x300px png"], NOW)
    at = next(
        one.id for one in jobs.view(workspace, job_id).placements if one.photo_name == "front.png"
    )
    open_bench(browser, address, job_id, at)
    open_station(browser, "Ground")
    chosen = Select(find(browser, "[aria-label='A photo behind']"))
    chosen.select_by_visible_text("behind.png")
    wait(browser, lambda: now(address, at)["steps"][-1] == "ground chosen")
    wait(browser, lambda: "behind.png" in text(browser, "[data-station=Ground] .figure"))
    corner = "const i = document.querySelector('svg.piece [data-part=fine]'); return i.getAttribute('href')"
    source = browser.execute_script(corner)
    with Image.open(BytesIO(fetch(address, source))) as shown:
        assert (
            max(abs(a - b) for a, b in zip(shown.getpixel((3, 3)), (40, 120, 200), strict=True)) < 8
        )
    chosen.select_by_visible_text("no photo behind")
    wait(browser, lambda: "white" in text(browser, "[data-station=Ground] .figure"))


@pytest.mark.refused
def test_an_outline_is_drawn_on_the_piece_dragged_moved_by_keys_and_refused(
    browser, address, placed
):
    job_id, at = placed("4x5in@100 png", 1200, 800)
    open_bench(browser, address, job_id, at)
    open_station(browser, "Crop")
    button = "//button[normalize-space(.)='Draw an outline']"
    pane = find(browser, "svg.piece")

    def draw(*ways):
        click(browser, button)
        hand = (
            ActionChains(browser, duration=20)
            .move_to_element_with_offset(pane, -80, -80)
            .click_and_hold()
        )
        for way in ways:
            hand.move_by_offset(*way)
        hand.release().perform()

    draw((80, 40), (80, -40), (0, 160), (-160, 0), (0, -155))
    wait(browser, lambda: now(address, at)["steps"][-1] == "outline drawn")
    points = now(address, at)["outline_points"]
    assert 4 <= len(points) <= 8
    knobs = lambda: browser.find_elements(By.CSS_SELECTOR, "[data-outline-point] .knob")  # noqa: E731
    wait(browser, lambda: len(knobs()) == len(points))
    ActionChains(browser).drag_and_drop_by_offset(knobs()[0], -40, -30).perform()
    wait(browser, lambda: now(address, at)["steps"][-1] == "outline changed")
    dragged = now(address, at)["outline_points"]
    assert dragged[1:] == points[1:]
    assert dragged[0][0] < points[0][0] - 0.05
    browser.execute_script("document.querySelector('[data-outline-point=\"0\"]').focus()")
    ActionChains(browser).send_keys(Keys.ARROW_RIGHT).perform()
    wait(browser, lambda: now(address, at)["outline_points"][0][0] > dragged[0][0])
    assert now(address, at)["crop"] == [100, 0, 1000, 800]
    draw((60, 0))
    wait(browser, lambda: "encloses nothing" in text(browser, ".views .trouble-line"))
    chosen = Select(
        browser.find_element(
            By.XPATH, "//div[contains(@class,'is-crop')]//label[contains(., 'Outline')]/select"
        )
    )
    chosen.select_by_visible_text("none")
    wait(browser, lambda: now(address, at)["outline_text"] == "")
    wait(browser, lambda: not knobs())


def test_a_thing_is_cut_out_another_edge_taken_and_brushed_away_from(
    worker, browser, address, workspace, bring, tmp_path
):
    y, x = np.mgrid[0:200, 0:300]
    photo = np.full((200, 300, 3), (214, 212, 206), np.uint8)
    photo[(x - 150) ** 2 + (y - 100) ** 2 < 50**2] = (30, 60, 40)
    taken = bring(("ball.png", samples.save(tmp_path / "ball.png", photo))).photos[0]
    job_id = jobs.start(workspace, "Stall", [taken.id], [], ["300x200px png"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    open_bench(browser, address, job_id, at)
    open_station(browser, "Photo")
    click(browser, "//button[normalize-space(.)='Cut out']")
    wait(
        browser,
        lambda: len(browser.find_elements(By.CSS_SELECTOR, ".tries .try-picture img[src]")) >= 1,
    )
    wait(browser, lambda: "plausible" in text(browser, ".brush-word"))
    assert now(address, at)["steps"][-1] == "cut out"
    assert "look=original" in find(browser, "svg.whole [data-part=photo]").get_attribute("href")
    click(browser, "//div[contains(@class,'is-photo')]//button[normalize-space()='Take away']")
    whole = find(browser, "svg.whole [data-part=photo]")
    drag = ActionChains(browser).move_to_element(whole).click_and_hold()
    drag.move_by_offset(40, 0).release().perform()
    wait(browser, lambda: now(address, at)["steps"][-1] == "cut out anew")
    wait(browser, lambda: not browser.find_elements(By.CSS_SELECTOR, ".is-tiled"))
    wait(browser, lambda: "belongs to the thing" in text(browser, ".brush-word"))
    click(browser, "//div[contains(@class,'brush-go')]//button[text()='Done']")
    wait(
        browser,
        lambda: (
            "look=original"
            not in find(browser, "svg.whole [data-part=photo]").get_attribute("href")
        ),
    )
    assert "cut-out" in [note["code"] for note in now(address, at)["notes"]]
    click(browser, "//button[starts-with(., 'Undo')]")
    click(browser, "//button[starts-with(., 'Undo')]")
    wait(browser, lambda: not now(address, at)["photo"]["retouches"])


@pytest.mark.refused
def test_a_mark_is_laid_dragged_moved_by_keys_hidden_and_taken_away(
    browser, address, placed, workspace
):
    job_id, at = placed("4x5in@100", 1200, 800)
    body = LineBody(text="Quay studio")
    library.add_line(workspace, body, LETTER_FONTS["slab"], NOW)
    open_bench(browser, address, job_id, at)
    mark = find(browser, "[data-part=mark]")
    assert not mark.is_displayed()
    click(browser, "//button[starts-with(normalize-space(.), 'Mark')][@aria-haspopup]")
    click(browser, ".mark-choice button")
    wait(browser, lambda: text(browser, ".mark-choice [aria-pressed=true]") == "Quay studio")
    width = find(browser, "[data-mark=width]")
    width.send_keys(Keys.CONTROL + "a" + Keys.NULL, "200%", Keys.TAB)
    wait(browser, lambda: "out of range" in text(browser, ".mark-dialog .trouble-line"))
    wait(browser, lambda: width.get_attribute("value") == "20%")  # what was refused is not shown
    click(browser, "//dialog[@open]//button[text()='Done']")

    def laid():
        return get(address, f"/api/placements/{at}/mark")

    wait(browser, mark.is_displayed)
    assert laid()["lies"]["place"] == "bottom-right"
    pane = find(browser, "svg.piece")
    drag = (
        ActionChains(browser)
        .move_to_element(find(browser, "[data-part=mark] rect"))
        .click_and_hold()
    )
    drag.move_by_offset(-30, -200).perform()
    places = find(browser, "[data-part=mark-places]")
    wait(browser, lambda: places.get_attribute("d").count("z") == 9)
    ActionChains(browser).move_by_offset(-270, -150).release().perform()
    wait(browser, lambda: laid()["lies"]["place"] == "top-left")
    wait(browser, lambda: not places.get_attribute("d"))
    inside, whole, crop = mark.rect, pane.rect, now(address, at)["crop"]
    assert whole["x"] < inside["x"] < whole["x"] + whole["width"] / 2
    browser.execute_script("arguments[0].focus()", mark)
    ActionChains(browser).send_keys(Keys.ARROW_DOWN).perform()
    wait(browser, lambda: laid()["lies"]["place"] == "left")
    wait(browser, lambda: now(address, at)["steps"][-1] == "mark at left")
    assert now(address, at)["crop"] == crop  # the arrow was the mark's alone
    ActionChains(browser).send_keys(Keys.DELETE).perform()
    wait(browser, lambda: laid()["lies"] is None and not mark.is_displayed())
    click(browser, "//button[starts-with(normalize-space(.), 'Mark')][@aria-haspopup]")
    click(browser, "//dialog[@open]//button[text()='Show on this piece']")
    wait(browser, lambda: laid()["lies"] is not None)
    click(browser, "//dialog[@open]//button[text()='Take away']")
    wait(browser, lambda: laid()["mark"] is None)
    click(browser, "//dialog[@open]//button[text()='Done']")
    wait(browser, lambda: not mark.is_displayed())


def test_a_source_is_brushed_for_one_side_of_a_ground(browser, address, placed, workspace):
    job_id, at = placed("2:1 extend", 150, 100)
    open_bench(browser, address, job_id, at)
    history.keep(workspace, at, Continue(kind="continue"), NOW)
    browser.refresh()
    open_station(browser, "Ground")
    press = "//div[contains(@class,'is-tries')]//button[normalize-space()='{}']"
    assert not find(browser, "[aria-label='Beyond which side it is copied']").is_displayed()
    click(browser, press.format("Choose where to copy from"))
    side = Select(find(browser, "[aria-label='Beyond which side it is copied']"))
    wait(
        browser, lambda: [option.text for option in side.options] == ["all sides", "left", "right"]
    )
    from_point(browser, 0.5, 0.3).click_and_hold().move_by_offset(0, 30).release().perform()
    side.select_by_visible_text("right")
    click(browser, press.format("Use what is brushed"))
    wait(
        browser,
        lambda: "Beyond right: only what was brushed for it." in text(browser, ".tries-word"),
    )
    ground = now(address, at)["lying"]["continued"]
    assert ground["take_from"] == []
    assert [source["side"] for source in ground.get("side_sources", [])] == ["right"]
    # Nothing brushed takes it back.
    click(browser, press.format("Choose where to copy from"))
    side.select_by_visible_text("right")
    click(browser, press.format("Use what is brushed"))
    wait(browser, lambda: "only what was brushed" not in text(browser, ".tries-word"))
    assert now(address, at)["lying"]["continued"].get("side_sources", []) == []


def test_a_thing_is_painted_over_by_hand_and_by_keys_and_undone(
    browser, address, placed, worker, workspace
):
    job_id, at = placed("3:2", 150, 100)
    open_bench(browser, address, job_id, at)
    open_station(browser, "Photo")
    button = "//div[contains(@class,'is-photo')]//button[normalize-space()='{}' and not(ancestor::*[contains(@style,'none')])]"

    def press(name):
        click(browser, button.format(name))

    press("Paint over")
    radius = find(browser, "[aria-label='Radius of the brush, typed']")
    radius.clear()
    radius.send_keys("8" + Keys.TAB)
    from_point(browser, 0.4, 0.5).click_and_hold().move_by_offset(30, 0).release().perform()
    find(browser, ".whole").send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, Keys.SPACE)
    press("Fill it")
    wait(browser, lambda: len(tiles(browser)) >= 1)
    wait(browser, lambda: "retouch" in text(browser, "[data-station=Photo] .figure"))
    retouch = retouches.view(workspace, now(address, at)["photo"]["id"]).retouches[0]
    assert [len(retouch.strokes), retouch.strokes[0].radius] == [2, 8]
    wait(browser, lambda: "from this photo alone" in text(browser, ".is-photo .brush-word"))
    assert now(address, at)["steps"][-1] == "painted over"
    press("Show without")
    wait(browser, lambda: now(address, at)["steps"][-1] == "shown without a retouch")
    press("Done")
    browser.switch_to.active_element.send_keys(Keys.CONTROL + "z")
    wait(browser, lambda: now(address, at)["place"] == 1)
    browser.switch_to.active_element.send_keys(Keys.CONTROL + "z")
    wait(browser, lambda: "retouch" not in text(browser, "[data-station=Photo] .figure"))


def test_a_place_of_the_continued_ground_is_painted_over_by_hand(browser, address, placed, worker):
    job_id, at = placed("2:1 extend", 150, 100)
    open_bench(browser, address, job_id, at)
    open_station(browser, "Ground")
    Select(find(browser, "[aria-label='What fills beyond the photo']")).select_by_value("continued")
    wait(browser, lambda: len(tiles(browser)) >= 1 and not now(address, at)["being_made"])
    open_station(browser, "Photo")
    click(browser, "//div[contains(@class,'is-photo')]//button[normalize-space()='Paint over']")
    radius = find(browser, "[aria-label='Radius of the brush, typed']")
    radius.clear()
    radius.send_keys("5" + Keys.TAB)
    from_point(browser, -0.08, 0.5).click_and_hold().move_by_offset(4, 20).release().perform()
    click(browser, "//div[contains(@class,'is-photo')]//button[normalize-space()='Fill it']")
    wait(browser, lambda: len(now(address, at)["lying"]["continued"]["over"]) == 1)
    wait(browser, lambda: "Brush over the thing" in text(browser, ".is-photo .brush-word"))
    assert now(address, at)["steps"][-1] == "painted over in the ground"
    open_station(browser, "Ground")
    wait(browser, lambda: "1 place in it painted over" in text(browser, ".is-ground .tries-word"))
    # It stands around the photo as long as it is there.
    wait(browser, lambda: find(browser, ".shows-ground [data-part=ground-picture]").is_displayed())
    click(browser, ".tools.is-ground .tick input")
    wait(browser, lambda: not browser.find_elements(By.CSS_SELECTOR, ".shows-ground"))


def test_texture_is_copied_from_a_spot_and_the_photo_shows_it(
    browser, address, placed, worker, workspace
):
    job_id, at = placed("3:2", 150, 100)
    open_bench(browser, address, job_id, at)
    open_station(browser, "Photo")
    source = get_photo(browser)
    click(browser, ".is-photo button[title^='Lay texture']")
    from_point(browser, 0.2, 0.3).click().perform()
    from_point(browser, 0.6, 0.6).click_and_hold().move_by_offset(40, 10).perform()
    copied = find(browser, "[data-part=texture]")
    assert copied.is_displayed()
    ActionChains(browser).release().perform()
    wait(browser, lambda: get_photo(browser) != source)
    one = retouches.view(workspace, now(address, at)["photo"]["id"]).retouches[0]
    assert one.kind == "copy_texture"
    assert [round(step / 150, 1) for step in there(one.offset)] == [-0.4, -0.2]
    wait(browser, lambda: not copied.is_displayed())


def get_photo(browser):
    return find(browser, ".whole [data-part=photo]").get_attribute("href")


@pytest.mark.refused
def test_what_is_refused_is_shown_by_no_control_and_moves_nothing(browser, address, placed):
    job_id, at = placed("window 300x200px")
    open_bench(browser, address, job_id, at)
    assert not find(browser, ".whole [data-part=corners]").is_displayed()  # a window has no grips
    assert not find(browser, "[data-part=brush-spot]").is_displayed()
    open_station(browser, "Ground")
    colour = find(browser, ".is-ground .colour")
    before, panes = colour.get_attribute("value"), find(browser, ".stage").rect
    colour.send_keys(Keys.CONTROL, "a")
    colour.send_keys("transparent", Keys.TAB)
    wait(browser, lambda: text(browser, ".views .trouble-line"))
    wait(browser, lambda: colour.get_attribute("value") == before)
    assert find(browser, ".is-ground [type=checkbox]").is_selected() is False
    assert find(browser, ".stage").rect == panes
    assert get(address, f"/api/placements/{at}")["step"] == 0
