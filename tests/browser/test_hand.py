"""The hand: what people do without thinking works at the first try, on every kind of size, or says why not."""

from __future__ import annotations

import math
from base64 import b64encode

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from oak_ledge.core.gestures.square import Square
from oak_ledge.flows.bench import history
from tests import samples
from tests.browser.steps import box, click, crop_of, find, get, kept, open_bench, show, text, wait
from tests.conftest import NOW

pytestmark = pytest.mark.browser

KINDS = {
    "free": "100%",
    "ratio": "4:5",
    "one edge": "long 900px",
    "exact": "4x5in@150",
    "window": "window 500x400px",
    "panels": "2x3in@100 panels 2",
    "squared": "3:2",
}


def place(browser, css):
    script = "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
    return browser.execute_script(script, css)


def pull(browser, start, by, *, shift=False, release=True):
    """Press at a place of the page, move in six steps, let go."""
    chain = ActionChains(browser, duration=15)
    if shift:
        chain.key_down(Keys.SHIFT)
    pointer = chain.w3c_actions.pointer_action
    pointer.move_to_location(*map(round, start)).pointer_down()
    for n in range(1, 7):
        x, y = (at + way * n / 6 for at, way in zip(start, by, strict=True))
        pointer.move_to_location(round(min(max(x, 0), 1279)), round(min(max(y, 0), 799)))
    if release:
        pointer.pointer_up()
    chain.perform()
    if shift:
        ActionChains(browser).key_up(Keys.SHIFT).perform()


def on_photo(browser, u, v):
    script = "const b = document.querySelector('.whole [data-part=photo]').getBoundingClientRect(); return [b.x + arguments[0] * b.width, b.y + arguments[1] * b.height]"
    return browser.execute_script(script, u, v)


def said(browser):
    """What the page says in answer to a hand."""
    asked = [
        note.text
        for note in browser.find_elements("css selector", ".notes [role=alert]")
        if note.is_displayed()
    ]
    return " ".join([text(browser, ".views .trouble-line"), *asked]).strip()


def answered(browser, address, at, step):
    """Wait until a hand was answered: by a step, by words, or by looking nearer."""
    whole = "//button[normalize-space()='Whole view']"

    def happens():
        now = get(address, f"/api/placements/{at}")["step"]
        looks = browser.find_element("xpath", whole).is_displayed()
        return (now != step and "step") or said(browser) or (looks and "looked")

    return wait(browser, happens)


@pytest.mark.refused
@pytest.mark.parametrize("kind", KINDS)
def test_no_gesture_is_silent_on_any_kind_of_size(browser, address, placed, workspace, kind):
    job_id, at = placed(KINDS[kind])
    if kind == "squared":
        corners = ((200.0, 100.0), (1000.0, 140.0), (980.0, 700.0), (220.0, 640.0))
        history.keep(workspace, at, Square(kind="square", corners=corners), NOW)
    open_bench(browser, address, job_id, at)

    def does(start, by, **how):
        step = get(address, f"/api/placements/{at}")["step"]
        pull(browser, start, by, **how)
        return answered(browser, address, at, step)

    assert does(on_photo(browser, 0.3, 0.3), (90, 70))  # moves, draws, or says why not
    assert does(on_photo(browser, 0.02, 0.5), (60, 60))
    find(browser, ".whole").send_keys("r")
    assert does(on_photo(browser, 0.25, 0.25), (150, 110)) == "step"
    assert does(place(browser, "[data-turn-handle] .bob"), (-25, 0)) == "step"
    assert get(address, f"/api/placements/{at}")["placement"]["angle"] != 0
    if kind != "window":  # which has no edges to pull
        assert does(place(browser, "[data-at=e] .grip"), (500, 0))
        assert does(place(browser, "[data-at=nw] .knob"), (-300, -200))
    find(browser, ".whole").send_keys("p")
    assert answered(browser, address, at, get(address, f"/api/placements/{at}")["step"])


