"""What only a browser can show: dragging, keys, focus, and a whole walk from photo to file."""

from __future__ import annotations

import re
import time
from io import BytesIO
from urllib.request import urlopen

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
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

pytestmark = pytest.mark.browser


def measure(browser, field):
    return find(browser, f"[data-measure='{field}']")


def cells(browser, row):
    """The words of one row: pixels, physical size, resolution, bytes; fields as they stand."""
    script = """return [...document.querySelectorAll(".measures .row")[arguments[0]].children].slice(1)
      .map(c => [...c.childNodes].map(n => n.value ?? n.textContent).join("").trim())"""
    return browser.execute_script(script, row)


@pytest.mark.refused
def test_relabel_and_resample_are_told_apart_live_before_one_is_kept(browser, bench):
    address, at = bench  # 750 × 600 px, 5 × 4 in at 150 ppi
    click(browser, "[data-station=Pixels]")
    wait(browser, lambda: cells(browser, 1)[3] != "")  # weighed
    now = cells(browser, 1)
    assert now[:3] == ["750 × 600 px", "5 × 4 in", "150 ppi"]
    width = measure(browser, "relabel.width")
    width.send_keys(Keys.CONTROL, "a")
    width.send_keys("12,5")
    wait(browser, lambda: cells(browser, 2)[:3] == ["750 × 600 px", "12,5 × 10 in", "60 ppi"])
    assert cells(browser, 2)[3] == now[3]
    assert cells(browser, 1) == now
    ppi = measure(browser, "resample.ppi")
    ppi.send_keys(Keys.CONTROL, "a")
    ppi.send_keys("90")
    wait(browser, lambda: cells(browser, 3)[:3] == ["450 × 360 px", "5 × 4 in", "90 ppi"])
    assert cells(browser, 3)[3] != now[3]
    assert get(address, f"/api/placements/{at}")["own_size"] is None
    ppi.send_keys(Keys.ENTER)
    wait(browser, lambda: cells(browser, 1)[:3] == ["450 × 360 px", "5 × 4 in", "90 ppi"])
    assert text(browser, ".size-button") == "4 × 5 in\nown\n▾"
    assert "makes 450 × 360 px: 5 × 4 in at 90 ppi" in text(browser, "#tally")
    width = measure(browser, "relabel.width")
    width.send_keys(Keys.CONTROL, "a")
    width.send_keys("wide")
    assert text(browser, ".views .trouble-line") == ""  # while it is written no one objects
    width.send_keys(Keys.ENTER)
    wait(browser, lambda: "“wide” is not a length" in text(browser, ".views .trouble-line"))
    press_undo = find(browser, ".history .way")
    press_undo.click()
    wait(browser, lambda: cells(browser, 1)[:3] == now[:3])


def test_a_crop_beyond_the_photo_is_drawn_with_its_ground(browser, address, placed):
    job_id, at = placed("4x5in@150 extend")
    open_bench(browser, address, job_id, at)
    photo, crop = box(browser, "photo"), box(browser, "crop")
    assert crop[2] == pytest.approx(photo[2], abs=0.1)
    assert crop[3] == pytest.approx(photo[3] * 1.2, abs=0.1)
    assert crop[1] > 0
    assert find(browser, "[data-part=ground]").get_attribute("fill") == "#ffffff"
    drag(browser, find(browser, "[data-part=crop]"), 0, crop[3] / 5)
    moved = kept(browser, address, at, 1)
    assert moved[1] == pytest.approx(-80 + 192, abs=12)
    assert find(browser, "#tab-ground").text.splitlines() == ["Ground", "28 % white"]


