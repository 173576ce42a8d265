"""Portraits on the bench: points dragged, typed, confirmed, set by clicks; the series by one."""

from __future__ import annotations

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from oak_ledge.demo.fill import PHOTOS
from oak_ledge.flows.jobs import jobs
from tests.browser.steps import click, find, get, open_bench, show, text, wait
from tests.browser.test_hand import on_photo, place, pull, said
from tests.conftest import NOW

pytestmark = pytest.mark.browser

IDENTITY = "35x45mm@600 head 32-36mm eyes 50-60%"
ALL = "//button[normalize-space()='All heads as large as this one']"


@pytest.fixture
def series(browser, address, bring, workspace):
    """Open the bench of the first of three portraits; give (address, their placements)."""
    names = [f"carrier-{number}.jpg" for number in (1, 2, 3)]
    taken = bring(*((name, PHOTOS / name) for name in names), find=True)
    job_id = jobs.start(
        workspace, "Carriers", [photo.id for photo in taken.photos], [], [IDENTITY], NOW
    )
    at = [one.id for one in jobs.view(workspace, job_id).placements]
    open_bench(browser, address, job_id, at[0])
    click(browser, "[data-station=Photo]")
    return address, at


def head(address, at):
    return get(address, f"/api/placements/{at}")["head"]


def test_a_point_is_dragged_under_a_lens_and_the_crop_follows_it(browser, series):
    address, (at, *_) = series
    before = get(address, f"/api/placements/{at}")
    assert text(browser, ".piece .head-height") == "34.0 mm"
    pull(browser, place(browser, "[data-head=crown] .knob"), (0, -12), release=False)
    assert find(browser, "[data-part=lens]").is_displayed()
    during = browser.execute_script(
        "return document.querySelector('.piece .head-height').textContent"
    )
    assert during == "34.0 mm"  # it is laid by the new points at once
    ActionChains(browser).release().perform()
    wait(browser, lambda: get(address, f"/api/placements/{at}")["step"] > before["step"])
    wait(browser, lambda: not find(browser, "[data-part=lens]").is_displayed())
    after = get(address, f"/api/placements/{at}")
    assert after["head"]["face"]["points"][3][1] < before["head"]["face"]["points"][3][1] - 30
    assert after["crop"][2] > before["crop"][2] * 1.04
    assert after["steps"][-1] == "head measured"
    click(browser, "//button[normalize-space()='Undo: head measured']")
    wait(browser, lambda: get(address, f"/api/placements/{at}")["lying"] == before["lying"])
    assert head(address, at)["face"]["points"] == before["head"]["face"]["points"]


