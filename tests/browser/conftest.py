"""A real browser on a real server, over a fresh workspace."""

from __future__ import annotations

import socket
import threading

import pytest
import uvicorn
from selenium import webdriver

from oak_ledge.flows.bench import history
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.delivery.filling import fill_next
from oak_ledge.flows.library import sizes
from oak_ledge.flows.photos.previews import weights_of
from tests.browser.steps import open_bench, scale, show
from tests.conftest import NOW, app_over

FLAGS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run "
    "--disable-background-networking --disable-component-update --disable-sync"
)


@pytest.fixture(scope="session")
def chromium():
    options = webdriver.ChromeOptions()
    for flag in FLAGS.split():
        options.add_argument(flag)
    options.binary_location = "/usr/bin/chromium"
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options, webdriver.ChromeService("/usr/bin/chromedriver"))
    yield driver
    driver.quit()


@pytest.fixture
def browser(chromium, request):
    """The browser at 1280 × 800, as a new viewer; the console must stay silent.

    The browser itself logs each refusal: of a test that asks for one, marked `refused`, they pass, as
    do those of a change that another window made meanwhile.
    """
    show(chromium, 1280, 800)
    yield chromium
    answer = [f"{line['level']} {line['message']}" for line in chromium.get_log("browser")]
    refused = ["status of 409"]
    if request.node.get_closest_marker("refused"):
        refused.append("status of 422")
    assert [line for line in answer if not any(status in line for status in refused)] == []


@pytest.fixture
def address(workspace, browser):
    """Serve the workspace; give its address. The browser leaves it before it goes."""
    sizes.add_starters(workspace)
    listening = socket.socket()
    listening.bind(("127.0.0.1", 0))
    listening.listen(128)  # who comes before the server is there waits for it
    server = uvicorn.Server(uvicorn.Config(app_over(workspace), log_level="error"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]})
    thread.start()
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    browser.execute_script("window.localStorage.clear()")
    browser.get("about:blank")
    server.should_exit = True
    thread.join()
    listening.close()


_weighed: dict[str, tuple[str, bytes]] = {}


@pytest.fixture
def placed(placed, workspace):
    """The same as elsewhere, its photo weighed before: once for all walks, as it takes its time."""

    def lay(*size, **options):
        job_id, at = placed(*size, **options)
        photo = load(workspace, at).photo
        if photo.hash not in _weighed:
            weights_of(workspace, photo, measure=True)
            (path,) = workspace.previews.rglob(f"{photo.hash}-weights-*.json")
            name = str(path.relative_to(workspace.previews))
            _weighed[photo.hash] = (name, path.read_bytes())
        name, kept = _weighed[photo.hash]
        path = workspace.previews / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(kept)
        return job_id, at

    return lay


@pytest.fixture
def bench(browser, address, placed, workspace):
    """Open the bench of one 1200 × 800 photo on 4 × 5 in, tightened to half: its crop is
    (350, 200, 500, 400). Give (address, placement id)."""
    job_id, at = placed("4x5in@150")
    history.keep(workspace, at, scale(0.5), NOW)
    open_bench(browser, address, job_id, at)
    return address, at


@pytest.fixture
def worker(workspace):
    """Make what grounds and retouches are asked for, as a worker beside the server would."""
    over = threading.Event()

    def work():
        while not over.wait(0.02):
            while fill_next(workspace, "one", lambda: NOW):
                pass

    thread = threading.Thread(target=work)
    thread.start()
    yield
    over.set()
    thread.join()