def test_what_a_profile_cannot_hold_is_striped_on_the_piece(
    browser, address, workspace, bring, tmp_path
):
    wide = np.full((80, 120, 3), (120, 110, 100), np.uint8)
    wide[:, :60] = (30, 255, 30)
    path = tmp_path / "lantern.png"
    Image.fromarray(wide).save(path, icc_profile=samples.p3())
    photo = bring(("lantern.png", path)).photos[0]
    asked = {"text": "photo", "name": "Web", "file": {"profile": "srgb"}}
    size = sizes.add(workspace, SizeBody.model_validate(asked))
    job_id = jobs.start(workspace, "Evening", [photo.id], [size.id], [], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    open_bench(browser, address, job_id, at)
    click(browser, "[data-station=File]")
    click(browser, ".tools.is-file .tick input")
    said = "50 % of the piece lies beyond sRGB: striped above."
    wait(browser, lambda: said in text(browser, ".tools.is-file"))
    shown = "return document.querySelector('[data-part=fine]').getAttribute('href')"
    wait(browser, lambda: "marks=true" in browser.execute_script(shown))
    with Image.open(BytesIO(fetch(address, f"/api/placements/{at}/preview?marks=true"))) as image:
        seen = np.asarray(image.convert("L")).astype(int)
    assert np.ptp(seen[:, :50]) > 200
    assert np.ptp(seen[:, 70:]) < 12


def test_from_dropped_photos_to_a_measured_file(browser, address, tmp_path):
    good = samples.photo(tmp_path / "quay.jpg", 1200, 800, dpi=(300, 300))
    bad = tmp_path / "words.jpg"
    bad.write_text("not a picture")
    browser.get(address)
    start = find(browser, ".begin-go .is-primary")
    assert not start.is_displayed()
    find(browser, "#files").send_keys(f"{good}\n{bad}")
    wait(browser, lambda: "1200 × 800 px" in text(browser, ".taken"))
    assert "3:2" in text(browser, ".taken")
    assert "4 × 2.7 in at 300 ppi" in text(browser, ".taken")
    assert "words.jpg was not taken in. It is not a picture that can be read." in text(
        browser, ".refused"
    )
    assert start.text == "Open the bench"  # of a free crop, where no size is chosen
    click(browser, ".taken .way")
    wait(browser, lambda: "Save a size of 1200 × 800 px at 300 ppi" in text(browser, ".taken"))
    click(browser, "//button[normalize-space()='Save it']")
    wait(browser, lambda: "Saved: like quay" in text(browser, ".taken"))
    like = find(browser, ".size-choice[aria-pressed=true]")
    assert like.text == "like quay"
    like.click()
    browser.refresh()
    wait(browser, lambda: "1200 × 800 px" in text(browser, ".taken"))  # still in hand
    start, written = find(browser, ".begin-go .is-primary"), find(browser, "#written")
    written.send_keys("8x")
    wait(browser, lambda: "the height is missing" in text(browser, "#reads"))
    assert written.get_attribute("aria-invalid") == "false"  # some saved sizes are called so
    written.send_keys("q")
    wait(browser, lambda: written.get_attribute("aria-invalid") == "true")
    written.send_keys(Keys.BACKSPACE, "10")
    wait(browser, lambda: "Did you mean 8x10in@300 or 8x10cm@300 or 4:5" in text(browser, "#reads"))
    click(browser, "#reads .way")
    wait(browser, lambda: "8 × 10 in at 300 ppi" in text(browser, "#reads"))
    written.clear()
    written.send_keys("4x5in 150 dpi")
    wait(browser, lambda: "4 × 5 in at 150 ppi: 600 × 750 px" in text(browser, "#reads"))
    start.click()
    wait(browser, lambda: "/bench/" in browser.current_url)
    wait(browser, lambda: "makes 750 × 600 px: 5 × 4 in at 150 ppi" in text(browser, "#tally"))
    click(browser, ".note .more .way")  # the gravest is shown, the others on wish
    wait(browser, lambda: "sRGB is assumed" in text(browser, ".all-notes"))
    click(browser, "[data-station=File]")
    click(browser, ".tools.is-file .button")
    wait(browser, lambda: find(browser, ".file-word .way").is_displayed())
    wait(browser, lambda: find(browser, "[x-ref=download]").is_displayed())
    click(browser, ".file-word .way")
    wait(browser, lambda: find(browser, ".proof").is_displayed())
    rows = [row.text for row in browser.find_elements(By.CSS_SELECTOR, ".proof tbody tr")]
    assert rows[:3] == [
        "pixels 750 × 600 750 × 600 as asked",
        "resolution 150 ppi 150 ppi as asked",
        "physical size 5 × 4 in 5 × 4 in as asked",
    ]
    with urlopen(find(browser, ".tools.is-file a").get_attribute("href")) as answer:
        assert answer.read(3) == b"\xff\xd8\xff"
    browser.get(address)
    assert "1 made of 1" in text(browser, ".shelf")


@pytest.mark.parametrize("way", ["drop", "paste"])
def test_photos_come_in_dropped_anywhere_or_pasted(browser, address, way):
    browser.get(address)
    wait(browser, lambda: find(browser, "#written").is_displayed())
    data = list(samples.bytes_of(samples.grain(90, 60), "PNG"))
    browser.execute_script(
        """
        const held = new DataTransfer();
        held.items.add(new File([new Uint8Array(arguments[1])], "quay.png"));
        const told = arguments[0] === "drop"
          ? new DragEvent("drop", { dataTransfer: held, bubbles: true, cancelable: true })
          : new ClipboardEvent("paste", { clipboardData: held, bubbles: true });
        document.querySelector("h1").dispatchEvent(told);
        """,
        way,
        data,
    )
    wait(browser, lambda: "quay.png\n90 × 60 px · 3:2" in text(browser, ".taken"))
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".size-choice")) == 9)
    click(browser, ".size-choice")
    assert "4 × 6 in at 300 ppi" in text(browser, "#reads")
    find(browser, "#written").send_keys("long st")
    wait(browser, lambda: "Long strip" in text(browser, ".sizes"))
    found = [one.text for one in browser.find_elements(By.CSS_SELECTOR, ".size-choice")]
    assert found == ["4 × 6 in print", "Long strip"]  # what is on stays in sight
    browser.find_elements(By.CSS_SELECTOR, ".size-choice")[1].click()
    find(browser, "#written").clear()
    find(browser, "#written").send_keys("600 wide, quay SIGN")
    wait(browser, lambda: text(browser, ".taken").count("\n4 × 6 in print: Stop: ") == 1)
    wait(browser, lambda: "Long strip: → 90 × 30 px" in text(browser, ".taken"))
    twice = "const b = document.querySelector('.begin-go .is-primary'); b.click(); b.click()"
    browser.execute_script(twice)  # an eager hand starts no second job
    wait(browser, lambda: "1 photo, 4 sizes" in text(browser, ".ledge-counts"))
    assert len(get(address, "/api/jobs")) == 1
    assert text(browser, "h1") == "quay"
    browser.get(address)
    wait(browser, lambda: not find(browser, ".taken").is_displayed())


