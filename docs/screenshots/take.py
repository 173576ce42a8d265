"""Take the README's pictures from the demo: python docs/screenshots/take.py [folder]."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any
from urllib.request import Request, urlopen

from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

from oak_ledge.demo.fill import PHOTOS

HERE = Path(__file__).parent
PORT = 8765


def chrome(width: int = 1280, height: int = 800) -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    for flag in (
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
        "--hide-scrollbars",
    ):
        options.add_argument(flag)
    options.binary_location = "/usr/bin/chromium"
    driver = webdriver.Chrome(options, webdriver.ChromeService("/usr/bin/chromedriver"))
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
    )
    return driver


def settled(driver: webdriver.Chrome) -> None:
    """Wait until all pictures are drawn and the fine piece has come."""
    done = (
        "return document.readyState==='complete' && "
        "[...document.images].every(i=>i.complete) && "
        "(!document.querySelector('.bench') || document.querySelector('.piece.is-fine')!==null)"
    )
    WebDriverWait(driver, 20).until(lambda d: d.execute_script(done))
    time.sleep(0.4)


def open_job(driver: webdriver.Chrome, base: str, name: str) -> None:
    """Open the bench on the piece a job goes on with, in the queue of the whole job."""
    job = job_called(base, name)
    at = (job["next"] or job["placements"][0])["id"]
    driver.get(f"{base}/jobs/{job['id']}/bench/{at}")
    settled(driver)


def receivers(driver: webdriver.Chrome, base: str, folder: Path, made: int) -> None:
    """A lab that is just being sent to, a marketplace, and the sign with its picture."""
    stall = 1  # of the demo: pictures for the stall
    slow = {"rehearsing": True, "fault": "slow"}
    told(base, "/api/receivers/1/rehearsal", slow, "PUT")
    told(base, "/api/receivers/3/rehearsal", {"rehearsing": True}, "PUT")
    first = told(base, f"/api/deliveries/{stall}")["files"][0]["id"]
    told(base, "/api/receivers/2/fix", {"delivery": stall, "file_id": first})
    while told(base, f"/api/deliveries/{stall}")["state"] != "done":
        time.sleep(0.5)
    for receiver, delivery in ((3, made), (2, stall), (1, made)):
        told(base, f"/api/deliveries/{delivery}/send", {"receiver_id": receiver})
    driver.get(f"{base}/receivers")
    shown = "return document.querySelectorAll('.is-fine').length > 9"
    WebDriverWait(driver, 60).until(lambda d: d.execute_script(shown))
    time.sleep(1)
    driver.save_screenshot(str(folder / "receivers.png"))


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        command = ["oak-ledge", "demo", "--data", data, "--port", str(PORT)]
        served = subprocess.Popen(
            [str(Path(sys.executable).with_name(command[0])), *command[1:]],
            stdout=subprocess.PIPE,
            text=True,
            env=os.environ | {"HOME": "/home/studio"},  # a folder is suggested there
        )
        try:
            assert served.stdout is not None
            while "ready" not in served.stdout.readline():
                pass
            take(folder, f"http://127.0.0.1:{PORT}")
        finally:
            served.terminate()
            served.wait()


def take(folder: Path, base: str) -> None:
    driver = chrome()
    try:
        driver.get(base)
        settled(driver)
        driver.save_screenshot(str(folder / "jobs.png"))
        driver.get(base)
        driver.find_element(By.LINK_TEXT, "Evening of paper lanterns").click()
        settled(driver)
        time.sleep(1)
        pieces = driver.find_elements(By.CSS_SELECTOR, ".piece-stood")
        ActionChains(driver).move_to_element(pieces[4]).perform()
        for box in driver.find_elements(By.CSS_SELECTOR, ".choose")[:2]:
            box.click()
        ActionChains(driver).move_to_element(pieces[1]).perform()
        time.sleep(0.5)
        driver.save_screenshot(str(folder / "ledge.png"))
        open_job(driver, base, "Evening of paper lanterns")
        driver.find_element(By.CSS_SELECTOR, ".queue li:nth-child(2) a").click()
        WebDriverWait(driver, 20).until(lambda d: "lighthouse" in d.title)
        settled(driver)
        driver.save_screenshot(str(folder / "bench.png"))
        driver.find_element(By.CSS_SELECTOR, "[data-station=Pixels]").click()
        driver.find_element(By.XPATH, "//button[normalize-space()='Compare methods']").click()
        drawn = (
            "return [...document.querySelectorAll('.look img')].filter(i => i.naturalWidth).length"
        )
        WebDriverWait(driver, 20).until(lambda d: d.execute_script(drawn) == 4)
        for key in (Keys.ARROW_RIGHT,) * 14 + (Keys.ARROW_UP,) * 9:
            driver.find_element(By.CSS_SELECTOR, ".looks").send_keys(key)
        time.sleep(6)
        driver.save_screenshot(str(folder / "compare_methods.png"))
        driver.find_element(By.CSS_SELECTOR, ".compare-methods form .button").click()
        evening = next(
            one["id"] for one in told(base, "/api/jobs") if one["name"].startswith("Evening")
        )
        made = told(base, f"/api/jobs/{evening}/deliveries", {})["id"]
        driver.get(f"{base}/deliveries/{made}")
        half = lambda d: d.execute_script(  # noqa: E731
            "return document.querySelectorAll('.filling .is-made').length > 11"
        )
        WebDriverWait(driver, 60).until(half)
        driver.save_screenshot(str(folder / "delivery.png"))
        while told(base, f"/api/deliveries/{made}")["state"] != "done":
            time.sleep(0.5)
        stall = next(
            one["id"] for one in told(base, "/api/jobs") if one["name"].startswith("Pictures")
        )
        ferry = next(
            one["id"] for one in told(base, "/api/jobs") if one["name"].startswith("Ferry")
        )
        for job in (stall, ferry):
            again = told(base, f"/api/jobs/{job}/deliveries", {})["id"]
            while told(base, f"/api/deliveries/{again}")["state"] != "done":
                time.sleep(0.3)
        driver.get(f"{base}/deliveries")
        settled(driver)
        time.sleep(1)
        driver.save_screenshot(str(folder / "deliveries.png"))
        receivers(driver, base, folder, made)
        open_job(driver, base, "Pictures for the stall")
        driver.find_element(By.CSS_SELECTOR, "[data-station=File]").click()
        settled(driver)
        driver.find_element(By.CSS_SELECTOR, ".file-word .way").click()
        time.sleep(0.6)
        driver.save_screenshot(str(folder / "proof.png"))
        tools(driver, base, folder)
        standing(driver, base, folder)
        several(driver, base, folder)
        portrait(driver, base, folder)
        marks(driver, base, folder)
        cut_out(driver, base, folder)
        driver.get(f"{base}/sizes")
        settled(driver)
        row = driver.find_element(By.XPATH, "//b[text()='A4 in a mat']/..")
        row.click()
        WebDriverWait(driver, 20).until(
            lambda d: d.find_elements(By.CSS_SELECTOR, ".editing .reads .part")
        )
        driver.execute_script(
            "arguments[0].scrollIntoView({block: 'start'}); scrollBy(0, -130)", row
        )
        time.sleep(0.4)
        driver.save_screenshot(str(folder / "sizes.png"))
    finally:
        driver.quit()


def marks(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """The library of marks: lines of text, and a file."""
    told(base, "/api/marks/line", {"text": "© Oak Ledge", "font": "sans", "colour": "#7b5227"})
    driver.get(f"{base}/marks")
    logo = Path(__file__).parents[2] / "src/oak_ledge/web/static/img/mark.svg"
    driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(logo))
    driver.find_element(By.XPATH, "//button[text()='Add the file']").click()
    WebDriverWait(driver, 20).until(
        lambda d: len(d.find_elements(By.CSS_SELECTOR, ".marks-list > li")) == 3
    )
    settled(driver)
    driver.save_screenshot(str(folder / "marks.png"))


def cut_out(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """A glass float cut out of its photo, its tries side by side."""
    job = job_called(base, "Pictures for the stall")
    white = [one for one in job["placements"] if one["size_name"] == "Square on white"]
    driver.get(f"{base}/jobs/{job['id']}/bench/{white[0]['id']}")
    settled(driver)
    driver.find_element(By.CSS_SELECTOR, "[data-station=Photo]").click()
    driver.find_element(By.XPATH, "//button[normalize-space(.)='Cut out']").click()
    WebDriverWait(driver, 60).until(
        lambda d: any(
            word in d.find_element(By.CSS_SELECTOR, ".is-photo .brush-word").text
            for word in ("plausible", "closely")
        )
    )
    time.sleep(1)
    driver.save_screenshot(str(folder / "cut_out.png"))
    driver.find_element(By.CSS_SELECTOR, ".brush-go .is-primary").click()


def standing(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """A standing order, with what came of the photos that arrived."""
    quay = Path(tempfile.gettempdir()) / "quay-arrivals"
    quay.mkdir()
    try:
        order = {"folder": str(quay), "size_texts": ["8x10in@240, 1200x1600px, 3:1"]}
        told(base, "/api/standing-orders", order)
        for name in ("harbour-wall", "lighthouse", "paper-boat"):
            (quay / f"{name}.jpg").write_bytes((PHOTOS / f"{name}.jpg").read_bytes())
        (quay / "tide-table.jpg").write_text("no picture")
        WebDriverWait(driver, 60).until(
            lambda d: told(base, "/api/standing-orders")[0]["photos"] == 4
        )
        driver.get(f"{base}/standing-orders")
        settled(driver)
        driver.save_screenshot(str(folder / "standing.png"))
    finally:
        shutil.rmtree(quay)


def several(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """Pieces of more than one rectangle: panels, a sheet."""
    job = job_called(base, "Strips")
    at = {(one["photo_name"], one["size_name"]): one["id"] for one in job["placements"]}
    driver.get(f"{base}/jobs/{job['id']}/bench/{at['harbour-wall.jpg', 'Strip in 3']}")
    settled(driver)
    time.sleep(1.5)
    driver.save_screenshot(str(folder / "panels.png"))
    evening = next(one for one in told(base, "/api/jobs") if one["name"].startswith("Evening"))
    for one in told(base, f"/api/jobs/{evening['id']}/sheets"):
        sheet = one["id"]
        if told(base, f"/api/sheets/{sheet}")["layout"]["cells"]:
            continue
        driver.get(f"{base}/sheets/{sheet}")
        settled(driver)
        time.sleep(1)
        driver.save_screenshot(str(folder / "sheet.png"))


def portrait(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """A head measured on the bench, the series laid by it."""
    job = job_called(base, "Lantern carriers")
    third = next(one["id"] for one in job["placements"] if one["photo_name"] == "carrier-3.jpg")
    driver.get(f"{base}/jobs/{job['id']}/bench/{third}")
    settled(driver)
    driver.find_element(By.CSS_SELECTOR, "[data-station=Photo]").click()
    driver.find_element(By.XPATH, "//button[starts-with(normalize-space(), 'All heads')]").click()
    said = "//p[@role='status' and contains(., 'alike')]"
    WebDriverWait(driver, 20).until(lambda d: d.find_element(By.XPATH, said))
    time.sleep(0.6)
    driver.save_screenshot(str(folder / "portrait.png"))


def tools(driver: webdriver.Chrome, base: str, folder: Path) -> None:
    """The bench's own tools, each on a job made for its picture."""
    chart, lighthouse = (photo_id(base, name) for name in ("framed-chart", "lighthouse"))
    at = bench(driver, base, chart, "photo")
    corners = [[950, 500], [2690, 118], [2768, 2020], [900, 2000]]
    gesture(base, at, {"kind": "square", "corners": corners})
    driver.refresh()
    settled(driver)
    driver.find_element(By.TAG_NAME, "body").send_keys("q")
    time.sleep(0.6)
    pin = driver.find_element(By.CSS_SELECTOR, "[data-square=ne]")
    ActionChains(driver).move_to_element(pin).click_and_hold().move_by_offset(2, 1).perform()
    time.sleep(0.8)
    driver.save_screenshot(str(folder / "square.png"))
    ActionChains(driver).release().perform()
    bench(driver, base, lighthouse, "16:9 extend")
    driver.find_element(By.CSS_SELECTOR, "[data-station=Ground]").click()
    fill = driver.find_element(By.CSS_SELECTOR, ".is-ground select")
    Select(fill).select_by_value("continued")
    tries(driver, ".is-ground .tries-word")
    driver.save_screenshot(str(folder / "ground.png"))
    screens = job_called(base, "Welcome")
    at = next(one for one in screens["placements"] if one["photo_name"] == "quay-lanterns.jpg")[
        "id"
    ]
    driver.get(f"{base}/jobs/{screens['id']}/bench/{at}")
    settled(driver)
    driver.find_element(By.CSS_SELECTOR, "[data-station=Photo]").click()
    driver.find_element(By.CSS_SELECTOR, "[title^='A thing is replaced']").click()
    again = "//button[normalize-space()='Tries' and not(ancestor::*[contains(@style,'none')])]"
    WebDriverWait(driver, 20).until(lambda d: d.find_element(By.XPATH, again).is_displayed())
    driver.find_element(By.XPATH, again).click()
    tries(driver, ".is-photo .brush-word")
    driver.save_screenshot(str(folder / "retouch.png"))
    framed = next(
        one["id"] for one in told(base, "/api/sizes") if one["name"] == "30 × 40 cm frame"
    )
    job = told(
        base, "/api/jobs", {"name": "Stair wall", "photo_ids": [lighthouse], "size_ids": [framed]}
    )
    at = job["placements"][0]["id"]
    zone = {"kind": "zone", "x0": 2250, "y0": 280, "x1": 2780, "y1": 1520}
    told(base, f"/api/placements/{at}/keep-zones", zone)
    driver.get(f"{base}/jobs/{job['id']}/bench/{at}")
    settled(driver)
    driver.find_element(By.CSS_SELECTOR, "[data-station=Photo]").click()
    driver.find_element(By.XPATH, "//button[normalize-space()='Piece print only']").click()
    settled(driver)
    driver.save_screenshot(str(folder / "hung.png"))