def test_figures_are_typed_points_confirmed_and_moved_by_arrows(browser, series):
    address, (at, second, _) = series
    field = find(browser, "[aria-label='Height of the head, chin to crown']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(Keys.NULL, "37,5", Keys.ENTER)
    wait(browser, lambda: head(address, at)["height"] == "37.5")
    wait(browser, lambda: "The head is 37.5 mm, not 32 to 36 mm." in find(browser, ".notes").text)
    click(browser, "//button[normalize-space()='As the size asks']")
    wait(browser, lambda: head(address, at)["height"] == "34.0")
    field = find(browser, "[aria-label^='Height of the eyes']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(Keys.NULL, "many", Keys.ENTER)
    wait(browser, lambda: "is not a height of the eyes" in said(browser))
    assert field.get_attribute("value") == "55"
    click(browser, "//button[normalize-space()='Right for all 3']")
    wait(browser, lambda: not head(address, second)["asks"])
    wait(browser, lambda: "Check the three lines" not in find(browser, ".notes").text)
    before = head(address, at)["face"]["points"][2]
    knob = find(browser, "[data-head=chin]")
    browser.execute_script("arguments[0].focus()", knob)
    ActionChains(browser).send_keys(Keys.ARROW_DOWN).key_down(Keys.SHIFT).send_keys(
        Keys.ARROW_DOWN
    ).key_up(Keys.SHIFT).perform()
    wait(
        browser,
        lambda: head(address, at)["face"]["points"][2][1] == pytest.approx(before[1] + 11, abs=0.2),
    )
    assert head(address, at)["face"]["points"][2][0] == pytest.approx(before[0], abs=0.2)


def test_all_heads_become_as_large_as_this_one_and_eight_go_on_a_paper(browser, series):
    address, at = series
    field = find(browser, "[aria-label='Height of the head, chin to crown']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(Keys.NULL, "33", Keys.ENTER)
    wait(browser, lambda: head(address, at[0])["height"] == "33.0")
    click(browser, ALL)
    wait(browser, lambda: "Of 3: 3 alike." in find(browser, ".head-series").text)
    assert [head(address, one)["height"] for one in at] == ["33.0"] * 3
    click(browser, "//button[normalize-space()='8 on 10 × 15 cm']")
    wait(browser, lambda: "/sheets/" in browser.current_url)
    number = browser.current_url.rsplit("/", 1)[1]
    assert len(get(address, f"/api/sheets/{number}")["pieces"]) == 8


@pytest.mark.refused
def test_four_clicks_set_a_head_that_was_not_found_and_a_slip_is_said(browser, address, placed):
    job_id, at = placed(IDENTITY)
    open_bench(browser, address, job_id, at)
    click(browser, "[data-station=Photo]")
    assert "No face was found." in find(browser, ".notes").text
    assert not browser.find_element("xpath", ALL).is_enabled()

    def put(*places):
        click(
            browser,
            "//button[normalize-space()='Set eyes, chin, crown' or starts-with(., 'Set all')]",
        )
        for n, spot in enumerate(places):
            wait(
                browser,
                lambda n=n: len(browser.find_elements("css selector", ".placing circle")) == n,
            )
            chain = ActionChains(browser)
            chain.w3c_actions.pointer_action.move_to_location(
                *map(round, on_photo(browser, *spot))
            ).click()
            chain.perform()

    put((0.45, 0.4), (0.55, 0.4), (0.5, 0.2), (0.5, 0.7))  # chin and crown confused
    wait(browser, lambda: "chin lies above the eyes" in said(browser))
    assert head(address, at)["face"] is None
    put((0.45, 0.4), (0.55, 0.4), (0.5, 0.7), (0.5, 0.2))
    wait(browser, lambda: head(address, at)["height"] == "34.0")
    wait(browser, lambda: browser.find_element("xpath", ALL).is_enabled())
    show(browser, 640, 800)
    assert browser.execute_script("return document.documentElement.scrollWidth") <= 640


def test_of_two_faces_a_click_or_a_key_chooses_the_one_that_is_meant(
    browser, address, bring, workspace, tmp_path
):
    wide = Image.new("RGB", (1800, 1200), (168, 178, 184))
    for n in range(2):
        wide.paste(Image.open(PHOTOS / f"carrier-{n + 1}.jpg").resize((900, 1200)), (900 * n, 0))
    wide.save(tmp_path / "two.png")
    photo = bring(("two.png", tmp_path / "two.png"), find=True).photos[0]
    job_id = jobs.start(workspace, "Two", [photo.id], [], [IDENTITY], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    open_bench(browser, address, job_id, at)
    assert "2 faces were found. Click the one that is meant." in find(browser, ".notes").text
    left, right = sorted(range(2), key=lambda n: head(address, at)["others"][n]["points"][0][0])

    def middle():
        points = head(address, at)["face"]["points"]
        return (points[0][0] + points[1][0]) / 2

    click(browser, f"[data-face='{right}']")
    wait(browser, lambda: head(address, at)["face"] is not None)
    assert middle() > 900
    other = find(browser, f"[data-face='{left}']")
    browser.execute_script("arguments[0].focus()", other)
    ActionChains(browser).send_keys(Keys.ENTER).perform()
    wait(browser, lambda: middle() < 900)
    wait(browser, lambda: text(browser, ".piece .head-height") == "34.0 mm")
    click(browser, "//section[@aria-label='Notes']//button[normalize-space()='Show']")
    click(browser, "//div[@id='all-notes']//button[normalize-space()='They are right']")
    wait(browser, lambda: not browser.find_elements("css selector", "[data-face]"))