def test_the_crop_is_dragged_over_the_photo_and_follows_while_held(browser, bench):
    address, at = bench
    before, _, width, _ = box(browser, "crop")
    per_photo = width / 500
    drag(browser, find(browser, "[data-part=crop]"), 50, -25, release=False)
    wait(browser, lambda: abs(box(browser, "crop")[0] - before - 50) < 0.1)
    assert crop_of(address, at) == [350, 200, 500, 400]  # shown, not kept
    ActionChains(browser).release().perform()
    left, top, *_ = kept(browser, address, at, 2)
    assert left == pytest.approx(350 + 50 / per_photo, abs=0.01)
    assert top == pytest.approx(200 - 25 / per_photo, abs=0.01)
    wait(browser, lambda: "Undo: moved" in text(browser, ".history"))


def test_escape_in_the_middle_of_a_drag_leaves_no_trace(browser, bench):
    address, at = bench
    before = box(browser, "crop")
    drag(browser, find(browser, "[data-part=crop]"), 60, 30, release=False)
    wait(browser, lambda: box(browser, "crop") != before)
    find(browser, "body").send_keys(Keys.ESCAPE)
    wait(browser, lambda: box(browser, "crop") == before)
    ActionChains(browser).release().perform()
    time.sleep(0.3)
    assert box(browser, "crop") == before
    assert get(address, f"/api/placements/{at}")["steps"] == ["suggested", "tightened"]


def test_a_corner_is_dragged_and_with_alt_it_grows_from_the_centre(browser, bench):
    address, at = bench
    corner = find(browser, "[data-at=se] .knob")
    drag(browser, corner, 40, 32)
    left, top, width, height = kept(browser, address, at, 2)
    assert (left, top) == pytest.approx((350, 200))
    assert width > 550
    assert width / height == pytest.approx(750 / 600)
    ActionChains(browser).key_down(Keys.ALT).perform()
    drag(browser, corner, -60, -48)
    ActionChains(browser).key_up(Keys.ALT).perform()
    smaller = kept(browser, address, at, 3)
    assert smaller[2] < width
    assert smaller[0] + smaller[2] / 2 == pytest.approx(left + width / 2)