def tries(driver: webdriver.Chrome, words: str) -> None:
    """Wait until all tries are there, to be seen."""
    said = lambda d: "photo alone" in d.find_element(By.CSS_SELECTOR, words).text  # noqa: E731
    WebDriverWait(driver, 90).until(said)
    shown = "return [...document.querySelectorAll('.try img')].every(i => !i.src || i.naturalWidth)"
    WebDriverWait(driver, 20).until(lambda d: d.execute_script(shown))
    time.sleep(3)


def job_called(base: str, begins: str) -> Any:
    """Give a job, its pieces too, by how its name begins."""
    found = next(one["id"] for one in told(base, "/api/jobs") if one["name"].startswith(begins))
    return told(base, f"/api/jobs/{found}")


def told(base: str, path: str, body: object = None, method: str | None = None) -> Any:
    """Ask the server, and give its answer."""
    data = None if body is None else json.dumps(body).encode()
    asked = Request(base + path, data, {"Content-Type": "application/json"}, method=method)
    with urlopen(asked) as answer:
        return json.load(answer)


def photo_id(base: str, name: str) -> int:
    every = (told(base, f"/api/photos/{n}") for n in range(1, 9))
    return next(one["id"] for one in every if one["name"].startswith(name))


def gesture(base: str, at: int, what: dict[str, object]) -> None:
    told(base, f"/api/placements/{at}/gesture", {"gesture": what, "keep": True})


def bench(driver: webdriver.Chrome, base: str, photo: int, size: str) -> int:
    """Start a job of one photo on one size and open its bench; give the placement."""
    asked = {"name": "The studio's wall", "photo_ids": [photo], "size_texts": [size]}
    job = told(base, "/api/jobs", asked)
    at = int(job["placements"][0]["id"])
    driver.get(f"{base}/jobs/{job['id']}/bench/{at}")
    settled(driver)
    return at


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else HERE)
