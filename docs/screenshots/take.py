"""Take the README's pictures from the demo: python docs/screenshots/take.py [folder]."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

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


def open_job(driver: webdriver.Chrome, base: str, words: str) -> None:
    driver.get(base)
    settled(driver)
    driver.find_element(By.LINK_TEXT, words).click()
    WebDriverWait(driver, 20).until(lambda d: "/bench/" in d.current_url)
    settled(driver)


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        command = ["oak-ledge", "demo", "--data", data, "--port", str(PORT)]
        served = subprocess.Popen(
            [str(Path(sys.executable).with_name(command[0])), *command[1:]],
            stdout=subprocess.PIPE,
            text=True,
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
        with tempfile.TemporaryDirectory() as odd:
            words = Path(odd) / "notes-from-the-quay.jpg"
            words.write_text("these are only words")
            photos = HERE.parents[1] / "src/oak_ledge/demo/photos"
            names = [str(photos / f"{name}.jpg") for name in ("paper-boat", "lantern-pole")]
            driver.find_element(By.ID, "files").send_keys("\n".join([*names, str(words)]))
            taken = lambda d: len(d.find_elements(By.CSS_SELECTOR, ".taken li"))  # noqa: E731
            WebDriverWait(driver, 20).until(lambda d: taken(d) == 2)
            driver.find_element(By.ID, "written").send_keys("8 1/2 x 11 in @ 300")
            settled(driver)
            driver.save_screenshot(str(folder / "begin.png"))
        open_job(driver, base, "Evening of paper lanterns")
        driver.find_element(By.CSS_SELECTOR, ".queue li:nth-child(2) a").click()
        WebDriverWait(driver, 20).until(lambda d: "lighthouse" in d.title)
        settled(driver)
        driver.save_screenshot(str(folder / "bench.png"))
        driver.find_element(By.CSS_SELECTOR, "[data-station=Pixels]").click()
        for field, value in (("relabel.width", "12"), ("resample.ppi", "240")):
            typed = driver.find_element(By.CSS_SELECTOR, f"[data-measure='{field}']")
            typed.clear()
            typed.send_keys(value)
            time.sleep(1)
        driver.save_screenshot(str(folder / "pixels.png"))
        driver.find_element(By.CSS_SELECTOR, ".measure-words .way").click()
        close = (
            "return [...document.querySelectorAll('.look img')].filter(i => i.naturalWidth).length"
        )
        WebDriverWait(driver, 20).until(lambda d: d.execute_script(close) == 4)
        for key in (Keys.ARROW_RIGHT,) * 14 + (Keys.ARROW_UP,) * 9:
            driver.find_element(By.CSS_SELECTOR, ".looks").send_keys(key)
        time.sleep(6)
        driver.save_screenshot(str(folder / "close.png"))
        driver.find_element(By.CSS_SELECTOR, ".close form .button").click()
        open_job(driver, base, "Pictures for the stall")
        driver.find_element(By.CSS_SELECTOR, "[data-station=File]").click()
        settled(driver)
        driver.save_screenshot(str(folder / "proof.png"))
        open_job(driver, base, "Ferry waiting room")
        driver.find_element(By.CSS_SELECTOR, ".tone.is-dark").click()
        driver.find_element(By.CSS_SELECTOR, "[data-station=Pixels]").click()
        settled(driver)
        driver.save_screenshot(str(folder / "stop.png"))
        driver.get(f"{base}/sizes")
        settled(driver)
        driver.find_element(By.ID, "entry").send_keys("384x160px@72 dot 2:1 extends")
        marked = lambda d: d.find_elements(By.CSS_SELECTOR, ".entry .is-wrong")  # noqa: E731
        WebDriverWait(driver, 20).until(marked)
        driver.save_screenshot(str(folder / "entry.png"))
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


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else HERE)
