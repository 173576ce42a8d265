"""The page of receivers: one is made, asked, rehearsed, sent to, changed and deleted."""

from __future__ import annotations

import json

import numpy as np
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from oak_ledge.flows.delivery import orders
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.receivers import receivers
from oak_ledge.web.process.senders import Senders
from tests import samples
from tests.browser.steps import click, find, get, text, wait
from tests.conftest import NOW
from tests.waiting import until

pytestmark = pytest.mark.browser
SIGN = "[aria-label='Sign on the quay']"


@pytest.fixture
def sending(workspace):
    """Files are sent as beside a server; the clock is this machine's."""
    from datetime import UTC, datetime

    senders = Senders(workspace, lambda: datetime.now(UTC))  # noqa: TID251 - as the command does
    senders.start()
    yield senders
    senders.stop()


@pytest.fixture
def delivery(workspace, bring, tmp_path):
    """One piece made for a sign; give its delivery's id."""
    white = np.full((160, 384, 3), 240, np.uint8)
    photo = bring(("dusk.png", samples.save(tmp_path / "dusk.png", white))).photos[0]
    job_id = jobs.start(workspace, "Dusk", [photo.id], [], ["600x250px"], NOW)
    return orders.deliver(workspace, job_id, None, NOW).id


def fill(browser, **fields):
    for label, value in fields.items():
        field = find(browser, f"[x-model='form.{label}']")
        field.clear()
        field.send_keys(value)


def test_a_receiver_is_written_read_back_kept_changed_and_deleted(browser, address, tmp_path):
    (tmp_path / "drive").mkdir()
    browser.get(f"{address}/receivers")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".receiver-card")) == 3)
    click(browser, "//button[normalize-space()='New receiver']")
    fill(browser, name="Pier", pixels="384x160", at_most="150kB", path=str(tmp_path / "drive"))
    click(browser, ".receiver-edit [value=png]")
    said = "Takes PNG, 384 × 160 px, at most 150 kB each."
    wait(browser, lambda: said in text(browser, ".receiver-edit"))
    assert f"A folder · {tmp_path / 'drive'}" in text(browser, ".receiver-edit")
    click(browser, ".receiver-edit .is-primary")
    wait(browser, lambda: "Pier is saved." in text(browser, ".undo-line"))
    kept = get(address, "/api/receivers")[3]
    assert (kept["takes"]["pixels"], kept["takes"]["at_most"]) == ([[384, 160]], "150kB")
    assert kept["way"] == {"kind": "folder", "path": str(tmp_path / "drive")}
    click(browser, "//section[@aria-label='Pier']//button[normalize-space()='Edit']")
    click(browser, ".receiver-edit [value=webdav]")
    fill(browser, url="https://pier.example/now", user="quay", secret="env:PIER")
    wait(browser, lambda: "WebDAV · pier.example/now · secret" in text(browser, ".receiver-edit"))
    click(browser, ".receiver-edit .is-primary")
    wait(browser, lambda: get(address, "/api/receivers")[3]["way"]["kind"] == "webdav")
    assert get(address, "/api/receivers")[3]["takes"] == kept["takes"]
    click(browser, "//section[@aria-label='Pier']//button[normalize-space()='Edit']")
    click(browser, "//form//button[normalize-space()='Delete']")
    wait(browser, lambda: "Pier is deleted" in text(browser, ".undo-line"))
    click(browser, "//button[normalize-space()='Bring it back']")
    wait(browser, lambda: len(browser.find_elements(By.CSS_SELECTOR, ".receiver-card")) == 4)


@pytest.mark.refused
def test_what_can_not_be_is_said_beside_the_field_and_nothing_is_lost(browser, address):
    browser.get(f"{address}/receivers")
    click(browser, "//button[normalize-space()='New receiver']")
    click(browser, ".receiver-edit [value=sftp]")
    fill(browser, name="Pier", url="sftp://a@pier.example/in", secret="swordfish", sizes="5x7")
    wait(browser, lambda: "is not a width and a height" in text(browser, ".receiver-edit"))
    fill(browser, sizes="5x7in")
    wait(browser, lambda: "ame the secret as env:NAME" in text(browser, ".receiver-edit"))
    click(browser, ".receiver-edit .is-primary")
    wait(browser, lambda: "ame the secret as" in text(browser, ".receiver-edit"))
    assert find(browser, "[x-model='form.sizes']").get_attribute("value") == "5x7in"
    assert len(get(address, "/api/receivers")) == 3
    fill(browser, secret="env:PIER")
    wait(browser, lambda: "key not known yet" in text(browser, ".receiver-edit"))
    assert json.dumps(get(address, "/api/receivers")).count("swordfish") == 0


@pytest.mark.process
def test_the_sign_is_asked_sent_to_and_shows_its_picture_dot_by_dot(
    browser, address, workspace, delivery, sending
):
    browser.get(f"{address}/receivers")
    wait(browser, lambda: "Got nothing yet." in text(browser, SIGN))
    click(browser, f"{SIGN} .card-does .button")
    Select(find(browser, f"{SIGN} select")).select_by_value(str(delivery))
    wait(browser, lambda: "would not be accepted." in text(browser, f"{SIGN} .told"))
    browser.get(f"{address}/deliveries/{delivery}")
    fix = "//section[@aria-label='Sign on the quay']//li//button"
    click(
        browser,
        "//section[@aria-label='Sign on the quay']//button[normalize-space()='Would it be accepted?']",
    )
    click(browser, fix)
    wait(browser, lambda: "1 of 1 would be accepted" in text(browser, ".goes"))
    click(
        browser,
        "//section[@aria-label='Sign on the quay']//button[normalize-space()='Send to its stand-in']",
    )
    wait(browser, lambda: "size compared" in text(browser, ".goes"))
    assert "1 of 1 accepted" in text(browser, ".goes")
    browser.get(f"{address}/receivers")
    wait(browser, lambda: "dot by dot" in text(browser, SIGN))
    shown = find(browser, f"{SIGN} image").get_attribute("href")
    assert shown.startswith("/api/receivers/3/shown?of=dusk")
    click(browser, f"{SIGN} [data-fault=refuse]")
    until(lambda: receivers.view(workspace, 3).fault == "refuse")
    click(
        browser,
        "//section[@aria-label='Sign on the quay']//button[normalize-space()='End the rehearsal']",
    )
    wait(
        browser, lambda: "Got nothing yet." in text(browser, SIGN)
    )  # a rehearsal counts for nothing
