"""Sheets in the browser: begun from the ledge, moved by hand and key, typed, made; photos in cells."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from oak_ledge.flows.jobs import jobs
from tests import samples
from tests.browser.steps import click, find, get, text, wait
from tests.conftest import NOW

pytestmark = pytest.mark.browser


@pytest.fixture
def job(workspace, bring, tmp_path):
    """Three photos on a small print."""
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 600 + n, 400)) for n in range(3)]
    photos = [photo.id for photo in bring(*files).photos]
    return jobs.start(workspace, "Evening", photos, [], ["3x2in@100"], NOW)


def begin(browser, address, job, word, *, count):
    """Choose pieces on the ledge, and lay them on a sheet."""
    browser.get(f"{address}/jobs/{job}")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".choose")) == 3)
    for box in browser.find_elements(By.CSS_SELECTOR, ".choose")[:count]:
        box.click()
    button(browser, ".batch .way", "Lay on a sheet").click()
    button(browser, ".lay-papers .button", word).click()
    wait(browser, lambda: "/sheets/" in browser.current_url)
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".piece-on"))
    return "/api/sheets/" + browser.current_url.rsplit("/", 1)[1]


def pieces_on(browser, address, path):
    """The pieces as they lie once the page has drawn the newest step; those before it are gone then."""
    drawn = "return Alpine.$data(document.querySelector('.sheet-ground')).view.step"
    wait(browser, lambda: browser.execute_script(drawn) == get(address, path)["step"])
    rested = "requestAnimationFrame(() => requestAnimationFrame(() => arguments[0](%s)))"
    return browser.execute_async_script(rested % "[...document.querySelectorAll('.piece-on')]")


def button(browser, css, word):
    return next(
        one for one in browser.find_elements(By.CSS_SELECTOR, css) if one.text.startswith(word)
    )


def retype(field, value):
    """Type a value over what stands in a field, and leave it."""
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(value or Keys.DELETE, Keys.TAB)


def places(address, path):
    return [(one["x"], one["y"], one["turned"]) for one in get(address, path)["pieces"]]


def scale(browser, view):
    """CSS pixels in one unit of the paper."""
    return find(browser, ".sheet-ground").rect["width"] / view["width"]


@pytest.mark.refused
def test_pieces_are_moved_by_hand_key_and_number_and_never_over_each_other(browser, address, job):
    path = begin(browser, address, job, "A4", count=3)
    view = get(address, path)
    assert (view["width"], view["height"], len(view["pieces"])) == (210, 297, 3)
    per_mm = scale(browser, view)
    pieces = pieces_on(browser, address, path)
    hand = ActionChains(browser).click_and_hold(pieces[2])
    hand.move_by_offset(round(20 * per_mm), round(120 * per_mm)).release().perform()
    wait(browser, lambda: get(address, path)["step"] == 1)
    moved = get(address, path)["pieces"][2]
    assert moved["y"] - view["pieces"][2]["y"] == pytest.approx(120, abs=3)
    wait(browser, lambda: text(browser, ".history .way") == "Undo move")
    over = pieces_on(browser, address, path)
    first = over[0].rect
    ActionChains(browser).click_and_hold(over[2]).move_to_element(over[0]).perform()
    wait(browser, lambda: "would lie over p0" in text(browser, ".sheet-told"))
    assert browser.find_elements(By.CSS_SELECTOR, ".piece-on.is-over")
    ActionChains(browser).release().perform()
    wait(browser, lambda: "would lie over p0" in text(browser, ".trouble-line"))
    assert get(address, path)["pieces"][2] == moved  # it went back
    assert browser.find_elements(By.CSS_SELECTOR, ".piece-on")[0].rect["x"] == pytest.approx(
        first["x"], abs=1
    )
    pieces_on(browser, address, path)[2].send_keys(Keys.ARROW_RIGHT)
    wait(browser, lambda: get(address, path)["pieces"][2]["x"] == pytest.approx(moved["x"] + 1))
    retype(find(browser, "[data-at=x]"), "60")
    wait(browser, lambda: get(address, path)["pieces"][2]["x"] == pytest.approx(60, abs=0.01))
    pieces_on(browser, address, path)[2].send_keys("t")
    wait(browser, lambda: get(address, path)["pieces"][2]["turned"])
    pieces_on(browser, address, path)[2].send_keys(Keys.DELETE)
    wait(browser, lambda: len(get(address, path)["pieces"]) == 2)
    for _ in range(5):
        click(browser, ".sheet-head .history .way")
    wait(
        browser,
        lambda: (
            places(address, path) == [(one["x"], one["y"], one["turned"]) for one in view["pieces"]]
        ),
    )


def test_edges_meet_their_neighbours_with_guides(browser, address, job):
    path = begin(browser, address, job, "A4", count=2)
    view = get(address, path)
    one = view["pieces"][0]
    per_mm = scale(browser, view)
    pieces = pieces_on(browser, address, path)
    here, there = pieces[1].rect, pieces[0].rect
    dx = there["x"] - here["x"] + 3
    dy = there["y"] + there["height"] + 5 * per_mm + 2 - here["y"]
    ActionChains(browser).click_and_hold(pieces[1]).move_by_offset(round(dx), round(dy)).perform()
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".guides .guide"))
    ActionChains(browser).release().perform()
    wait(browser, lambda: get(address, path)["step"] == 1)
    made = get(address, path)["pieces"][1]
    assert made["x"] == pytest.approx(one["x"], abs=1e-6)
    assert made["y"] == pytest.approx(one["y"] + one["height"] + 5, abs=1e-6)
    assert browser.find_elements(By.CSS_SELECTOR, ".guides .guide") == []


@pytest.mark.refused
def test_paper_counts_and_marks_are_chosen_and_the_sheet_is_made(browser, address, job):
    path = begin(browser, address, job, "A4", count=2)
    retype(find(browser, ".on-it .count"), "")
    wait(browser, lambda: "a whole number up to 500" in text(browser, ".trouble-line"))
    retype(find(browser, ".on-it .count"), "12")
    wait(browser, lambda: len(get(address, path)["pieces"]) == 13)
    wait(browser, lambda: "page 1 of 2" in text(browser, ".sheet-head h1"))
    click(browser, ".sheet-pages .button:last-child")
    wait(browser, lambda: "page 2 of 2" in text(browser, ".sheet-head h1"))
    retype(find(browser, ".paper-text"), "A3@300")
    wait(browser, lambda: get(address, path)["width"] == 297)
    wait(browser, lambda: "3508 × 4961 px" in text(browser, ".sheet-figures"))
    click(browser, "[data-lay=marks]")
    wait(browser, lambda: get(address, path)["layout"]["marks"] is False)
    margin = find(browser, "[data-lay=margin]")
    retype(margin, "40cm")
    wait(browser, lambda: "leaves nothing" in text(browser, ".trouble-line"))
    assert margin.get_attribute("value") == "10mm"  # as it was
    find(browser, ".layout-name").send_keys("Proofs")
    button(browser, ".sheet-tools .way", "Keep").click()
    wait(browser, lambda: "Kept as “Proofs”" in text(browser, ".sheet-tools"))
    Select(find(browser, "[data-lay=made_as]")).select_by_value("png")
    wait(browser, lambda: get(address, path)["layout"]["kind"] == "png")
    button(browser, ".sheet-tools .button", "Make the sheet").click()
    wait(browser, lambda: "/deliveries/" in browser.current_url)
    wait(browser, lambda: "1 of 1 files made" in text(browser, ".delivery-head h1"))
    assert "13 pieces" in text(browser, ".files")
    wait(
        browser,
        lambda: (
            browser.execute_script(
                "return document.querySelector('.delivery-sheets img').naturalWidth"
            )
            > 0
        ),
    )
    browser.get(f"{address}/jobs/{job}")
    assert "Sheet 1" in text(browser, ".ledge-counts")


def test_two_photos_fill_one_sign_in_three_actions_and_slide_in_their_cells(browser, address, job):
    path = begin(browser, address, job, "Quay sign", count=2)
    view = get(address, path)
    assert [(one["x"], one["width"]) for one in view["pieces"]] == [(0, 192), (192, 192)]
    first = pieces_on(browser, address, path)[0]
    before = view["pieces"][0]["crop"]
    ActionChains(browser).click_and_hold(first).move_by_offset(40, 0).release().perform()
    wait(browser, lambda: get(address, path)["pieces"][0]["crop"][0] < before[0] - 1)
    assert get(address, path)["pieces"][0]["x"] == 0  # the cell stays
    cells = pieces_on(browser, address, path)
    swap = (
        ActionChains(browser)
        .key_down(Keys.SHIFT)
        .click_and_hold(cells[0])
        .move_to_element(cells[1])
    )
    swap.release().key_up(Keys.SHIFT).perform()
    wait(
        browser,
        lambda: [one["photo"] for one in get(address, path)["pieces"]] == ["p1.jpg", "p0.jpg"],
    )
    button(browser, ".on-it .way", "Bench").click()
    wait(browser, lambda: "/bench/" in browser.current_url)
    assert "Quay sign, cell 1 of 2" in text(browser, ".size-button")
    assert text(browser, ".bench-go .button") == "Sheet"
    click(browser, ".bench-go .button")
    wait(browser, lambda: "/sheets/" in browser.current_url)