def test_on_a_fresh_photo_a_drag_draws_and_beside_a_worked_crop_it_asks(browser, address, placed):
    job_id, at = placed("100%")
    open_bench(browser, address, job_id, at)
    scale = box(browser, "photo")[2] / 1200
    pull(browser, on_photo(browser, 0.25, 0.25), (200, 120))
    drawn = kept(browser, address, at, 1)
    assert drawn == pytest.approx([300, 200, 200 / scale, 120 / scale], abs=3 / scale)
    pull(browser, on_photo(browser, 0.02, 0.02), (100, 60))
    wait(browser, lambda: "It was worked on, so a drag beside it draws no other." in said(browser))
    assert crop_of(address, at) == drawn
    click(browser, "//button[normalize-space()='Draw a fresh crop']")
    assert find(browser, ".whole").get_attribute("data-tool") == "draw"
    pull(browser, on_photo(browser, 0.02, 0.02), (100, 60))
    assert kept(browser, address, at, 2)[:2] == pytest.approx([24, 16], abs=3 / scale)
    wait(browser, lambda: find(browser, ".whole").get_attribute("data-tool") == "")
    # slips, and what begins off the photo
    find(browser, ".whole").send_keys("r")
    pull(browser, on_photo(browser, 0.5, 0.5), (11, 8))
    find(browser, ".whole").send_keys(Keys.ESCAPE)
    pull(browser, (place(browser, ".whole")[0], 80), (60, 20))
    wait(browser, lambda: "Begin on the photo" in said(browser))
    # Esc gives up in the middle
    find(browser, ".whole").send_keys("r")
    pull(browser, on_photo(browser, 0.5, 0.5), (80, 60), release=False)
    ActionChains(browser).send_keys(Keys.ESCAPE).perform()
    ActionChains(browser).release().perform()
    assert get(address, f"/api/placements/{at}")["step"] == 2


def test_the_plumb_line_turns_the_crop_and_stays_under_the_pointer(browser, bench):
    address, at = bench  # (350, 200, 500, 400), with room all round
    pull(browser, place(browser, "[data-turn-handle] .bob"), (-60, 0))
    turned = kept(browser, address, at, 2)
    view = get(address, f"/api/placements/{at}")
    assert turned[2:] == pytest.approx([500, 400])  # as large as it was
    middle, bob = place(browser, "[data-part=crop]"), place(browser, "[data-turn-handle] .bob")
    under = math.degrees(math.atan2(middle[0] - bob[0], bob[1] - middle[1]))
    assert under == pytest.approx(view["placement"]["angle"], abs=1.5)
    assert text(browser, "[data-part=plumb-angle]") == f"{view['placement']['angle']:g}°"
    assert view["steps"][-1] == "turned by hand"
    pull(browser, place(browser, "[data-turn-handle] .bob"), (35, 4), shift=True)
    kept(browser, address, at, 3)
    assert get(address, f"/api/placements/{at}")["placement"]["angle"] % 1 == 0


def test_an_edge_gives_way_shows_its_ground_and_stops_again_on_the_way_back(
    browser, address, placed
):
    job_id, at = placed("long 900px")
    open_bench(browser, address, job_id, at)
    pull(browser, place(browser, "[data-at=e] .grip"), (18, 0))
    assert kept(browser, address, at, 0) == [0, 0, 1200, 800]
    pull(browser, place(browser, "[data-at=e] .grip"), (80, 0))
    wide = kept(browser, address, at, 1)
    assert wide[2] > 1300
    view = get(address, f"/api/placements/{at}")
    assert view["picture"] == [900, round(900 * 800 / wide[2])]
    wait(browser, lambda: find(browser, "#tab-ground").get_attribute("aria-selected") == "true")
    fill = find(browser, ".tools.is-ground [aria-label='What fills beyond the photo']")
    Select(fill).select_by_value("mirror")
    kept(browser, address, at, 2)
    edge = on_photo(browser, 1, 0.5)
    start = place(browser, "[data-at=e] .grip")
    pull(browser, start, (edge[0] - 10 - start[0], 0))
    assert kept(browser, address, at, 3)[2] == pytest.approx(1200, abs=0.5)
    assert get(address, f"/api/placements/{at}")["own_size"] is None
    # the ground chosen last fills what is pulled out the next time
    pull(browser, place(browser, "[data-at=s] .grip"), (0, 70))
    kept(browser, address, at, 4)
    assert get(address, f"/api/placements/{at}")["ground"] == "mirror"


