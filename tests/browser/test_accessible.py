"""Every page, wide and at twice the size: no serious finding of axe, no scrolling sideways."""

from __future__ import annotations

import pytest
from axe_core_python.selenium import Axe
from selenium.webdriver.common.by import By

from oak_ledge.flows.bench import history
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.marks import library
from oak_ledge.flows.marks.library import LineBody
from oak_ledge.flows.sheets import sheets
from oak_ledge.flows.watch import standing_orders as standing
from oak_ledge.web.api.answer import LETTER_FONTS
from tests import samples
from tests.browser.steps import click, find, show, wait
from tests.conftest import NOW

pytestmark = pytest.mark.browser

STATIONS = ("Photo", "Level", "Crop", "Ground", "Pixels", "File")


@pytest.fixture
def pages(workspace, bring, tmp_path):
    """The address of every page, each with something on it."""
    sizes.add_starters(workspace)
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 300 + n, 200)) for n in range(3)]
    ids = [photo.id for photo in bring(*files).photos]
    job = jobs.start(workspace, "Evening", ids, [], ["4x5in@40", "384x160px", "8x10in@90"], NOW)
    one = jobs.view(workspace, job).placements[0].id
    history.settle(workspace, one, NOW)
    made = orders.deliver(workspace, job, None, NOW).id
    pieces = [piece.id for piece in jobs.view(workspace, job).placements]
    laid = [
        sheets.start(workspace, job, pieces[:3], NOW, paper="A4@100", names=True).id,
        sheets.start(workspace, job, pieces[:2], NOW, paper="384x160px", cells="2x1").id,
    ]
    library.add_line(workspace, LineBody(text="Quay studio"), LETTER_FONTS["slab"], NOW)
    empty = jobs.start(workspace, "", [], [], [], NOW)
    (workspace.data.parent / "quay").mkdir()
    standing.give(workspace, str(workspace.data.parent / "quay"), ["8x10in@300, 3:1"], "", NOW)
    bench = f"/jobs/{job}/bench/{one}"
    return ["/", "/?find=nothing", "/?away=true", f"/jobs/{job}", f"/jobs/{job}?by=size", f"/jobs/{empty}",
            "/sizes", "/marks", "/deliveries", f"/deliveries/{made}", "/receivers", "/standing-orders", *(f"/sheets/{one}" for one in laid), bench]  # fmt: skip


def findings(browser, page):
    """What axe calls serious or worse, and whether the page scrolls sideways."""
    found = [
        f"{page}: {one['id']}, {one['nodes'][0]['html'][:120]}"
        for one in Axe().run(browser)["violations"]
        if one["impact"] in ("serious", "critical")
    ]
    beyond = """
      if (document.documentElement.scrollWidth <= innerWidth + 1) return [];
      const right = e => e.getBoundingClientRect().right;
      return [...document.querySelectorAll("body *")].filter(e => right(e) > innerWidth + 1)
        .map(e => `${e.tagName} ${e.getAttribute("class")} ends at ${Math.round(right(e))}`)"""
    return found + [f"{page}: {one}" for one in browser.execute_script(beyond)[:3]]


@pytest.mark.parametrize("width", [1280, 640])
def test_no_page_shuts_anyone_out(browser, address, pages, width):
    show(browser, width, 800)
    found = []
    for page in pages:
        browser.get(address + page)
        wait(browser, lambda: browser.execute_script("return document.readyState === 'complete'"))
        found += findings(browser, page)
    for station in STATIONS:  # the last page is the bench
        click(browser, f"[data-station={station}]")
        found += findings(browser, station)
    click(browser, "//button[starts-with(normalize-space(.), 'Mark')][@aria-haspopup]")
    click(browser, ".mark-choice button")
    wait(browser, lambda: find(browser, "[data-mark=width]").is_displayed())
    found += findings(browser, "a mark laid")
    browser.get(f"{address}/sizes")
    click(browser, ".size-row")
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".editing .reads .part"))
    found += findings(browser, "a size opened")
    assert found == [], "\n".join(found)