def test_the_photo_is_dragged_under_the_pieces_fixed_edge(browser, bench):
    address, at = bench
    rim = box(browser, "rim")
    drag(browser, find(browser, "[data-part=rim]"), 30, 0)
    left, top, width, _ = kept(browser, address, at, 2)
    assert left == pytest.approx(350 - 30 * 500 / rim[2], abs=0.01)
    assert (top, width) == (200, 500)
    assert box(browser, "rim") == rim


def test_a_whole_placement_by_keys_alone(browser, address, workspace, bring, tmp_path):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1200, 800))).photos[0]
    job_id = jobs.start(workspace, "Evening", [photo.id], [], ["4x5in@150", "3x3in@100"], NOW)
    first, second = (piece.id for piece in jobs.view(workspace, job_id).placements)
    open_bench(browser, address, job_id, first)
    keys = lambda *given: ActionChains(browser).send_keys(*given).perform()  # noqa: E731
    keys(".", ".")
    assert kept(browser, address, first, 1)[2] == pytest.approx(1000 / 1.02**2)
    keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
    moved = kept(browser, address, first, 2)
    assert moved[0] + moved[2] / 2 == pytest.approx(600 + 3 * moved[2] / 750)
    keys("t")
    turned = kept(browser, address, first, 3)
    assert turned[2] / turned[3] == pytest.approx(600 / 750)
    wait(browser, lambda: "makes 600 × 750 px: 4 × 5 in" in text(browser, "#tally"))
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    assert kept(browser, address, first, 2) == moved
    keys("0")
    assert kept(browser, address, first, 4) == [100, 0, 1000, 800]
    keys(",")  # already the largest: nothing changes, and no step is kept
    keys("j")
    wait(browser, lambda: browser.current_url.endswith(f"/bench/{second}"))
    wait(browser, lambda: find(browser, ".is-crop .hands .button:disabled").text == "Tall / wide")
    keys("k")
    wait(browser, lambda: browser.current_url.endswith(f"/bench/{first}"))
    wait(browser, lambda: box(browser, "crop")[2] > 0)
    keys(Keys.ENTER)
    wait(browser, lambda: browser.current_url.endswith(f"/bench/{second}"))
    assert get(address, f"/api/placements/{first}")["state"] == "settled"
    assert get(address, f"/api/placements/{first}")["place"] == 3