def test_a_piece_is_never_shown_larger_than_its_pixels_unless_asked(browser, address, placed):
    job_id, at = placed("115x92px")
    open_bench(browser, address, job_id, at)
    assert box(browser, "rim")[2:] == pytest.approx([115, 92], abs=0.1)
    assert "piece · shown at 100 %" in text(browser, ".stage")
    find(browser, ".whole").send_keys("p")
    wait(browser, lambda: "piece · shown at 200 %" in text(browser, ".stage"))
    assert "is-enlarged" in find(browser, ".piece").get_attribute("class")
    for key, shown in (("+", "300 %"), ("-", "200 %"), ("p", "100 %")):
        find(browser, ".whole").send_keys(key)
        wait(browser, lambda shown=shown: f"piece · shown at {shown}" in text(browser, ".stage"))


def test_true_pixels_of_a_large_piece_are_those_of_its_file(browser, address, placed):
    job_id, at = placed("3600x2400px", 3600, 2400)
    open_bench(browser, address, job_id, at)
    find(browser, ".whole").send_keys("p")
    wait(browser, lambda: "piece · shown at 100 %" in text(browser, ".stage"))
    wait(browser, lambda: "is-close" in find(browser, ".piece").get_attribute("class"))
    part = find(browser, ".piece [data-part=close]")
    assert float(part.get_attribute("width")) < 1000  # what is in sight alone
    assert "/part?left=" in part.get_attribute("href")


def test_a_field_gives_its_keys_back_and_takes_or_leaves_what_was_typed(browser, bench):
    address, at = bench
    field = find(browser, "[name=width]")

    def focused():
        return browser.execute_script("return document.activeElement.classList.contains('whole')")

    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("300", Keys.ENTER)
    assert kept(browser, address, at, 2)[2] == 300
    wait(browser, focused)
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    assert kept(browser, address, at, 1)[2] == 500
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("777", Keys.ESCAPE)
    wait(browser, focused)
    assert field.get_attribute("value") == "500"
    field.click()  # unchanged: the last step is undone, not the field
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    assert kept(browser, address, at, 0)[2] == 1000
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("400t")  # a letter means nothing in a figure, and the stage answers
    wait(
        browser,
        lambda: get(address, f"/api/placements/{at}")["steps"][-2:] == ["typed", "turned"],
    )
    assert "t" not in field.get_attribute("value")


def test_enter_takes_the_first_size_that_is_found_and_arrows_go_on(browser, bench):
    address, at = bench
    click(browser, ".size-button")
    find(browser, "#size-find").send_keys("square")
    wait(browser, lambda: browser.find_elements("css selector", ".size-pick.is-marked"))
    marked = text(browser, ".size-pick.is-marked b")
    assert "Square" in marked
    find(browser, "#size-find").send_keys(Keys.ARROW_DOWN)
    wait(browser, lambda: text(browser, ".size-pick.is-marked b") != marked)
    edges = text(browser, ".size-pick.is-marked span").partition(" ")[0]
    find(browser, "#size-find").send_keys(Keys.ENTER)
    wait(browser, lambda: get(address, f"/api/placements/{at}")["own_size"])
    assert get(address, f"/api/placements/{at}")["asked"]["width"] == int(edges)


def test_a_piece_is_copied_as_it_is(browser, bench):
    address, _ = bench
    grant = {"origin": address, "permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    browser.execute_cdp_cmd("Browser.grantPermissions", grant)
    click(browser, "[data-station=File]")
    click(browser, "//button[normalize-space()='Copy']")
    wait(browser, lambda: "Copied: 750 × 600 px, in sRGB." in text(browser, ".tools.is-file"))
    script = """const done = arguments[0];
      navigator.clipboard.read().then(([item]) => item.getType("image/png")).then(createImageBitmap)
        .then(({width, height}) => done([width, height]), (why) => done(String(why)))"""
    assert browser.execute_async_script(script) == [750, 600]


def fingers(browser, kind, *points):
    touches = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]
    browser.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": kind, "touchPoints": touches})


