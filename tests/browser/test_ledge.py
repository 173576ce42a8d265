"""The ledge in a real browser: seen, filtered, gone through, many at once; a quick job to its archive."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from zipfile import ZipFile

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from oak_ledge.core.gestures.turn import Turn
from oak_ledge.flows.bench import history
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from tests import samples
from tests.browser.steps import click, fetch, find, get, text, wait
from tests.conftest import NOW
from tests.waiting import until

pytestmark = pytest.mark.browser


@pytest.fixture
def evening(workspace, bring, tmp_path):
    """Twelve photos on two sizes, the second too large for them."""
    files = [
        (f"p{n:02}.jpg", samples.photo(tmp_path / f"p{n:02}.jpg", 300 + n, 200)) for n in range(12)
    ]
    ids = [photo.id for photo in bring(*files).photos]
    return jobs.start(workspace, "Evening", ids, [], ["4x5in@40", "8x10in@45"], NOW)


@pytest.fixture
def workspace(workspace, tmp_path):
    """One whose settings name a folder."""
    (tmp_path / "studio").mkdir()
    return replace(workspace, folder=tmp_path / "studio")


def chosen(browser):
    return [box for box in browser.find_elements(By.CSS_SELECTOR, ".choose") if box.is_selected()]


def states(address, job_id):
    return [one["state"] for one in get(address, f"/api/jobs/{job_id}")["placements"]]


def test_many_are_chosen_settled_and_undone_and_the_other_shelves_come(browser, address, evening):
    browser.get(f"{address}/jobs/{evening}")
    wait(browser, lambda: "12 to look at" in text(browser, ".ledge-counts"))
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("a").key_up(Keys.CONTROL).perform()
    wait(browser, lambda: "24 chosen" in text(browser, ".batch"))
    click(browser, "//button[normalize-space()='Choose none']")
    boxes = browser.find_elements(By.CSS_SELECTOR, ".choose")
    boxes[0].click()
    browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", boxes[3])
    ActionChains(browser).key_down(Keys.SHIFT).click(boxes[3]).key_up(Keys.SHIFT).perform()
    wait(browser, lambda: "4 chosen" in text(browser, ".batch"))
    click(browser, "//button[normalize-space()='Approve']")
    wait(
        browser,
        lambda: "4 approved." in text(browser, ".said"),
    )
    assert states(address, evening).count("settled") == 4
    wait(browser, lambda: len(chosen(browser)) == 4)  # they stay chosen
    click(browser, "//button[normalize-space()='Undo it']")
    wait(browser, lambda: "4 undone: approved" in text(browser, ".said"))
    assert states(address, evening).count("settled") == 0
    last = "window.scrollTo(0, document.body.scrollHeight); return document.querySelectorAll('.ledge-shelf').length"
    wait(browser, lambda: browser.execute_script(last) == 12)
    every = browser.find_element(By.XPATH, "//button[@*='settleFine']")
    wait(browser, lambda: every.text == "Approve all 12 without notes")
    every.click()
    wait(browser, lambda: states(address, evening).count("settled") == 12)


def test_a_piece_tells_its_notes_and_leads_to_the_bench_and_back(browser, address, evening):
    browser.get(f"{address}/jobs/{evening}?by=size&show=look")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".piece-stood")) == 12)
    pieces = browser.find_elements(By.CSS_SELECTOR, ".piece-stood")
    browser.execute_script("arguments[0].focus()", pieces[1])  # as Tab would
    wait(browser, lambda: "enlarged" in text(browser, ".tells"))
    assert "p01.jpg" in text(browser, ".tells")
    ActionChains(browser).send_keys(Keys.ENTER).perform()
    wait(browser, lambda: "/bench/" in browser.current_url)
    wait(browser, lambda: "2 of 12" in text(browser, ".bench-name"))
    first = browser.current_url
    find(browser, "body").send_keys("j")
    wait(
        browser, lambda: browser.current_url != first and "3 of 12" in text(browser, ".bench-name")
    )
    click(browser, ".crumb")
    wait(browser, lambda: "by=size&show=look" in browser.current_url)
    notes = Select(find(browser, "[x-ref=codes]"))
    wait(browser, lambda: len(notes.options) > 1)
    assert [one.text for one in notes.options] == ["any", "enlarged, 12"]
    notes.select_by_value("enlarged")
    wait(browser, lambda: "show=enlarged" in browser.current_url)


def test_what_a_job_is_can_be_changed_put_away_and_deleted(browser, address, evening):
    browser.get(f"{address}/jobs/{evening}")
    click(browser, "//button[normalize-space()='About this job']")
    name = find(browser, "[name=name]")
    name.clear()
    name.send_keys("Quay evening")
    click(browser, "[aria-label='p00.jpg later']")
    click(browser, ".about .is-primary")
    wait(browser, lambda: text(browser, "h1") == "Quay evening")
    assert get(address, f"/api/jobs/{evening}")["photos"][0]["name"] == "p01.jpg"
    click(browser, "//button[normalize-space()='What to shoot next']")
    wait(browser, lambda: text(browser, ".survival tbody").count("every size keeps it") == 12)
    card = "return document.querySelector('.card-shown').naturalWidth"
    wait(browser, lambda: browser.execute_script(card) == 1748)
    click(browser, ".survival form .button")
    click(browser, "//button[normalize-space()='About this job']")
    delete = find(browser, ".about .way.is-stop")
    delete.click()
    wait(browser, lambda: delete.text == "Yes, delete it")
    assert "12 photos on 2 sizes" in text(browser, ".about")
    delete.click()
    wait(browser, lambda: "“Quay evening” is deleted" in text(browser, ".gone"))
    click(browser, ".gone .way")
    wait(browser, lambda: "Quay evening" in text(browser, ".shelves"))
    find(browser, "#find").send_keys("harbour")
    wait(browser, lambda: not find(browser, ".shelf").is_displayed())
    find(browser, "#find").clear()
    find(browser, "#find").send_keys("P03.jpg")
    wait(browser, lambda: find(browser, ".shelf").is_displayed())


def test_an_empty_job_is_filled_and_a_photo_taken_out_comes_back(browser, address, tmp_path):
    browser.get(address)
    click(browser, "//button[normalize-space()='Empty job']")
    wait(browser, lambda: "No photos yet. Drop them anywhere" in text(browser, ".empty"))
    paths = [samples.photo(tmp_path / f"p{n}.jpg", 900, 600 + n) for n in (10, 2, 1)]
    find(browser, "#more").send_keys("\n".join(map(str, paths)))
    wait(browser, lambda: "3 photos are here, and no size yet." in text(browser, ".empty"))
    click(browser, ".empty .way")
    find(browser, ".add-sizes input.input").send_keys("4x5in 60dpi, quay sign")
    wait(browser, lambda: "And: 384 × 160 px" in text(browser, ".add-sizes .reads"))
    click(browser, ".add-sizes .is-primary")
    wait(browser, lambda: "3 photos, 2 sizes" in text(browser, ".ledge-counts"))
    names = [one.text for one in browser.find_elements(By.CSS_SELECTOR, ".shelf-name")]
    assert names == ["p1.jpg", "p2.jpg", "p10.jpg"]
    click(browser, "[data-menu=out][data-name='p2.jpg']")
    wait(browser, lambda: "p2.jpg is taken out." in text(browser, ".said"))
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".shelf-name")) == 2)
    wait(browser, lambda: "2 photos, 2 sizes" in text(browser, ".ledge-counts"))
    click(browser, "//button[normalize-space()='Put p2.jpg back']")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".shelf-name")) == 3)
    click(browser, "[data-menu=like]")
    wait(browser, lambda: "like p1 is saved, and in this job." in text(browser, ".said"))
    assert [one["name"] for one in get(address, "/api/jobs/1")["sizes"]][-1] == "like p1"


def test_a_quick_job_from_dropped_photos_to_an_archive_in_four_actions(browser, address, tmp_path):
    paths = [samples.photo(tmp_path / f"quay{n}.jpg", 900, 600 + n, quality=90) for n in range(3)]
    browser.get(address)
    find(browser, "#files").send_keys("\n".join(map(str, paths)))
    wait(browser, lambda: text(browser, ".taken").count("900 × ") == 3)
    find(browser, "#written").send_keys("300 wide")
    wait(browser, lambda: text(browser, ".taken").count("→ 300 × 20") == 3)
    assert "about" in text(browser, ".taken")
    limit = find(browser, "[x-ref=limit]")
    limit.send_keys("3kB", Keys.TAB)
    wait(browser, lambda: "3 of 3 files, such as quay0.jpg, are likely" in text(browser, ".heavy"))
    ways = [way.text for way in browser.find_elements(By.CSS_SELECTOR, ".heavy .way")]
    assert any(one.startswith("Make them ") for one in ways)
    limit.clear()
    limit.send_keys("9kB", Keys.TAB)
    wait(browser, lambda: text(browser, ".taken").count("about 9 kB") == 3)
    click(browser, "//button[normalize-space()='Make the files now']")
    wait(browser, lambda: "3 of 3 made and measured as asked" in text(browser, ".quick"))
    link = find(browser, ".quick a").get_attribute("href")
    with ZipFile(BytesIO(fetch(address, link.removeprefix(address)))) as archive:
        assert archive.testzip() is None
        files = [one for one in archive.infolist() if one.filename != "proof.csv"]
        assert len(files) == 3
        for file in files:
            assert file.file_size <= 9000
            with Image.open(archive.open(file)) as image:
                assert image.width == 300
                assert image.format == "JPEG"
    Select(find(browser, "#joins")).select_by_visible_text("quay0 and 2 more, just made")
    written = find(browser, "#written")
    written.clear()
    written.send_keys("200 wide")
    wait(browser, lambda: text(browser, ".taken").count("→ 200 × ") == 3)
    click(browser, "//button[normalize-space()='Make the files now']")
    wait(browser, lambda: find(browser, ".quick a").get_attribute("href").endswith("/2/archive"))
    assert len(get(address, "/api/jobs")) == 1
    assert get(address, "/api/deliveries/2")["counts"] == {"made": 3}


# A button of a receiver, by their names.
OF = "//section[@aria-label='{}']//button[normalize-space()='{}']"


@pytest.mark.refused
def test_what_will_be_made_is_told_first_then_made_and_followed(browser, address, evening):
    browser.get(f"{address}/jobs/{evening}?by=size")
    click(browser, "//button[normalize-space()='Make files']")
    wait(browser, lambda: "24 files, about " in text(browser, "dialog.plan"))
    assert "kB, 12 with something to look at" in text(browser, "dialog.plan")
    assert "p03_4x5in@40.jpg" in text(browser, "dialog.plan")
    click(browser, "dialog.plan .is-primary")
    wait(browser, lambda: text(browser, "h1").startswith("24 of 24 files made"))
    rows = [row.text for row in browser.find_elements(By.CSS_SELECTOR, ".files tbody tr")]
    assert len(rows) == 14  # the latest
    assert all("as asked" in row for row in rows)
    made = "return document.querySelectorAll('.filling .is-made').length"
    assert browser.execute_script(made) == 24
    click(browser, "//button[normalize-space()='Make what changed']")
    wait(browser, lambda: "Nothing changed since" in text(browser, "main > .trouble-line"))
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".receiver-card")) == 3)
    click(browser, OF.format("Harbour print lab", "Would it be accepted?"))
    wait(browser, lambda: "0 of 24 would be accepted" in text(browser, ".goes"))
    assert "it has 40 ppi; 150 to 720 ppi is taken" in text(browser, ".goes")
    fix = find(browser, "[aria-label='Where it goes'] .receiver-card li .way")
    assert fix.text == "Lay it on 148x105mm; Make it at 150 ppi, then make it again"
    fix.click()
    wait(browser, lambda: "it could not be made: " in text(browser, ".receiver-card .told"))
    browser.get(f"{address}/deliveries")
    wait(browser, lambda: "24 of 24, all as asked" in text(browser, ".delivery-list"))
    find(browser, "#find").send_keys("evenin 4x5", Keys.ENTER)
    wait(browser, lambda: "1 with “evenin 4x5” in it" in text(browser, ".list-head"))
    find(browser, "#find").send_keys("!", Keys.ENTER)
    wait(browser, lambda: "No delivery has “evenin 4x5!”" in text(browser, ".empty"))


def test_a_stop_offers_its_ways_out_in_the_plan_and_on_the_delivery(
    browser, address, workspace, bring, tmp_path
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1500, 1200))).photos[0]
    texts = ["10x8in@330", "20x16in@300"]  # 2.2 times, which fewer ppi would mend, and four times
    job_id = jobs.start(workspace, "Large", [photo.id], [], texts, NOW)
    browser.get(f"{address}/jobs/{job_id}")
    click(browser, "//button[normalize-space()='Make files']")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, "dialog.plan .held")) == 2)
    click(browser, "dialog.plan .held [data-id]")  # Take 220 ppi
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, "dialog.plan .held")) == 1)
    assert "10x8in@220" in text(browser, "dialog.plan table")
    click(browser, "dialog.plan .is-primary")
    wait(browser, lambda: text(browser, "h1").startswith("1 of 2 files made"))
    row = find(browser, ".files .is-held")
    assert (
        row.find_element(By.LINK_TEXT, "Fix it on the bench").get_attribute("href").endswith("/2")
    )
    click(browser, ".files .is-held [data-allow]")
    wait(browser, lambda: text(browser, "h1").startswith("2 of 2 files made"))
    made = get(address, "/api/deliveries/1")["files"][1]
    assert (made["allowed"], made["changed"]) == (["enlarged"], False)
    history.keep(workspace, 2, Turn(kind="turn"), NOW)
    browser.get(f"{address}/deliveries/1")
    wait(browser, lambda: "Worked on since it was made." in text(browser, ".files"))
    click(browser, ".files .is-made a[href*='/bench/2']")
    wait(browser, lambda: browser.current_url.endswith(f"/jobs/{job_id}/bench/2"))


def test_a_receiver_is_asked_first_what_it_refuses_is_fixed_and_files_go_to_the_folder(
    browser, address, workspace, bring, tmp_path
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1800, 1200))).photos[0]
    asked = SizeBody(text="1200x800px", name="Stall", group="marketplace")
    job_id = jobs.start(
        workspace, "Stall", [photo.id], [sizes.add(workspace, asked).id], ["100%"], NOW
    )
    browser.get(f"{address}/jobs/{job_id}")
    click(browser, "//button[normalize-space()='Make files']")
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".plan-receivers .way"))
    click(browser, "dialog.plan [data-receiver='2']")
    told = "Stall marketplace: 1 of 2 would be accepted, by estimated bytes."
    wait(browser, lambda: told in text(browser, ".plan-answers"))  # without being asked
    wait(browser, lambda: "Stall marketplace would not take:" in text(browser, "dialog.plan"))
    assert "on a plain ground" in text(browser, ".plan-refused")
    click(browser, "dialog.plan .is-primary")
    wait(browser, lambda: text(browser, "h1").startswith("2 of 2 files made"))
    click(browser, OF.format("Stall marketplace", "Would it be accepted?"))
    wait(browser, lambda: "has 1200 px; 1600 px or more is taken" in text(browser, ".goes"))
    click(browser, ".receiver-card li .way")
    wait(browser, lambda: "2 of 2 would be accepted" in text(browser, ".goes"))
    Select(find(browser, ".goes-by select")).select_by_visible_text("by size")
    assert find(browser, ".goes-to a.is-primary").get_attribute("href").endswith("?by=size")
    click(browser, "//button[normalize-space()='Put them there']")
    wait(browser, lambda: "2 of 2 files put into " in text(browser, ".goes-put"))
    (fixed,) = tmp_path.glob("studio/Stall-*/1600*/*.jpg")
    with Image.open(fixed) as made:
        assert made.size == (1600, 1067)
        assert min(made.convert("RGB").getpixel((2, 2))) > 245
    assert list(tmp_path.glob("studio/Stall-*/100-pct/quay_100pct.jpg"))


def test_a_review_is_saved_opened_without_the_server_answered_and_taken_in(
    browser, address, evening, tmp_path
):
    down = tmp_path / "down"
    down.mkdir()
    where = {"behavior": "allow", "downloadPath": str(down)}
    browser.execute_cdp_cmd("Browser.setDownloadBehavior", where)
    browser.get(f"{address}/jobs/{evening}")
    click(browser, ".said [\\@click=openReview]")
    click(browser, "dialog.review-dialog .is-primary")
    (page,) = until(lambda: [*down.glob("*.html")])
    browser.get(page.as_uri())
    assert len(browser.find_elements(By.CSS_SELECTOR, "[data-piece]")) == 24
    click(browser, "[name^=p][value=yes]")
    browser.find_elements(By.CSS_SELECTOR, ".word input")[1].send_keys("More sky")
    wait(browser, lambda: text(browser, "#count") == "2 of 24 answered")
    click(browser, "#save")
    (answers,) = until(lambda: [*down.glob("*.json")])
    browser.get(f"{address}/jobs/{evening}")
    click(browser, ".said [\\@click=openReview]")
    find(browser, ".review-dialog [type=file]").send_keys(str(answers))
    wait(browser, lambda: "1 approved, 1 in work with a word." in text(browser, ".review-dialog"))
    shown = get(address, f"/api/jobs/{evening}")["placements"]
    states = [piece["state"] for piece in shown]
    assert (states.count("settled"), states.count("placed")) == (1, 1)
