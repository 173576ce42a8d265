"""How often the piece is redrawn while a hand drags, and how soon it is fine once it lets go.

In headless Chromium on a window whose piece pane is about 900 × 700. The pointer moves sixty times
a second; counted is every place of the photo under the edge that was really painted, a frame each.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

from selenium import webdriver

sys.path.insert(0, str(Path(__file__).parents[1] / "docs" / "screenshots"))
from take import chrome, settled

PORT = 8798
SECONDS, DRAGS = 3, 8
DRAG = """
const [seconds, done] = arguments;
const piece = document.querySelector('.piece'), under = piece.querySelector('[data-part=under]');
const box = piece.getBoundingClientRect();
const at = {x: box.x + box.width / 2, y: box.y + box.height / 2};
const send = (kind, x, y) => piece.dispatchEvent(new PointerEvent(kind, {
  bubbles: true, button: 0, pointerId: 1, isPrimary: true, clientX: x, clientY: y}));
piece.setPointerCapture = () => {};
send('pointerdown', at.x, at.y);
let frames = 0, last = '', moves = 0;
const begun = performance.now();
const move = setInterval(() => {
  moves += 1; send('pointermove', at.x + 40 * Math.sin(moves / 9), at.y + 30 * Math.cos(moves / 11));
}, 1000 / 60);
const frame = () => {
  const now = under.getAttribute('x') + ' ' + under.getAttribute('y');
  if (now !== last) { frames += 1; last = now; }
  if (performance.now() - begun < seconds * 1000) return requestAnimationFrame(frame);
  clearInterval(move);
  const rate = frames / (performance.now() - begun) * 1000;
  piece.classList.remove('is-fine');
  const let_go = performance.now();
  send('pointerup', at.x + (moves % 2 ? 1 : -1) * (4 + moves % 7), at.y); // not on to the photo's edge
  const wait = () => piece.classList.contains('is-fine')
    ? done([rate, performance.now() - let_go]) : requestAnimationFrame(wait);
  requestAnimationFrame(wait);
};
requestAnimationFrame(frame);
"""


TEXTURE = """
const [seconds, done] = arguments;
const whole = document.querySelector('.whole');
const box = whole.querySelector('[data-part=photo]').getBoundingClientRect();
const send = (kind, u, v) => whole.dispatchEvent(new PointerEvent(kind, {bubbles: true, button: 0,
  pointerId: 1, isPrimary: true, clientX: box.x + u * box.width, clientY: box.y + v * box.height}));
whole.setPointerCapture = () => {};
send('pointerdown', 0.2, 0.2); send('pointerup', 0.2, 0.2);
send('pointerdown', 0.5, 0.5);
let frames = 0, last = '', moves = 0;
const begun = performance.now();
const move = setInterval(() => {
  moves += 1; send('pointermove', 0.5 + 0.2 * Math.sin(moves / 9), 0.5 + 0.2 * Math.cos(moves / 11));
}, 1000 / 60);
const frame = () => {
  const now = whole.querySelector('[data-part=mask-strokes]').innerHTML.length;
  if (now !== last) { frames += 1; last = now; }
  if (performance.now() - begun < seconds * 1000) return requestAnimationFrame(frame);
  clearInterval(move);
  done(frames / (performance.now() - begun) * 1000);
};
requestAnimationFrame(frame);
"""


def texture(driver: webdriver.Chrome) -> float:
    """Give how often the photo is redrawn a second while texture is copied."""
    driver.find_element("css selector", "[data-station=Photo]").click()
    driver.find_element("css selector", ".is-photo button[title^='Lay texture']").click()
    return float(driver.execute_async_script(TEXTURE, SECONDS))


def drags(driver: webdriver.Chrome) -> list[tuple[float, float]]:
    driver.set_script_timeout(30)
    return [tuple(driver.execute_async_script(DRAG, SECONDS)) for _ in range(DRAGS)]


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        command = [str(Path(sys.executable).with_name("oak-ledge")), "demo", "--data", data]
        served = subprocess.Popen(
            [*command, "--port", str(PORT)], stdout=subprocess.PIPE, text=True
        )
        driver = chrome(1860, 1150)
        try:
            assert served.stdout is not None
            while "ready" not in served.stdout.readline():
                pass
            driver.get(f"http://127.0.0.1:{PORT}/jobs/3/bench/10")
            settled(driver)
            pane = driver.execute_script(
                "const b = document.querySelector('.piece').getBoundingClientRect();"
                "return [b.width, b.height]"
            )
            found = drags(driver)
            copied = texture(driver)
        finally:
            driver.quit()
            served.terminate()
    rates, fines = zip(*found, strict=True)
    print(f"piece pane {pane[0]:.0f} × {pane[1]:.0f}")
    print(
        f"redrawn a second while dragging: median {statistics.median(rates):.0f}, least {min(rates):.0f}"
    )
    print(f"redrawn a second while texture is copied: {copied:.0f}")
    print(
        f"fine after letting go: median {statistics.median(fines):.0f} ms, most {max(fines):.0f} ms"
    )


if __name__ == "__main__":
    main()