def test_two_fingers_look_nearer_or_turn_and_never_move_or_draw(browser, bench):
    address, at = bench
    show(browser, 820, 1180)
    before = crop_of(address, at)
    wait(browser, lambda: box(browser, "crop")[2] > 0)
    x, y = place(browser, "[data-part=crop]")
    fingers(browser, "touchStart", (x - 20, y))
    fingers(browser, "touchStart", (x - 20, y), (x + 20, y))
    for n in range(1, 7):
        fingers(browser, "touchMove", (x - 20 - 8 * n, y), (x + 20 + 8 * n, y))
    fingers(browser, "touchEnd")
    wait(browser, lambda: "is-zoomed" in find(browser, ".whole").get_attribute("class"))
    assert get(address, f"/api/placements/{at}")["step"] == 1
    assert crop_of(address, at) == before
    click(browser, "//button[normalize-space()='Whole view']")
    x, y = place(browser, "[data-part=crop]")
    fingers(browser, "touchStart", (x - 60, y), (x + 60, y))
    for n in range(1, 9):
        turn = math.radians(3 * n)
        dx, dy = 60 * math.cos(turn), 60 * math.sin(turn)
        fingers(browser, "touchMove", (x - dx, y - dy), (x + dx, y + dy))
    fingers(browser, "touchEnd")
    kept(browser, address, at, 2)
    assert get(address, f"/api/placements/{at}")["placement"]["angle"] == pytest.approx(17, abs=4)


def drop(browser, path, css):
    """Let a photo fall on a page, as from the desktop."""
    script = """const [css, name, base64] = arguments;
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const data = new DataTransfer();
      data.items.add(new File([bytes], name, { type: "image/jpeg" }));
      document.querySelector(css).dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));"""
    browser.execute_script(script, css, path.name, b64encode(path.read_bytes()).decode())


def test_one_photo_without_a_size_opens_its_bench_and_one_dropped_there_joins_the_job(
    browser, address, tmp_path
):
    browser.get(address)
    find(browser, "#files").send_keys(str(samples.photo(tmp_path / "quay.jpg", 600, 400)))
    wait(browser, lambda: text(browser, ".begin-go .is-primary") == "Open the bench")
    assert not browser.find_element(
        "xpath", "//button[normalize-space()='Make the files now']"
    ).is_enabled()
    click(browser, ".begin-go .is-primary")
    wait(browser, lambda: "/bench/" in browser.current_url)
    wait(browser, lambda: text(browser, ".size-button").startswith("100 %"))
    assert len(browser.find_elements("css selector", ".queue li")) == 1
    drop(browser, samples.photo(tmp_path / "pole.jpg", 500, 400), ".stage")
    wait(browser, lambda: len(browser.find_elements("css selector", ".queue li")) == 2)
    browser.get(address)  # what was chosen has a job now: nothing is left from before
    wait(browser, lambda: len(browser.find_elements("css selector", ".shelf")) == 1)
    assert not find(browser, ".taken").is_displayed()


def test_what_was_chosen_and_typed_is_this_visits_and_older_photos_are_only_offered(
    browser, address, tmp_path
):
    browser.get(address)
    find(browser, "#files").send_keys(str(samples.photo(tmp_path / "quay.jpg", 600, 400)))
    wait(browser, lambda: "600 × 400 px" in text(browser, ".taken"))
    find(browser, "#written").send_keys("5x7in@100 png")
    wait(browser, lambda: "a PNG" in text(browser, "#reads"))
    browser.refresh()
    wait(browser, lambda: "600 × 400 px" in text(browser, ".taken"))
    wait(browser, lambda: "a PNG" in text(browser, "#reads"))
    browser.execute_script("sessionStorage.clear()")  # as another day
    browser.refresh()
    wait(browser, lambda: "1 photo left from last time" in text(browser, ".begin-pick"))
    assert not find(browser, ".taken").is_displayed()
    click(browser, "//button[normalize-space()='Bring them back']")
    wait(browser, lambda: "600 × 400 px" in text(browser, ".taken"))


def test_panels_are_downloaded_together_and_a_saved_size_reads_back_what_it_is(
    browser, address, placed
):
    job_id, at = placed("3x4in@100 panels 2")
    open_bench(browser, address, job_id, at)
    click(browser, "[data-station=File]")
    click(browser, "//button[normalize-space()='Make file']")
    link = find(browser, "[x-ref=download]")
    wait(browser, lambda: link.is_displayed() and link.text == "Download all 2")
    assert link.get_attribute("href").endswith(f"/archive?placement={at}")
    click(browser, "[data-station=Crop]")
    click(browser, "//button[normalize-space()='Save as a size…']")
    wait(browser, lambda: "300 × 400 px" in text(browser, "dialog.save-dialog [role=status]"))
    assert find(browser, "[x-ref=saveName]").get_attribute("value").endswith("100 ppi")
