"""The scripts that need no browser are tested by node, where there is one."""

from __future__ import annotations

import shutil
import subprocess
from pathlib import Path

import pytest

HERE = Path(__file__).parent


@pytest.mark.parametrize("name", sorted(path.name for path in HERE.glob("*.test.mjs")))
def test_what_scripts_do_without_a_browser(name):
    node = shutil.which("node")
    if node is None:
        pytest.skip("node is not on this machine: its tests of the scripts are left out")
    run = subprocess.run(
        [node, "--test", name], cwd=HERE, capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stdout[-4000:]
    assert "# fail 0" in run.stdout
