"""What every walk through the pages does: look, press, drag, wait until something is so."""

from __future__ import annotations

import json
from urllib.request import urlopen

from selenium.common.exceptions import StaleElementReferenceException, WebDriverException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from oak_ledge.core.gestures.tighten import Scale
from tests.waiting import LIMIT


def show(driver, width, height):
    size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


def find(browser, css):
    return browser.find_element(By.CSS_SELECTOR, css)


def click(browser, which):
    """Click what a selector or an XPath finds, once it can be: to show it may take a moment."""
    by = By.XPATH if which.startswith("//") else By.CSS_SELECTOR

    def clicked():
        button = browser.find_element(by, which)
        return button.is_displayed() and button.is_enabled() and button.click() is None

    wait(browser, clicked)


def wait(browser, truth):
    def seen(_):
        try:
            return truth()
        except WebDriverException as exc:  # the page was left while it was read: as good as stale
            if "does not belong to the document" not in str(exc):
                raise
            return False

    return WebDriverWait(browser, LIMIT, 0.03, [StaleElementReferenceException]).until(seen)


def text(browser, css):
    return find(browser, css).text


def get(address, path):
    return json.loads(fetch(address, path))


def fetch(address, path):
    with urlopen(address + path) as answer:
        return answer.read()


def box(browser, part):
    """Where a part is drawn, in CSS pixels of its pane."""
    script = "const b = document.querySelector(arguments[0]); return [b.x, b.y, b.width, b.height].map(v => v.baseVal.value)"
    return browser.execute_script(script, f"[data-part={part}]")


def scale(factor):
    return Scale(kind="scale", factor=factor)


def open_bench(browser, address, job_id, at):
    browser.get(f"{address}/jobs/{job_id}/bench/{at}")
    wait(browser, lambda: box(browser, "crop")[2] > 0)
    # letters of another font, or a file's weight told late, would still move what is measured
    ready = "return document.fonts.status === 'loaded' && /kB|MB|bytes/.test(document.querySelector('#tab-file .figure').textContent)"
    wait(browser, lambda: browser.execute_script(ready))


def crop_of(address, at):
    return get(address, f"/api/placements/{at}")["crop"]


def kept(browser, address, at, steps):
    """Wait until a placement has so many steps; give its crop."""
    wait(browser, lambda: get(address, f"/api/placements/{at}")["step"] == steps)
    return crop_of(address, at)


def drag(browser, element, dx, dy, *, release=True):
    chain = ActionChains(browser, duration=20).move_to_element(element).click_and_hold()
    for n in range(5):  # in whole pixels, which add up to the whole way
        steps = (round(whole * (n + 1) / 5) - round(whole * n / 5) for whole in (dx, dy))
        chain.move_by_offset(*steps)
    (chain.release() if release else chain).perform()