def test_from_the_ledge_to_a_downloaded_file_in_twelve_presses(
    browser, address, workspace, bring, tmp_path
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1200, 800))).photos[0]
    job_id = jobs.start(workspace, "Evening", [photo.id], [], ["4x5in@150"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    browser.get(f"{address}/jobs/{job_id}")
    wait(browser, lambda: find(browser, ".count.is-new"))
    presses = 0

    def press(*given):
        nonlocal presses
        ActionChains(browser).send_keys(*given).perform()
        presses += len(given)

    press("j", Keys.ENTER)
    wait(browser, lambda: "/bench/" in browser.current_url)
    wait(browser, lambda: box(browser, "crop")[2] > 0)
    press(".", ".", Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, "t")
    assert kept(browser, address, at, 3)
    press("m")
    ready = "return document.querySelector('[x-ref=download]').getAttribute('href')"
    wait(browser, lambda: (browser.execute_script(ready) or "").endswith(".jpg"))
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("s").key_up(Keys.CONTROL).perform()
    assert presses + 2 <= 12
    made = get(address, "/api/deliveries/1")["files"][0]
    assert (made["state"], made["asked"]["width"]) == ("made", 600)
    link = find(browser, "[x-ref=download]").get_attribute("href").removeprefix(address)
    assert fetch(address, link)[:3] == b"\xff\xd8\xff"


def test_letters_can_be_switched_off_and_choices_are_remembered(browser, bench):
    address, at = bench
    ActionChains(browser).send_keys("w", "s", "?").perform()
    wait(browser, lambda: find(browser, ".keys").is_displayed())
    assert "turn wide or tall" in text(browser, ".keys")
    click(browser, ".keys input")
    ActionChains(browser).send_keys(Keys.ESCAPE).perform()
    ActionChains(browser).send_keys("t").perform()
    browser.refresh()
    wait(browser, lambda: box(browser, "crop")[2] > 0)
    assert get(address, f"/api/placements/{at}")["step"] == 1
    assert browser.execute_script("return document.documentElement.dataset.tone") == "mid"
    assert find(browser, ".stage").get_attribute("data-shade") == "weak"


def test_a_slipped_unit_is_fixed_with_one_click(browser, address, placed):
    job_id, at = placed("6x8px")
    open_bench(browser, address, job_id, at)
    wait(browser, lambda: "Did you mean inches: 6 × 8 in?" in text(browser, ".note.is-stop"))
    click(browser, ".note.is-stop .way")
    wait(browser, lambda: "makes 2400 × 1800 px: 8 × 6 in" in text(browser, "#tally"))
    wait(browser, lambda: text(browser, ".size-button") == "6 × 8 in\n▾")


@pytest.mark.refused
def test_typed_figures_place_the_crop_and_nonsense_is_told(browser, bench):
    address, at = bench
    left = find(browser, "input[name=left]")
    left.send_keys(Keys.CONTROL, "a")
    left.send_keys("12,5", Keys.ENTER)
    assert kept(browser, address, at, 2)[0] == pytest.approx(12.5)
    left.send_keys(Keys.CONTROL, "a")
    left.send_keys("middle", Keys.TAB)
    wait(
        browser,
        lambda: "“middle” is not a number" in text(browser, ".views .trouble-line"),
    )
    assert get(address, f"/api/placements/{at}")["step"] == 2
    click(browser, ".history .way")  # what was refused stands in nothing's way
    wait(browser, lambda: get(address, f"/api/placements/{at}")["place"] == 1)


def test_everything_has_a_name_and_fits_at_twice_the_size(browser, bench):
    address, _ = bench
    unnamed = """
      const named = e => e.ariaLabel || e.getAttribute('aria-labelledby') || e.textContent.trim() || e.title || e.labels?.length || e.alt;
      return [...document.querySelectorAll('a,button,input,img,[role]:not([role=status],[role=alert])')]
        .filter(e => e.checkVisibility() && !named(e)).map(e => e.outerHTML)"""
    overflow = "return document.documentElement.scrollWidth - window.innerWidth"
    for page in (browser.current_url, address):
        browser.get(page)
        wait(browser, lambda: browser.execute_script("return document.readyState") == "complete")
        assert browser.execute_script(unnamed) == []
        for width, height in ((1280, 800), (1600, 1000), (640, 400)):
            show(browser, width, height)
            assert browser.execute_script(overflow) <= 0
        show(browser, 1280, 800)


def looked_at(browser):
    """The pixel of the file the methods are compared about."""
    found = re.search(
        r"About pixel (\d+), (\d+) of 750 × 600", text(browser, ".compare-methods .soft")
    )
    assert found is not None
    return int(found[1]), int(found[2])


def test_methods_are_looked_at_close_dragged_elsewhere_and_taken(browser, bench):
    address, at = bench
    click(browser, "[data-station=Pixels]")
    click(browser, "//button[contains(normalize-space(), 'Compare methods')]")
    names = "return [...document.querySelectorAll('.looks figcaption b')].map(b => b.textContent)"
    wait(browser, lambda: browser.execute_script(names) == ["gentle", "natural", "crisp", "blocks"])
    drawn = "return [...document.querySelectorAll('.look img')].map(i => i.naturalWidth)"
    wait(browser, lambda: browser.execute_script(drawn) == [220] * 4)
    x, y = looked_at(browser)  # the busiest spot
    wait(browser, lambda: "This crop has 100." in text(browser, ".enough"))
    assert find(browser, ".enough .curve").get_attribute("d").startswith("M30")
    drag(browser, find(browser, ".look img"), -60, 40)
    x, y = min(x + 60, 640), max(y - 40, 110)
    wait(browser, lambda: looked_at(browser) == (x, y))
    find(browser, ".looks").send_keys(Keys.ARROW_LEFT)
    wait(browser, lambda: looked_at(browser) == (max(x - 40, 110), y))
    click(browser, "[data-sharp=on]")
    wait(browser, lambda: get(address, f"/api/placements/{at}")["sharpen_for"] == "smooth")
    wait(browser, lambda: find(browser, "[data-sharp=by]").is_displayed())
    wait(browser, lambda: find(browser, "figure.is-chosen b").text == "natural")
    click(browser, "[data-method=lanczos]")
    wait(browser, lambda: find(browser, "figure.is-chosen b").text == "crisp")
    assert get(address, f"/api/placements/{at}")["method"] == "lanczos"
    click(browser, ".compare-methods form .button")
    click(browser, "[data-station=Pixels]")
    assert find(browser, "[data-finish=method]").get_attribute("value") == "lanczos"
