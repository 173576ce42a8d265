"""Standing orders in a browser: given, refused, paused, ended; what arrived is shown as it comes."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from oak_ledge.flows.commands.make import Failed
from oak_ledge.flows.watch.beside import Beside, write
from oak_ledge.flows.watch.seal import new_seal, seal_path
from tests.browser.steps import click, find, text, wait

pytestmark = pytest.mark.browser


@pytest.mark.refused
def test_an_order_is_given_followed_paused_and_ended(browser, address, tmp_path):
    quay = tmp_path / "quay"
    browser.get(f"{address}/standing-orders")
    wait(browser, lambda: "No folder is watched yet" in text(browser, "main"))
    find(browser, "#folder").send_keys(str(quay))
    find(browser, "#sizes").send_keys("8x10in@300, 3:1", Keys.ENTER)
    wait(browser, lambda: f"{quay} is no folder" in text(browser, ".order-new"))
    quay.mkdir()
    click(browser, ".order-new [type=submit]")
    wait(browser, lambda: "Watching" in text(browser, ".orders"))
    assert find(browser, "#folder").get_attribute("value") == ""
    sizes = [one.text for one in browser.find_elements(By.CSS_SELECTOR, ".order-sizes li")]
    assert sizes == ["8 × 10 in", "3:1"]
    why = Failed(photo="pole.jpg", reason="it is damaged.")
    write(
        quay / "pole.jpg",
        Beside(
            photo="pole.jpg", photo_sha256="", made_at="2026-11-24T09:41:00+00:00", failed=[why]
        ),
        new_seal(seal_path(quay)),
    )
    wait(browser, lambda: "It is damaged." in text(browser, ".arrived"))
    assert "1 photo, 0 files made, 1 photo failed" in text(browser, ".order-came")
    click(browser, ".orders .next .way")
    wait(browser, lambda: "Paused" in text(browser, ".order-came"))
    click(browser, ".orders .next .way:last-child")
    wait(browser, lambda: "Really end it" in text(browser, ".orders"))
    click(browser, ".orders .next .way:last-child")
    wait(browser, lambda: "No folder is watched yet" in text(browser, "main"))
    assert (quay / "pole.jpg.made.json").exists()
